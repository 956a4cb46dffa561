using EvenSplit.Books.Checking;
using EvenSplit.Books.Keeping;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Somebody who has left is forgotten as far as the law of bookkeeping allows.</summary>
public sealed class ForgottenPayeeTests : IDisposable
{
    private const string Lead = TestBook.Lead;

    private readonly TestBook _book = new();

    public ForgottenPayeeTests()
    {
        _book.MoveTo(new DateOnly(2026, 11, 3));
        Change(d => d with { Email = "anna@people.example", PostalAddress = "A street", TaxNumber = "IE1", Language = "de", CustomerKeys = "c-anna" });
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Who_is_active_or_owed_anything_is_kept()
    {
        Assert.Contains("still active", Refused(), StringComparison.Ordinal);
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Change(d => d with { ActiveTo = new DateOnly(2026, 11, 1) });
        _book.Recalculate();
        Assert.Contains("still owed", Refused(), StringComparison.Ordinal);
        var run = _book.Pay(new DateOnly(2026, 11, 3));
        Assert.Contains("on its way", Refused(), StringComparison.Ordinal);
        _book.MarkPaid(run, "anna", new DateOnly(2026, 11, 3), "P-1");
        Assert.Null(_book.Get<ForgottenPayees, string?>(f => f.Refusal("anna")));
    }

    [Fact]
    public void What_need_not_be_kept_is_gone_and_no_figure_moves()
    {
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Change(d => d with { ActiveTo = new DateOnly(2026, 11, 1) });
        _book.Recalculate();
        _book.MarkPaid(_book.Pay(new DateOnly(2026, 11, 3)), "anna", new DateOnly(2026, 11, 3), "P-1");
        _book.Do<PayeeSignIn>(s => s.Invite("anna", Lead, "https://pay.shop.example"));
        _book.Do<ForgottenPayees>(f => f.Forget("anna", Lead));
        var anna = _book.Get<BookDbContext, PayeeRecord>(db => db.Payees.AsNoTracking().Single(p => p.Id == "anna"));
        Assert.Equal((null, "", "", "", "Anna"), (anna.Email, anna.PostalAddress, anna.TaxNumber, anna.Language, anna.Name));
        Assert.Empty(_book.Get<BookDbContext, PayeeLinkRecord[]>(db => [.. db.PayeeLinks]));
        Assert.Equal(1000, _book.Owed("anna"));
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
        Assert.Equal(RemittanceReason.Paid, _book.Get<OwnHome, OwnView>(h => h.Of("anna")).Runs[0].Reason);
    }

    private string Refused() => Assert.Throws<RefusedException>(() => _book.Do<ForgottenPayees>(f => f.Forget("anna", Lead))).Message;

    private void Change(Func<PayeeDraft, PayeeDraft> change) => _book.Do<PayeeDesk>(d => Assert.Empty(d.Save("anna", change(d.Draft("anna")!), Lead).Faults));
}
