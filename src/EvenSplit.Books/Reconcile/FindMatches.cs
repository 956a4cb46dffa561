using System.Globalization;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>Finds again what belongs together wherever something has changed, and books what an order has come to; the database notes where that is. Each portion is one transaction.</summary>
public sealed class FindMatches(BookDbContext db, BookCache cache, BookClock clock, TakeTheirs theirs) : IUseCase
{
    private const int Portion = 2_000;

    /// <summary>Whether something waits for its matches.</summary>
    public bool IsWaiting => Enum.GetValues<Bench>().Any(IsWaitingAt);

    /// <summary>Whether something of a bench does.</summary>
    public bool IsWaitingAt(Bench bench) => WaitsEnded().Any(l => l.Bench == bench) || bench switch
    {
        Bench.Processors => db.OrdersToMatch.Any(),
        Bench.Bank => db.BenchToMatch.Any(c => c.Kind <= BenchChange.Settlement) || db.BenchStates.Any(s => s.Bench == Bench.Bank && s.IsToMatch),
        _ => db.BenchToMatch.Any(c => c.Kind > BenchChange.Settlement) || db.BenchStates.Any(s => s.Bench == Bench.Partners && s.IsToMatch)
            || (db.OutsideLines.Any(l => l.Bench == Bench.Partners) && db.BenchStates.Any(s => s.Bench == Bench.Partners && s.UpToEntry < db.Entries.Max(e => (long?)e.Id))),
    };

    /// <summary>Until nothing waits.</summary>
    public void RunAll(CancellationToken cancellation = default)
    {
        while (!cancellation.IsCancellationRequested && Orders()) { }
        if (cancellation.IsCancellationRequested) return;
        Benches();
        if (!theirs.FollowRules()) return;
        // What was taken changes orders, and so their matches.
        while (!cancellation.IsCancellationRequested && Orders()) { }
    }

    /// <summary>The matches and bookings of orders that lines name, inside the caller's transaction: whatever else waits, waits on.</summary>
    internal void Of(IEnumerable<string> orders)
    {
        var matches = new ProcessorMatches(db, cache.Get(db), clock.Today);
        foreach (var some in orders.Distinct(StringComparer.Ordinal).Chunk(Portion)) matches.Find(some);
    }

    private bool Orders()
    {
        db.ChangeTracker.Clear();
        using var transaction = db.BeginUnlessBegun();
        EndWaits();
        var names = db.OrdersToMatch.AsNoTracking().OrderBy(o => o.Order).Take(Portion).Select(o => o.Order).ToArray();
        if (names.Length > 0) new ProcessorMatches(db, cache.Get(db), clock.Today).Find(names);
        transaction?.Commit();
        return names.Length > 0;
    }

    private void Benches()
    {
        db.ChangeTracker.Clear();
        var (bank, partners) = (IsWaitingAt(Bench.Bank), IsWaitingAt(Bench.Partners));
        if (!bank && !partners) return;
        using var transaction = db.BeginUnlessBegun();
        var states = db.BenchStates.ToDictionary(s => s.Bench);
        if (bank)
        {
            var all = states[Bench.Bank].IsToMatch;
            states[Bench.Bank].IsToMatch = false;
            new BankMatches(db, cache.Get(db), clock.Today).Find(all);
        }
        if (partners) new PartnerMatches(db, clock.Today).Find(states[Bench.Partners]);
        transaction?.Commit();
    }

    /// <summary>Lines that somebody waits with, and the day has passed.</summary>
    private IQueryable<OutsideLineRecord> WaitsEnded()
    {
        var today = clock.Today;
        return db.OutsideLines.Where(l => db.Settlings.Where(s => s.Way == SettlingWay.Wait && s.UndoneBy == null && s.Until < today && s.LineId != null).Select(s => s.LineId!.Value).Contains(l.Id) && l.State == MatchState.Settled
            && !db.Settlings.Any(s => s.LineId == l.Id && s.UndoneBy == null && (s.Way != SettlingWay.Wait || s.Until >= today)));
    }

    private void EndWaits()
    {
        foreach (var line in WaitsEnded().ToArray())
        {
            if (line is { Bench: Bench.Processors, Order: { } order } && !db.OrdersToMatch.Any(o => o.Order == order)) db.OrdersToMatch.Add(new OrderToMatchRecord { Order = order });
            else if (line.Bench != Bench.Processors) db.NoteChange(line.Bench == Bench.Bank ? BenchChange.Line : BenchChange.PartnerLine, line.Id.ToString(CultureInfo.InvariantCulture));
            line.State = MatchState.Open;
        }
        db.SaveChanges();
    }
}
