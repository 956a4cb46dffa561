using System.Globalization;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.BenchBook;

namespace EvenSplit.Books.Tests;

/// <summary>
/// Whatever happens to payments, statements and settlements, in whatever order: what was found again for a change alone is what is found from nothing. Few
/// different amounts and days, so that many may be held against many.
/// </summary>
public sealed class RandomBankTests : IDisposable
{
    private const string House = "GB82WEST12345698765432", Header = "id,account,booked_on,amount,currency,reference,name,note,balance_after";
    private static readonly string[] People = ["anna", "ines", "olaf", "pia", "rosa", "tomas"];

    private readonly BenchBook _bench = new();
    private int _line;

    private TestBook Book => _bench.Book;

    public void Dispose() => _bench.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    [InlineData(7)]
    [InlineData(8)]
    [InlineData(9)]
    [InlineData(10)]
    [InlineData(11)]
    [InlineData(12)]
    public void What_a_change_reaches_is_all_that_is_found_otherwise(int seed)
    {
        var random = new Random(seed);
        Payments(random);
        for (var step = 0; step < 40; step++)
        {
            var did = Step(random);
            Book.Do<FindMatches>(f => f.RunAll());
            var (compared, differences) = Book.Get<IServiceProvider, (int, IReadOnlyList<MatchDifference>)>(services => Matches(services).Compare());
            Assert.True(differences.Count == 0, $"step {step}, {did}: {string.Join("; ", differences)}");
            Assert.True(step == 0 || compared > 0);
        }
        // Most of it is held against something, or the test would show nothing.
        Assert.True(_bench.Cells(Bench.Bank).Count(c => c["ours"].Length > 0) > 10);
    }

    [Fact]
    public void A_match_that_is_kept_otherwise_is_found_by_the_check()
    {
        Payments(new Random(5));
        Statement(3, Any(new Random(6)).EndToEnd!, -1_000, 4);
        Book.Do<FindMatches>(f => f.RunAll());
        Book.Do<BookDbContext>(db => db.OutsideLines.ExecuteUpdate(set => set.SetProperty(l => l.State, MatchState.Matched).SetProperty(l => l.Findings, Finding.None)));
        Assert.Contains(Book.Get<Checking.BookCheck, Checking.CheckResult>(c => c.Run()).Lines, l => l.Name == "Matches of the bank" && l.Differences > 0);
    }

    private static BankMatches Matches(IServiceProvider services)
    {
        var db = (BookDbContext)services.GetService(typeof(BookDbContext))!;
        return new BankMatches(db, ((BookCache)services.GetService(typeof(BookCache))!).Get(db), ((BookClock)services.GetService(typeof(BookClock))!).Today);
    }

    /// <summary>Two runs that pay six people by files of the bank.</summary>
    private void Payments(Random random)
    {
        Assert.Empty(Book.Get<PayingAccounts, IReadOnlyList<FieldFault>>(a => a.Save("EUR", "Test book", House, "WESTGB2L", TestBook.Lead)));
        foreach (var name in People.Skip(2)) Book.AddPayee(char.ToUpperInvariant(name[0]) + name[1..], PayeeRole.Affiliate, name.ToUpperInvariant());
        foreach (var name in People.Skip(2)) Book.PutOn("friends", name);
        foreach (var name in People)
        {
            Assert.Empty(Book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose(name, new PayoutDetailsDraft { Holder = name, Iban = "IE29AIBK93115212345678", Bic = "AIBKIE2D" }, TestBook.Lead)));
            Book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, TestBook.Approver));
        }
        Book.MoveTo(new DateOnly(2026, 11, 8));
        foreach (var (on, run) in new[] { (new DateOnly(2026, 10, 15), 1), (new DateOnly(2026, 10, 31), 2) })
        {
            Book.ImportOrders([.. People.Where(p => p != "ines").Select(p => TestBook.Row($"{p}-{run}", $"2026-10-{on.Day - 5:00}", p.ToUpperInvariant(), price: $"{random.Next(1, 3)}00.00"))]);
            Book.Do<IssueRun>(i => i.Issue(Book.Pay(on).Id, TestBook.Lead));
        }
    }

    private string Step(Random random)
    {
        var day = random.Next(3, 15);
        switch (random.Next(11))
        {
            case 0 or 1: return Statement(day, Any(random).EndToEnd!, -Any(random).Paid, 1);
            case 2: return Statement(day, File(random).MessageId, -File(random).Sum, 1);
            case 3: return Statement(day, "", -File(random).Sum, random.Next(1, 3));
            case 4: return Statement(day, Any(random).EndToEnd!, Any(random).Paid, 1);
            case 5: return Statement(day, random.Next(2) == 0 ? $"ST-{random.Next(4)}" : "", 9_770 * random.Next(1, 3), 1, $"Settlement ST-{random.Next(6)}");
            case 6: return Statement(day, "", 9_770 * random.Next(1, 3), random.Next(1, 3));
            case 7: return Settlement(random);
            case 8: return Stopped(random);
            default: return Settled(random);
        }
    }

    private string Statement(int day, string reference, long cents, int lines, string note = "")
    {
        var rows = Enumerable.Range(0, lines).Select(_ => string.Create(
            CultureInfo.InvariantCulture, $"b{++_line},{House},2026-11-{Math.Max(day, 1):00},{new Money(cents, Currency.Of("EUR")).ToMajorText()},EUR,{reference},,{note},{(_line % 5 == 0 ? "100.00" : "")}"));
        Assert.Equal(0, Book.Import(ImportKind.Statement, Header, [.. rows]).Quarantined);
        return $"{lines} of {cents} for {reference} {note} on {day}";
    }

    private string Settlement(Random random)
    {
        var (id, settlement) = (++_line, $"ST-{random.Next(6)}");
        _bench.Orders($"S{id}");
        _bench.Settle(Line("sale", $"S{id}", $"s{id}", settlement: settlement), Line("payout", "", $"p{id}", "-97.70", "0.00", settlement: settlement));
        return $"a payout of {settlement}";
    }

    private string Stopped(Random random)
    {
        var payment = Any(random);
        var state = new[] { RemittanceState.Sent, RemittanceState.Confirmed, RemittanceState.Returned, RemittanceState.SetAside, RemittanceState.Refused }[random.Next(5)];
        Book.Do<BookDbContext>(db => db.Remittances.Where(r => r.Id == payment.Id).ExecuteUpdate(set => set.SetProperty(r => r.State, state)));
        return $"{payment.EndToEnd} is {state}";
    }

    private string Settled(Random random)
    {
        var lines = Book.Get<BookDbContext, OutsideLineRecord[]>(db => db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Bank).OrderBy(l => l.Id).ToArray());
        if (lines.Length == 0) return "nothing";
        var line = lines[random.Next(lines.Length)];
        try
        {
            switch (random.Next(4))
            {
                case 0: Book.Do<SettleFindings>(s => s.Undo(Bench.Bank, [new BenchRow(line.Id, null)], TestBook.Lead)); return $"{line.LineId} undone";
                case 1: Book.Do<SettleFindings>(s => s.Accept(Bench.Bank, [new BenchRow(line.Id, null)], "seen", TestBook.Lead)); return $"{line.LineId} accepted";
                default:
                    var ours = line.Gross > 0 && random.Next(2) == 0 ? $"payout:ST-{random.Next(6)}" : $"remittance:{Any(random).EndToEnd}";
                    Book.Do<SettleFindings>(s => s.Link(Bench.Bank, line.Id, ours, "", TestBook.Lead));
                    return $"{line.LineId} linked to {ours}";
            }
        }
        catch (RefusedException refused)
        {
            return refused.Message;
        }
    }

    private RemittanceRecord Any(Random random) => Pick(random, db => db.Remittances.AsNoTracking().Where(r => r.EndToEnd != null && r.Paid > 0).OrderBy(r => r.Id).ToArray());

    private PaymentFileRecord File(Random random) => Pick(random, db => db.PaymentFiles.AsNoTracking().Where(f => f.Method == PayoutMethod.Bank).OrderBy(f => f.Id).ToArray());

    private T Pick<T>(Random random, Func<BookDbContext, T[]> all)
    {
        var them = Book.Get(all);
        return them[random.Next(them.Length)];
    }
}
