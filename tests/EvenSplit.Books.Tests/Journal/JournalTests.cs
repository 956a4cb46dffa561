using System.Text;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.BenchBook;

namespace EvenSplit.Books.Tests;

/// <summary>What corrections, settlements and lines of banks put into the journal; accounts as the seller calls them; and what a proof finds.</summary>
public sealed class JournalTests : IDisposable
{
    private const string Lead = TestBook.Lead;
    private const string Statement = "id,account,booked_on,amount,currency,reference,name,note,balance_after", House = "GB82WEST12345698765432";

    private readonly BenchBook _bench = new();

    private TestBook Book => _bench.Book;

    public void Dispose() => _bench.Dispose();

    [Fact]
    public void A_corrected_fee_is_posted_on_the_day_it_is_corrected()
    {
        _bench.Orders("A");
        Assert.Equal(["2026-10-25 Assets:Clearing:card 97.70", "2026-10-25 Expenses:Fees:Processing 2.30", "2026-10-25 Income:Sales -100.00"], Postings());
        Book.Do<RateDesk>(r => r.Save(new Processor(new ProcessorId("card"), Rate.Parse("0.03"), 30, Currency.Of("EUR")), Lead));
        Book.Recalculate();
        Assert.Equal(
            ["2026-10-25 Assets:Clearing:card 97.70", "2026-10-25 Expenses:Fees:Processing 2.30", "2026-10-25 Income:Sales -100.00", "2026-11-03 Assets:Clearing:card -1.00", "2026-11-03 Expenses:Fees:Processing 1.00"], Postings());
        Proved();
    }

    [Fact]
    public void An_order_that_goes_to_another_processor_leaves_the_account_of_the_first()
    {
        _bench.Orders("A");
        Postings();
        Book.Do<BookDbContext>(db => db.Orders.ExecuteUpdate(set => set.SetProperty(o => o.Processor, "other").SetProperty(o => o.FactsHash, 1)));
        Assert.Equal(0, Postings().Where(p => p.Contains("Clearing:card", StringComparison.Ordinal)).Sum(p => decimal.Parse(p.Split(' ')[^1], System.Globalization.CultureInfo.InvariantCulture)));
        Assert.Contains("2026-11-03 Assets:Clearing:other 97.70", Postings());
    }

    [Fact]
    public void A_settlement_goes_on_its_way_and_what_differs_stays_until_somebody_lets_it_stand()
    {
        _bench.Orders("A", "B");
        _bench.Settle(Line("sale", "A", "1"), Line("sale", "B", "2", fee: "2.80"), Line("fee", "", "3", gross: "0.00", fee: "4.00"), Line("payout", "", "4", gross: "-190.90", fee: "0.00"));
        Assert.Equal("190.90", Sum("Assets:In transit:card"));
        Assert.Equal("0.50", Sum("Assets:Clearing:card"));
        Proved();
        Book.Do<SettleFindings>(s => s.Accept(Bench.Processors, [_bench.RowOf("2")], "half a euro", Lead));
        Assert.Equal(("0.00", "0.50"), (Sum("Assets:Clearing:card"), Sum("Expenses:Differences")));
        Proved();
        Book.Do<SettleFindings>(s => s.Undo(Bench.Processors, [_bench.RowOf("2")], Lead));
        Assert.Equal(("0.50", "0.00"), (Sum("Assets:Clearing:card"), Sum("Expenses:Differences")));
    }

    [Fact]
    public void A_fee_that_is_taken_taken_back_and_taken_again_is_booked_each_time()
    {
        _bench.Orders("A");
        _bench.Settle(Line("sale", "A", "1", fee: "2.80"));
        Postings();
        foreach (var (step, fee) in new (Action, string)[] { (Take, "2.80"), (Undo, "2.30"), (Take, "2.80") })
        {
            step();
            Assert.Equal(fee, Sum("Expenses:Fees:Processing"));
            Proved();
        }
        void Take() => Book.Do<TakeTheirs>(t => t.Take([_bench.IdOf("1")], "", Lead));
        void Undo() => Book.Do<SettleFindings>(s => s.Undo(Bench.Processors, [_bench.RowOf("1")], Lead));
    }

    [Fact]
    public void A_line_of_the_bank_goes_where_it_belongs_and_an_open_one_nowhere()
    {
        _bench.Orders("A");
        _bench.Settle(Line("sale", "A", "1"), Line("payout", "", "2", gross: "-97.70", fee: "0.00"));
        Assert.Equal(0, Book.Import(ImportKind.Statement, Statement, [$"B1,{House},2026-11-03,97.70,EUR,,,ST-1,597.70", $"B2,{House},2026-11-03,-9.50,EUR,,,charges,588.20", $"B3,{House},2026-11-03,7.00,EUR,,,,595.20"]).Quarantined);
        Assert.Equal(("0.00", "597.70", "-500.00"), (Sum("Assets:In transit:card"), Sum("Assets:Bank:EUR"), Sum("Equity:Opening balances")));
        Proved();
        Book.Do<SettleFindings>(s => s.BookTo([_bench.RowOf("B2")], "Expenses:Bank charges", "", Lead));
        Book.Do<SettleFindings>(s => s.Accept(Bench.Bank, [_bench.RowOf("B3")], "found money", Lead));
        Assert.Equal(("595.20", "9.50", "-7.00"), (Sum("Assets:Bank:EUR"), Sum("Expenses:Bank charges"), Sum("Expenses:Differences")));
        Proved();
    }

    [Fact]
    public void Accounts_are_called_as_the_file_says_and_those_below_as_the_one_above()
    {
        _bench.Orders("A");
        Postings();
        Assert.Empty(Accounts("account,code,name\nIncome,4000,Revenue\nIncome:Shipping,4100,Freight\nAssets:Clearing,1400,\n"));
        var csv = Csv();
        Assert.Contains(",Income:Sales,4000,Revenue,-100.00,EUR,", csv, StringComparison.Ordinal);
        Assert.Contains(",Assets:Clearing:card,1400,,97.70,EUR,", csv, StringComparison.Ordinal);
        var faults = Accounts("account,code,name\nWages,5,Wages\nIncome,1,\nIncome,2,\nExpenses,,\n");
        Assert.Equal([2, 4, 5], faults.Select(f => (int)f.Row));
        Assert.Contains(",Income:Sales,4000,Revenue,", Csv(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_proof_finds_what_does_not_hold()
    {
        Book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Postings();
        Proved();
        Book.Do<BookDbContext>(db => db.EntrySums.Where(s => s.Payee == "anna").ExecuteUpdate(set => set.SetProperty(s => s.Amount, s => s.Amount + 1)));
        Assert.Equal(
            [$"{ProofChecks.Earnings} anna", ProofChecks.Sums, ProofChecks.WorkedOut],
            Failing().Select(l => $"{l.Check} {l.Payee}".Trim()).Order(StringComparer.Ordinal));
        Book.Do<BookDbContext>(db => db.PeriodTotals.ExecuteUpdate(set => set.SetProperty(t => t.House, t => t.House - 5)));
        Assert.Contains(Failing(), l => l is { Check: ProofChecks.Charged } && l.Left - l.Right == 5);
    }

    [Fact]
    public void What_was_booked_stays()
    {
        _bench.Orders("A");
        Postings();
        Assert.Contains("never edited", Assert.ThrowsAny<Exception>(() => Book.Do<BookDbContext>(db => db.Bookings.ExecuteUpdate(set => set.SetProperty(b => b.Goods, 1)))).Message, StringComparison.Ordinal);
        Assert.Contains("never deleted", Assert.ThrowsAny<Exception>(() => Book.Do<BookDbContext>(db => db.Bookings.ExecuteDelete())).Message, StringComparison.Ordinal);
    }

    private void Proved()
    {
        Book.Do<FindMatches>(m => m.RunAll());
        Assert.Empty(Failing());
    }

    private IReadOnlyList<ProofLine> Failing() => [.. Book.Get<MonthProof, ProofView>(p => p.Of(new Period(202610))).Lines.Where(l => !l.Holds)];

    private IReadOnlyList<RowFault> Accounts(string csv) => Book.Get<SellersAccounts, IReadOnlyList<RowFault>>(a => a.Take(new MemoryStream(Encoding.UTF8.GetBytes(csv)), Lead));

    private string Csv()
    {
        using var text = new StringWriter();
        Book.Do<JournalExport>(e => e.WriteCsv(null, null, text));
        return text.ToString();
    }

    /// <summary>Of sales, by day.</summary>
    private string[] Postings() => [.. All().Where(t => t.Source == JournalSource.Order).SelectMany(t => t.Postings.Select(p => $"{t.On:yyyy-MM-dd} {p.Account} {p.Amount.ToMajorText()}"))];

    private string Sum(string account) => new Money(All().SelectMany(t => t.Postings).Where(p => p.Account == account).Sum(p => p.Amount.Minor), Currency.Of("EUR")).ToMajorText();

    private IReadOnlyList<JournalTransaction> All()
    {
        Book.Do<FindMatches>(m => m.RunAll());
        return Book.Get<BookJournal, IReadOnlyList<JournalTransaction>>(j => [.. j.Between(null, null)]);
    }
}
