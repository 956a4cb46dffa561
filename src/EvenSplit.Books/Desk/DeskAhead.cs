using EvenSplit.Books.Balances;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Desk;

/// <summary>What will have cleared on each day ahead where no run takes any of it, in one currency.</summary>
/// <param name="Days">The first is today; then each day on which something clears, with the sum up to it.</param>
public sealed record ClearingLine(IReadOnlyList<(DateOnly On, Money Cleared)> Days, DateOnly Until);

/// <summary>Something that waits for one person.</summary>
/// <param name="Path">Below the month.</param>
public sealed record WaitsForYou(string Words, string Path);

/// <summary>What others did since somebody was here before.</summary>
/// <param name="Deeds">The latest of them.</param>
public sealed record SinceLastHere(DateTimeOffset At, int Count, IReadOnlyList<(string By, string Words)> Deeds);

/// <summary>What the desk says beyond the month.</summary>
public sealed record AheadView(IReadOnlyList<ClearingLine> Lines, IReadOnlyList<DueRun> Runs, IReadOnlyList<WaitsForYou> Waits, SinceLastHere? Since);

/// <summary>Looks beyond the month: what clears next, which runs come, what waits for the one who looks, what changed since they were here.</summary>
public sealed class DeskAhead(BookDbContext db, OpenBalances balances, DueRuns due, BookClock clock) : IUseCase
{
    public const int Days = 60;

    private const int MostDeeds = 6;
    private const int MostLookedAt = 500;
    private const int MostRuns = 3;

    /// <param name="name">The one who looks, as the record names them.</param>
    public AheadView Find(string name, bool mayApprove) => new(
        Lines(), [.. due.Find().Where(d => d.AsOf is not null && d.Payees.Count > 0).Take(MostRuns)], [.. Waits(name, mayApprove)], Since(name));

    private ClearingLine[] Lines()
    {
        var (today, until) = (clock.Today, clock.Today.AddDays(Days));
        var ahead = db.OpenSums.AsNoTracking().Where(s => s.ClearsOn > today && s.ClearsOn <= until && s.Amount != 0)
            .GroupBy(s => new { s.Currency, s.ClearsOn }).Select(g => new { g.Key.Currency, g.Key.ClearsOn, Sum = g.Sum(s => s.Amount) }).AsEnumerable().ToLookup(s => s.Currency, s => (s.ClearsOn, s.Sum));
        return [.. balances.Find().Select(b => Line(b, ahead[b.Currency.Code], today, until)).Where(l => l.Days.Any(d => d.Cleared.Minor != 0)).OrderByDescending(l => l.Days[^1].Cleared.Minor)];
    }

    /// <summary>It begins with what the balances call cleared.</summary>
    private static ClearingLine Line(OpenBalance balance, IEnumerable<(DateOnly On, long Sum)> ahead, DateOnly today, DateOnly until)
    {
        var sum = balance.Cleared;
        var days = new List<(DateOnly On, Money Cleared)> { (today, new Money(sum, balance.Currency)) };
        foreach (var (on, more) in ahead.OrderBy(a => a.On))
        {
            sum += more;
            days.Add((on, new Money(sum, balance.Currency)));
        }
        return new ClearingLine(days, until);
    }

    private IEnumerable<WaitsForYou> Waits(string name, bool mayApprove)
    {
        if (mayApprove)
        {
            foreach (var run in db.PayRuns.AsNoTracking().Where(r => r.State == RunState.Locked && r.LockedBy != name && r.PreparedBy != name).OrderBy(r => r.Id).ToArray())
            {
                yield return new WaitsForYou($"the run as of {run.AsOf.InWords()}, locked by {run.LockedBy}: approve it", $"pay/{run.Id}");
            }
            var details = db.PayoutDetails.Count(d => d.ConfirmedBy == null && d.RefusedBy == null && d.ProposedBy != name);
            if (details > 0) yield return new WaitsForYou($"{MoneyWords.Count(details, "change")} of payout details: confirm or refuse", "pay/details");
            var writeOffs = db.WriteOffs.Count(w => w.ConfirmedBy == null && w.RefusedBy == null && w.ProposedBy != name);
            if (writeOffs > 0) yield return new WaitsForYou($"{MoneyWords.Count(writeOffs, "write-off")}: confirm or refuse", "pay/owed");
            var doubts = db.PaymentDoubts.Count(d => d.SettledBy == null && d.RaisedBy != name);
            if (doubts > 0) yield return new WaitsForYou($"{MoneyWords.Count(doubts, "payment")} that messages disagree about", "pay/results");
        }
        var assigned = db.CauseNotes.AsNoTracking().Where(n => n.AssignedTo != "").OrderBy(n => n.Id).AsEnumerable().GroupBy(n => (n.Code, n.Subject)).Select(g => g.Last()).Where(n => n.AssignedTo == name).ToArray();
        var open = assigned.Count(n => db.OrderExceptions.Any(e => e.IsOpen && e.Code == n.Code && e.Subject == n.Subject));
        if (open > 0) yield return new WaitsForYou($"{MoneyWords.Count(open, "cause")} of exceptions given to you", "sales/exceptions");
    }

    /// <returns>Null for who signed in for the first time, or where nobody did anything since.</returns>
    private SinceLastHere? Since(string name)
    {
        if (db.Users.Where(u => u.DisplayName == name).Select(u => u.Id).FirstOrDefault() is not { } user) return null;
        if (db.Sessions.Where(s => s.UserId == user).OrderByDescending(s => s.StartedAt).Skip(1).Select(s => (DateTimeOffset?)s.StartedAt).FirstOrDefault() is not { } before) return null;
        var deeds = db.Audit.AsNoTracking().OrderByDescending(a => a.Id).Take(MostLookedAt).AsEnumerable().TakeWhile(a => a.At > before)
            .Where(a => a.By != name && a.Action != "take a file away" && !a.Action.StartsWith("sign", StringComparison.Ordinal)).ToArray();
        return deeds.Length == 0 ? null : new SinceLastHere(before, deeds.Length, [.. deeds.Take(MostDeeds).Select(d => (d.By, $"{d.Action}{(d.Subject.Length > 0 ? $", {d.Subject}" : "")}"))]);
    }
}
