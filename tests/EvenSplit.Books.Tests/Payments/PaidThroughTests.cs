using EvenSplit.Books.Checking;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Ines is paid through Anna; and invoices stand on the remittances that pay them.</summary>
public sealed class PaidThroughTests : IDisposable
{
    private const string Lead = TestBook.Lead, House = "GB82WEST12345698765432";
    private const string Statement = "id,account,booked_on,amount,currency,reference,name,note,balance_after", Report = "report,line_id,payee,order_id,from,to,amount,currency,note,invoice,issued_on,due_on";
    private static readonly DateOnly October = new(2026, 10, 31);

    private readonly TestBook _book = new();

    public PaidThroughTests()
    {
        Assert.Empty(_book.Get<PayingAccounts, IReadOnlyList<FieldFault>>(a => a.Save("EUR", "Test book", House, "WESTGB2L", Lead)));
        Assert.Empty(Propose("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = "IE29AIBK93115212345678", Bic = "AIBKIE2D" }));
        Confirm();
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void What_is_paid_through_one_goes_out_as_one_payment_and_arrives_as_one()
    {
        InesThroughAnna();
        var (run, file) = Issued();
        var (anna, ines) = (Payment(run, "anna"), Payment(run, "ines"));
        Assert.Equal((1, anna.Paid + ines.Paid), (file.Payments, file.Sum));
        Assert.Equal((anna.EndToEnd, "anna", anna.DetailsId), (ines.EndToEnd, ines.Through, ines.DetailsId));
        Assert.Contains("for 2 payees", Order(file), StringComparison.Ordinal);
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);

        Booked("1", -file.Sum, anna.EndToEnd!);
        Assert.Equal((RemittanceState.Confirmed, RemittanceState.Confirmed), (Payment(run, "anna").State, Payment(run, "ines").State));
        Assert.Equal(MatchState.Matched, _book.Get<BookDbContext, MatchState>(db => db.OutsideLines.Single(l => l.LineId == "1").State));
        Booked("2", file.Sum, anna.EndToEnd!);
        Assert.Equal((RemittanceState.Returned, RemittanceState.Returned), (Payment(run, "anna").State, Payment(run, "ines").State));
        Assert.Equal([anna.Paid, ines.Paid], _book.Get<BookDbContext, long[]>(db => [.. db.Adjustments.Where(a => a.Kind == AdjustmentKind.Returned).OrderBy(a => a.Payee).Select(a => a.Amount)]));
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    [Fact]
    public void Half_of_the_sum_is_not_the_payment()
    {
        InesThroughAnna();
        var (run, _) = Issued();
        Booked("1", -Payment(run, "anna").Paid, Payment(run, "anna").EndToEnd!);
        Assert.Equal((RemittanceState.Sent, RemittanceState.Sent), (Payment(run, "anna").State, Payment(run, "ines").State));
        Assert.Equal(Finding.AmountDiffers, _book.Get<BookDbContext, Finding>(db => db.OutsideLines.Single(l => l.LineId == "1").Findings));
    }

    [Fact]
    public void The_database_lets_two_remittances_share_a_reference_only_where_they_are_one_payment()
    {
        var (run, _) = Issued();
        var (anna, ines) = (Payment(run, "anna"), Payment(run, "ines"));
        Assert.Contains("never issued again", Assert.ThrowsAny<Exception>(() => _book.Do<BookDbContext>(db => db.Remittances.Where(r => r.Id == ines.Id).ExecuteUpdate(set => set.SetProperty(r => r.EndToEnd, anna.EndToEnd)))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void It_is_proposed_and_waits_as_any_change_of_where_money_goes()
    {
        Assert.Empty(Propose("ines", Through("anna")));
        Assert.Null(Payment(Locked(), "ines").Through);
        Assert.Contains("somebody else must", Assert.Throws<RefusedException>(() => _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, Lead))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void It_goes_round_nowhere()
    {
        _book.AddPayee("Ben", PayeeRole.Affiliate, "BEN");
        Assert.Contains("themself", Assert.Single(Propose("anna", Through("anna"))).Message, StringComparison.Ordinal);
        Assert.Contains("Choose the payee", Assert.Single(Propose("ines", Through("nobody"))).Message, StringComparison.Ordinal);
        Assert.Empty(Propose("ines", Through("anna")));
        Assert.Contains("Others are paid through", Assert.Single(Propose("anna", Through("ben"))).Message, StringComparison.Ordinal);
        Assert.Contains("is paid through another payee", Assert.Single(Propose("ben", Through("ines"))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void An_agreed_invoice_stands_on_the_next_remittance_and_says_when_it_is_executed()
    {
        var (agreed, open) = Invoices();
        var (run, file) = Issued();
        Assert.Equal(new DateOnly(2026, 11, 30), Payment(run, "anna").ExecuteOn);
        Assert.Null(Payment(run, "ines").ExecuteOn);
        var order = Order(file);
        Assert.Contains($"invoice {agreed}", order, StringComparison.Ordinal);
        Assert.DoesNotContain(open, order, StringComparison.Ordinal);
        Assert.Contains("<ReqdExctnDt>2026-11-30</ReqdExctnDt>", order, StringComparison.Ordinal);
        Assert.Contains("<ReqdExctnDt>2026-11-08</ReqdExctnDt>", order, StringComparison.Ordinal);
        Assert.Equal($"{agreed}, due 30 Nov 2026", _book.Get<Statements, Statement>(s => s.Find(run, "anna")!).Payee.Invoices.Single().InWords);
        Assert.Empty(_book.Get<Statements, Statement>(s => s.Find(run, "ines")!).Payee.Invoices);
    }

    [Fact]
    public void An_invoice_is_noted_once_unless_its_payment_is_unlocked_or_comes_back()
    {
        Invoices();
        var id = Locked();
        _book.Do<PayRunSteps>(s => s.Unlock(id, "too early", Lead));
        Assert.Empty(_book.Get<Invoices, IEnumerable<NotedInvoice>>(i => [.. i.Of(id).SelectMany(n => n)]));
        _book.Recalculate();
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        _book.Approve(id);
        _book.Do<IssueRun>(i => i.Issue(id, Lead));
        var paid = Payment(id, "anna");
        Booked("1", -paid.Paid, paid.EndToEnd!);
        Booked("2", paid.Paid, paid.EndToEnd!);
        _book.Do<PayoutDetails>(d => d.SayRight(paid.DetailsId!.Value, Lead));
        _book.MoveTo(new DateOnly(2026, 12, 1));
        var next = _book.Pay(new DateOnly(2026, 11, 30)).Id;
        Assert.Single(_book.Get<Invoices, NotedInvoice[]>(i => [.. i.Of(next)["anna"]]));
        Assert.Empty(_book.Get<Invoices, NotedInvoice[]>(i => [.. i.Of(next)["ines"]]));
    }

    /// <summary>Anna's invoice agrees; one of Ines does not.</summary>
    private (string Agreed, string Open) Invoices()
    {
        HaveDetails();
        Sell();
        var earned = _book.Get<BookDbContext, long>(db => db.Entries.Where(e => e.Payee == "anna").Sum(e => e.Amount));
        Assert.Equal(0, _book.Import(ImportKind.Outside, Report, [
            $"R,1,anna,,2026-10-01,2026-10-31,{new Money(earned, Currency.Of("EUR")).ToMajorText()},EUR,,A-10,2026-11-01,2026-11-30",
            "R,2,ines,,2026-10-01,2026-10-31,1.00,EUR,,I-10,2026-11-01,2026-11-20"]).Quarantined);
        _book.Do<FindMatches>(m => m.RunAll());
        return ("A-10", "I-10");
    }

    private void InesThroughAnna()
    {
        Assert.Empty(Propose("ines", Through("anna")));
        Confirm();
    }

    private (int Run, PaymentFileRecord File) Issued()
    {
        HaveDetails();
        Sell();
        var run = _book.Pay(October).Id;
        _book.Do<IssueRun>(i => i.Issue(run, Lead));
        return (run, _book.Get<BookDbContext, PaymentFileRecord>(db => db.PaymentFiles.AsNoTracking().Single(f => f.Method == PayoutMethod.Bank)));
    }

    /// <summary>Of her own, unless she is paid through Anna.</summary>
    private void HaveDetails()
    {
        if (_book.Get<BookDbContext, bool>(db => db.PayoutDetails.Any(d => d.Payee == "ines"))) return;
        Assert.Empty(Propose("ines", new PayoutDetailsDraft { Holder = "Ines", Iban = "DE89370400440532013000", Bic = "AIBKIE2D" }));
        Confirm();
    }

    private int Locked()
    {
        Sell();
        var id = _book.Get<PayRunSteps, int>(s => s.Gather(October, Lead));
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        return id;
    }

    private void Sell()
    {
        _book.MoveTo(new DateOnly(2026, 11, 8));
        if (!_book.Get<BookDbContext, bool>(db => db.Orders.Any())) _book.ImportOrders(TestBook.Row("A", code: "ANNA"), TestBook.Row("B", product: "print", code: "ANNA"));
    }

    private RemittanceRecord Payment(int run, string payee) => _book.Get<BookDbContext, RemittanceRecord>(db => db.Remittances.AsNoTracking().Single(r => r.RunId == run && r.Payee == payee));

    private string Order(PaymentFileRecord file) => _book.Get<IssueRun, string>(i => i.File(file.RunId, file.Id)!.Value.Content);

    private void Booked(string id, long cents, string reference)
    {
        Assert.Equal(0, _book.Import(ImportKind.Statement, Statement, [$"{id},{House},2026-11-0{3 + id[0] - '0'},{new Money(cents, Currency.Of("EUR")).ToMajorText()},EUR,{reference},,,"]).Quarantined);
        _book.Do<FindMatches>(m => m.RunAll());
    }

    private static PayoutDetailsDraft Through(string payee) => new() { Method = PayoutMethod.Through, Through = payee };

    private IReadOnlyList<FieldFault> Propose(string payee, PayoutDetailsDraft draft) => _book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose(payee, draft, Lead));

    private void Confirm() => _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, TestBook.Approver));
}
