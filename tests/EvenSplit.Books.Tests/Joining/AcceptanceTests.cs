using EvenSplit.Books.Accepting;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests;

/// <summary>A new version that has to be accepted: asked for, and until then what the agreement says.</summary>
public sealed class AcceptanceTests : IDisposable
{
    private const string Lead = TestBook.Lead, Site = "https://pay.shop.example";

    private readonly TestBook _book = new();

    public AcceptanceTests()
    {
        _book.MoveTo(new DateOnly(2026, 11, 3));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Where_it_holds_payments_no_run_pays_who_has_not_accepted()
    {
        Publish(new DateOnly(2026, 11, 1), "The new text.");
        Assert.Equal(RemittanceReason.Paid, Reason());
        Say(UnacceptedRule.HoldsPayments);
        Assert.Equal(RemittanceReason.OnHold, Reason());
        Assert.Contains("until then nothing is paid", Assert.Single(_book.Get<PayeeFigures, IReadOnlyList<PayeeWait>>(f => f.Waits("anna")), w => w.Path == "terms/friends").Words, StringComparison.Ordinal);
        Accept(Version());
        Assert.Equal(RemittanceReason.Paid, Reason());
        Assert.Throws<RefusedException>(() => Accept(Version()));
    }

    [Fact]
    public void A_version_that_is_not_in_force_yet_holds_nothing()
    {
        Say(UnacceptedRule.HoldsPayments);
        Publish(new DateOnly(2026, 12, 1), "The new text.");
        Assert.Equal(RemittanceReason.Paid, Reason());
        Assert.Throws<RefusedException>(() => Accept(Version()));
        _book.MoveTo(new DateOnly(2026, 12, 1));
        Assert.Equal(RemittanceReason.OnHold, Reason());
        Accept(Version());
        Assert.Equal(RemittanceReason.Paid, Reason());
    }

    [Fact]
    public void Without_a_text_there_is_nothing_to_accept()
    {
        Say(UnacceptedRule.HoldsPayments);
        Assert.Equal(RemittanceReason.Paid, Reason());
        Assert.Empty(_book.Get<UnacceptedVersions, IReadOnlyList<AgreementVersionRecord>>(u => u.Of("anna")));
    }

    [Fact]
    public void One_who_is_on_it_no_more_has_nothing_to_accept()
    {
        Publish(new DateOnly(2026, 11, 1), "The new text.");
        Assert.Single(_book.Get<UnacceptedVersions, IReadOnlyList<string>>(u => u.On("friends")));
        _book.Do<JoiningDesk>(j => j.Pause("friends", Lead));
        Assert.Empty(_book.Get<UnacceptedVersions, IReadOnlyList<string>>(u => u.On("friends")));
        Assert.Empty(_book.Get<UnacceptedVersions, IReadOnlyList<AgreementVersionRecord>>(u => u.Of("anna")));
    }

    [Fact]
    public void Those_who_have_still_to_accept_are_asked_once_by_mail()
    {
        Publish(new DateOnly(2026, 11, 1), "The new text.");
        Assert.Equal((0, 1), Ask());
        _book.Do<PayeeDesk>(d => d.Save("anna", d.Draft("anna")! with { Email = "anna@people.example" }, Lead));
        Assert.Equal((1, 0), Ask());
        Assert.Equal((0, 0), Ask());
        Assert.Contains($"{Site}/me/agreements", Mail("version-"), StringComparison.Ordinal);
        Accept(Version());
        Publish(new DateOnly(2026, 11, 2), "Another text.");
        Assert.Equal((1, 0), Ask());
    }

    private (int, int) Ask() => _book.Get<AskToAccept, (int, int)>(a => a.Ask("friends", Lead, Site));

    private void Accept(int version) => _book.Do<UnacceptedVersions>(u => u.Accept(version, "anna", "Anna", "192.0.2.1"));

    private int Version() => _book.Get<BookDbContext, int>(db => db.AgreementVersions.Where(v => v.AgreementId == "friends").Max(v => v.Id));

    private RemittanceReason Reason()
    {
        var id = _book.Get<PayRuns.PayRunSteps, int>(s => s.Gather(_book.Get<BookClock, DateOnly>(c => c.Today), Lead));
        var reason = _book.In(_book.Run(id), "anna").Reason;
        _book.Do<PayRuns.PayRunSteps>(s => s.Discard(id, Lead));
        return reason;
    }

    private void Publish(DateOnly from, string text) => _book.Publish(TestBook.Draft("Friends", Basis.Referral, "10", from: from) with { Text = text }, "friends");

    private void Say(UnacceptedRule rule) => Assert.Empty(_book.Get<JoiningDesk, IReadOnlyList<FieldFault>>(j => j.Save("friends", new JoiningDraft { Unaccepted = rule }, Lead)));

    private string Mail(string kind) => _book.Get<Outbox, string>(o => o.Find(o.List().First(m => m.Id.StartsWith(kind, StringComparison.Ordinal)).Id)!.Text);
}
