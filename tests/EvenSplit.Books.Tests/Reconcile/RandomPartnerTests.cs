using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Whatever is posted, reported and settled, in whatever order: what was found again for a change alone is what is found when all is looked over.</summary>
public sealed class RandomPartnerTests : IDisposable
{
    private const string Header = "report,line_id,payee,order_id,from,to,amount,currency,note,invoice,issued_on,due_on";

    private readonly BenchBook _bench = new();
    private int _number;

    private TestBook Book => _bench.Book;

    public void Dispose() => _bench.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    public void What_a_change_reaches_is_all_that_is_found_otherwise(int seed)
    {
        var random = new Random(seed);
        for (var step = 0; step < 30; step++)
        {
            var did = Step(random);
            Book.Do<FindMatches>(f => f.RunAll());
            var (_, differences) = Book.Get<IServiceProvider, (int, IReadOnlyList<MatchDifference>)>(Compare);
            Assert.True(differences.Count == 0, $"step {step}, {did}: {string.Join("; ", differences)}");
        }
        // Some of it was held against something, or lacked, or the test would show nothing.
        Assert.True(Book.Get<BookDbContext, bool>(db => db.OutsideLines.Any(l => l.Ours != null) || db.Awaited.Any(a => a.Bench == Bench.Partners)));
    }

    [Fact]
    public void A_match_that_is_kept_otherwise_is_found_by_the_check()
    {
        Book.ImportOrders(TestBook.Row("A", "2026-10-05", "ANNA"), TestBook.Row("B", "2026-10-06", "ANNA"));
        Book.Import(ImportKind.Outside, Header, ["S,1,anna,A,2026-10-01,2026-10-31,1.00,EUR,,,,"]);
        Book.Do<FindMatches>(f => f.RunAll());
        Assert.Equal((2, 0), Checked());
        Book.Do<BookDbContext>(db => db.Awaited.Where(a => a.Bench == Bench.Partners).ExecuteUpdate(set => set.SetProperty(a => a.Gross, a => a.Gross + 1)));
        Assert.Equal((2, 1), Checked());
        Book.Do<BookDbContext>(db => db.OutsideLines.ExecuteUpdate(set => set.SetProperty(l => l.GrossOurs, 5)));
        Assert.Equal((2, 2), Checked());

        (int, int) Checked()
        {
            var line = Assert.Single(Book.Get<Checking.BookCheck, Checking.CheckResult>(c => c.Run()).Lines, l => l.Name == "Matches of partners");
            return (int.Parse(line.Kept.Split(' ')[0], CultureInfo.InvariantCulture), (int)line.Differences);
        }
    }

    private static (int, IReadOnlyList<MatchDifference>) Compare(IServiceProvider services)
    {
        var db = (BookDbContext)services.GetService(typeof(BookDbContext))!;
        return new PartnerMatches(db, ((BookClock)services.GetService(typeof(BookClock))!).Today).Compare();
    }

    private string Step(Random random)
    {
        var number = ++_number;
        var day = $"2026-{random.Next(9, 12):00}-{random.Next(1, 29):00}";
        switch (random.Next(8))
        {
            case 0 or 1 or 2:
                Book.ImportOrders(TestBook.Row($"O{number}", day, random.Next(3) == 0 ? "" : "ANNA", price: $"{random.Next(1, 4)}0.00"));
                return $"an order of {day}";
            case 3:
                Book.ImportRefunds($"R{number},O{random.Next(1, number + 1)},{day}T10:00:00Z,refund,1,0,5.00,0");
                return $"a refund of {day}";
            case 4: return Report(random, $"S{random.Next(3)}", "", day);
            case 5: return Report(random, $"T{random.Next(3)}", $"O{random.Next(1, number + 1)}", day);
            case 6:
                if (Book.Get<BookDbContext, string?>(db => db.OutsideLines.Select(l => l.Source).OrderBy(s => s).FirstOrDefault()) is not { } report) return "nothing";
                Book.Do<SettleFindings>(s => s.SetTolerance(report, $"{random.Next(3)}.00", TestBook.Lead));
                return $"a tolerance of {report}";
            default: return Settled(random);
        }
    }

    private string Report(Random random, string report, string order, string day)
    {
        var payee = random.Next(2) == 0 ? "anna" : "ines";
        var from = DateOnly.Parse(day, CultureInfo.InvariantCulture).AddDays(-random.Next(1, 40));
        Book.Import(ImportKind.Outside, Header, [$"{report},{_number},{payee},{order},{from:yyyy-MM-dd},{day},{random.Next(1, 5)}.00,EUR,,,,"]);
        return $"{report}: {payee} {order} {from:yyyy-MM-dd} to {day}";
    }

    private string Settled(Random random)
    {
        var lines = Book.Get<BookDbContext, OutsideLineRecord[]>(db => db.OutsideLines.AsNoTracking().OrderBy(l => l.Id).ToArray());
        if (lines.Length == 0) return "nothing";
        var row = new BenchRow(lines[random.Next(lines.Length)].Id, null);
        try
        {
            if (random.Next(3) == 0) Book.Do<SettleFindings>(s => s.Undo(Bench.Partners, [row], TestBook.Lead));
            else Book.Do<SettleFindings>(s => s.Accept(Bench.Partners, [row], "seen", TestBook.Lead));
            return $"{row} settled";
        }
        catch (RefusedException refused)
        {
            return refused.Message;
        }
    }
}
