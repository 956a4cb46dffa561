using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.BenchBook;

namespace EvenSplit.Books.Tests;

/// <summary>Statements held against payments, payment files and payouts; one reading does that and tells what became of payments.</summary>
public sealed class BankBenchTests : IDisposable
{
    private const string Lead = TestBook.Lead, House = "GB82WEST12345698765432", Header = "id,account,booked_on,amount,currency,reference,name,note,balance_after";
    private static readonly DateOnly October = new(2026, 10, 31);

    private readonly BenchBook _bench = new();

    private TestBook Book => _bench.Book;

    public BankBenchTests()
    {
        Assert.Empty(Book.Get<PayingAccounts, IReadOnlyList<FieldFault>>(a => a.Save("EUR", "Test book", House, "WESTGB2L", Lead)));
        foreach (var (payee, iban) in new[] { ("anna", "IE29AIBK93115212345678"), ("ines", "DE89370400440532013000") })
        {
            Assert.Empty(Book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose(payee, new PayoutDetailsDraft { Holder = payee, Iban = iban, Bic = "AIBKIE2D" }, Lead)));
            Book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, TestBook.Approver));
        }
        Book.MoveTo(new DateOnly(2026, 11, 8));
        Book.ImportOrders(TestBook.Row("A", code: "ANNA"), TestBook.Row("B", product: "print", code: "ANNA"));
        var run = Book.Pay(October);
        Book.Do<IssueRun>(i => i.Issue(run.Id, Lead));
    }

    public void Dispose() => _bench.Dispose();

    [Fact]
    public void A_debit_goes_to_the_payment_it_names_and_tells_that_it_was_paid()
    {
        var (anna, ines) = (Payment("anna"), Payment("ines"));
        Statement(Booked("1", -anna.Paid, anna.EndToEnd!), Booked("2", -ines.Paid - 100, ines.EndToEnd!), Booked("3", -anna.Paid, anna.EndToEnd!), Booked("4", -950, "", note: "charges"));
        var rows = _bench.Rows(Bench.Bank);
        Assert.Equal($"remittance:{anna.EndToEnd} matched", rows["1"]);
        Assert.Equal($"remittance:{ines.EndToEnd} open amount-differs", rows["2"]);
        Assert.Equal($"remittance:{anna.EndToEnd} open twice", rows["3"]);
        Assert.Equal("open not-in-book", rows["4"]);
        Assert.Equal((RemittanceState.Confirmed, RemittanceState.Sent), (Payment("anna").State, Payment("ines").State));
        Book.Do<SettleFindings>(s => s.BookTo([_bench.RowOf("4")], "Expenses:Bank charges", "November", Lead));
        Assert.Equal("settled not-in-book", _bench.Rows(Bench.Bank)["4"]);
        Book.Do<SettleFindings>(s => s.Undo(Bench.Bank, [_bench.RowOf("4")], Lead));
        Assert.Equal("open not-in-book", _bench.Rows(Bench.Bank)["4"]);
    }

    [Fact]
    public void A_files_debit_is_one_of_all_its_payments()
    {
        var file = Book.Get<BookDbContext, PaymentFileRecord>(db => db.PaymentFiles.AsNoTracking().Single(f => f.Method == PayoutMethod.Bank));
        Statement(Booked("1", -file.Sum, file.MessageId));
        var both = new[] { Payment("anna").EndToEnd, Payment("ines").EndToEnd }.Order(StringComparer.Ordinal);
        Assert.Equal(string.Join('+', both.Select(e => $"remittance:{e}")) + " matched", _bench.Rows(Bench.Bank)["1"]);
        Assert.Equal((RemittanceState.Confirmed, RemittanceState.Confirmed), (Payment("anna").State, Payment("ines").State));
    }

    [Fact]
    public void What_comes_back_is_owed_again_and_what_was_set_aside_and_paid_all_the_same_is_told()
    {
        var anna = Payment("anna");
        Statement(Booked("1", -anna.Paid, anna.EndToEnd!), Booked("2", anna.Paid, anna.EndToEnd!));
        Assert.Equal(($"remittance:{anna.EndToEnd} matched", $"remittance:{anna.EndToEnd} matched"), (_bench.Rows(Bench.Bank)["1"], _bench.Rows(Bench.Bank)["2"]));
        Assert.Equal(RemittanceState.Returned, Payment("anna").State);
        var ines = Payment("ines");
        Book.Do<BookDbContext>(db => db.Remittances.Where(r => r.Id == ines.Id).ExecuteUpdate(set => set.SetProperty(r => r.State, RemittanceState.SetAside)));
        Statement(Booked("3", -ines.Paid, ines.EndToEnd!));
        Assert.Equal($"remittance:{ines.EndToEnd} open paid-though-stopped", _bench.Rows(Bench.Bank)["3"]);
    }

    [Fact]
    public void A_payout_goes_to_the_settlement_it_names_or_to_the_only_one_of_its_amount()
    {
        Payouts();
        Statement(Booked("1", 9770, "", note: "Settlement ST-1, thank you"), Booked("2", 9770, ""));
        var rows = _bench.Rows(Bench.Bank);
        Assert.Equal("payout:ST-1 matched", rows["1"]);
        // Two are left of this amount, so neither is taken by itself; the nearest is suggested.
        Assert.Equal("payout:ST-0 suggested not-in-book", rows["2"]);
        Book.Do<SettleFindings>(s => s.Link(Bench.Bank, _bench.IdOf("2"), "payout:ST-2", "", Lead));
        Assert.Equal("payout:ST-2 settled", _bench.Rows(Bench.Bank)["2"]);
        Assert.Throws<RefusedException>(() => Book.Do<SettleFindings>(s => s.Link(Bench.Bank, _bench.IdOf("2"), "payout:ST-1", "", Lead)));
    }

    [Fact]
    public void Several_that_add_up_to_a_line_are_suggested_together()
    {
        Payouts();
        Statement(Booked("1", 9770, "", note: "ST-1"), Booked("2", 19540, ""));
        Assert.Equal("payout:ST-0+payout:ST-2 suggested not-in-book", _bench.Rows(Bench.Bank)["2"]);
        Book.Do<SettleFindings>(s => s.Link(Bench.Bank, _bench.IdOf("2"), "payout:ST-0+payout:ST-2", "", Lead));
        Assert.Equal("payout:ST-0+payout:ST-2 settled", _bench.Rows(Bench.Bank)["2"]);
    }

    [Fact]
    public void What_no_statement_shows_is_late_once_one_reaches_past_it()
    {
        Statement(Booked("9", 100, "", day: "2026-11-20"));
        var rows = _bench.Rows(Bench.Bank, new DateOnly(2026, 11, 21));
        Assert.Equal(2, rows.Values.Count(r => r.EndsWith("open not-on-statement", StringComparison.Ordinal)));
        Assert.DoesNotContain(_bench.Rows(Bench.Bank, new DateOnly(2026, 11, 12)).Values, r => r.Contains("not-on-statement", StringComparison.Ordinal));
    }

    [Fact]
    public void A_statement_that_does_not_add_up_or_leaves_a_gap_says_so()
    {
        Statement(Booked("1", 100, "", balance: "101.00"), Booked("2", 200, "", balance: "103.50"));
        Assert.Equal("open not-in-book does-not-add-up", _bench.Rows(Bench.Bank)["2"]);
        Statement(Booked("3", 100, "", day: "2026-11-06", balance: "200.00"));
        Assert.Equal("open not-in-book balance-gap", _bench.Rows(Bench.Bank)["3"]);
    }

    [Fact]
    public void The_order_of_files_is_without_effect()
    {
        var (anna, ines) = (Payment("anna"), Payment("ines"));
        StatementLine[] lines = [Booked("1", -anna.Paid, anna.EndToEnd!), Booked("2", -ines.Paid, ""), Booked("3", 100, "", day: "2026-11-06"), Booked("4", anna.Paid, anna.EndToEnd!, day: "2026-11-07")];
        foreach (var line in lines.Reverse()) Statement(line);
        var backwards = _bench.Rows(Bench.Bank);
        using var other = new BankBenchTests();
        other.Statement(lines);
        Assert.Equal(other._bench.Rows(Bench.Bank), backwards);
    }

    [Fact]
    public void A_statement_of_an_account_that_is_not_ours_waits_with_the_reason()
    {
        var import = Book.Import(ImportKind.Statement, Header, ["1,DE89370400440532013000,2026-11-03,1.00,EUR,,,,"]);
        Assert.Equal((0L, 1L), (import.Added, import.Quarantined));
        Assert.Contains("is none of the accounts", Book.Get<BookDbContext, string>(db => db.Quarantine.AsNoTracking().Single().Fault), StringComparison.Ordinal);
    }

    private sealed record StatementLine(string Text);

    private static StatementLine Booked(string id, long cents, string reference, string name = "", string note = "", string day = "2026-11-03", string balance = "") =>
        new($"{id},{House},{day},{new Money(cents, Currency.Of("EUR")).ToMajorText()},EUR,{reference},{name},\"{note}\",{balance}");

    private void Statement(params StatementLine[] lines) => Assert.Equal(0, Book.Import(ImportKind.Statement, Header, [.. lines.Select(l => l.Text)]).Quarantined);

    /// <summary>Three settlements of one amount.</summary>
    private void Payouts()
    {
        _bench.Orders("P", "Q", "R");
        foreach (var (order, i) in new[] { "P", "Q", "R" }.Select((o, i) => (o, i))) _bench.Settle(Line("sale", order, $"s{i}", settlement: $"ST-{i}"), Line("payout", "", $"p{i}", "-97.70", "0.00", settlement: $"ST-{i}"));
    }

    private RemittanceRecord Payment(string payee) => Book.Get<BookDbContext, RemittanceRecord>(db => db.Remittances.AsNoTracking().Single(r => r.Payee == payee && r.Paid > 0));
}
