using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>What the bank's account comes to where payments come back, are shown twice, or stand on lines that are still open.</summary>
public sealed class BankProofTests : IDisposable
{
    private const string Header = "id,account,booked_on,amount,currency,reference,name,note,balance_after", House = "GB82WEST12345698765432", Lead = TestBook.Lead;

    private readonly TestBook _book = new();
    private readonly RemittanceRecord _paid;

    public BankProofTests()
    {
        Assert.Empty(_book.Get<PayingAccounts, IReadOnlyList<Forms.FieldFault>>(a => a.Save("EUR", "Test book", House, "WESTGB2L", Lead)));
        Assert.Empty(_book.Get<PayoutDetails, IReadOnlyList<Forms.FieldFault>>(d => d.Propose("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = "IE29AIBK93115212345678", Bic = "AIBKIE2D" }, Lead)));
        _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, TestBook.Approver));
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        var run = _book.Pay(new DateOnly(2026, 10, 31)).Id;
        _book.Do<IssueRun>(i => i.Issue(run, Lead));
        _paid = _book.Get<BookDbContext, RemittanceRecord>(db => db.Remittances.AsNoTracking().Single(r => r.RunId == run && r.Payee == "anna"));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_payment_that_comes_back_is_proved_while_its_line_is_open_and_after()
    {
        Line("B1", -_paid.Paid, 50_000);
        Proved(50_000);
        // The statement before it is missing, so that the line stays open.
        Line("B2", _paid.Paid, 60_000);
        Assert.Equal((RemittanceState.Returned, MatchState.Open), (StateOfPayment, StateOf("B2")));
        Proved(50_000 + _paid.Paid);
        Accept("B2");
        Proved(60_000);
    }

    [Fact]
    public void A_payment_shown_twice_is_a_difference_once_it_is_let_stand()
    {
        Line("B1", -_paid.Paid, 50_000);
        Line("B2", -_paid.Paid, 50_000 - _paid.Paid);
        Assert.True(_book.Get<BookDbContext, bool>(db => db.OutsideLines.Single(l => l.LineId == "B2").Findings.HasFlag(Finding.Twice)));
        Proved(50_000);
        Accept("B2");
        Proved(50_000 - _paid.Paid);
        Assert.Equal(_paid.Paid, Sum("Expenses:Differences"));
    }

    private RemittanceState StateOfPayment => _book.Get<BookDbContext, RemittanceState>(db => db.Remittances.Single(r => r.Id == _paid.Id).State);

    private MatchState StateOf(string line) => _book.Get<BookDbContext, MatchState>(db => db.OutsideLines.Single(l => l.LineId == line).State);

    private void Line(string id, long amount, long after)
    {
        static string Major(long minor) => new Money(minor, Currency.Of("EUR")).ToMajorText();
        Assert.Equal(0, _book.Import(ImportKind.Statement, Header, [$"{id},{House},2026-11-08,{Major(amount)},EUR,{_paid.EndToEnd},,,{Major(after)}"]).Quarantined);
        _book.Do<FindMatches>(m => m.RunAll());
    }

    private void Accept(string line)
    {
        var id = _book.Get<BookDbContext, long>(db => db.OutsideLines.Single(l => l.LineId == line).Id);
        _book.Do<SettleFindings>(s => s.Accept(Bench.Bank, [new BenchRow(id, null)], "asked the bank", Lead));
        _book.Do<FindMatches>(m => m.RunAll());
    }

    /// <summary>Every check holds, and the journal's account has the balance.</summary>
    private void Proved(long balance)
    {
        Assert.All(_book.Get<MonthProof, ProofView>(p => p.Of(new Period(202611))).Lines, l => Assert.True(l.Holds, $"{l.Check}: {l.Left} and {l.Right}"));
        Assert.Equal(balance, Sum("Assets:Bank:EUR"));
    }

    private long Sum(string account) => _book.Get<BookJournal, long>(j => j.Between(null, null).SelectMany(t => t.Postings).Where(p => p.Account == account).Sum(p => p.Amount.Minor));
}
