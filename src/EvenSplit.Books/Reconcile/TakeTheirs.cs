using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>
/// Makes the fee that a processor has taken the actual fee of its order: for one line, for all of a settlement, or as they come where the processor has a standing
/// rule. The orders are worked out again, and the differences posted once they were seen (reconcile contract, section 2).
/// </summary>
public sealed class TakeTheirs(BookDbContext db, BookCache cache, BookClock clock, ShownFirst shown, AuditLog audit) : IUseCase
{
    private const int ByRuleAtOnce = 500;
    private const string TheRule = "the standing rule";

    /// <summary>Takes the fees of some lines.</summary>
    /// <exception cref="RefusedException">One of them is no sale whose fee differs.</exception>
    /// <exception cref="NotSeenException">What it posts was not shown yet.</exception>
    public void Take(IReadOnlyCollection<long> ids, string reason, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        var lines = db.OutsideLines.AsNoTracking().Where(l => ids.Contains(l.Id)).OrderBy(l => l.Id).ToArray();
        if (lines.Length == 0) throw new RefusedException("Choose a line.");
        if (Array.Find(lines, l => !IsToTake(l)) is { } other) throw new RefusedException($"Line {other.LineId} of {other.Source} has no fee to take: only a sale whose fee differs has.");
        Take(lines, reason, by);
        transaction?.Commit();
    }

    /// <summary>The lines of a settlement whose fees can be taken.</summary>
    public long[] OfSettlement(string settlement) => [.. db.OutsideLines.Where(l => l.Bench == Bench.Processors && l.Source == settlement && l.State == MatchState.Open && l.Kind == MovementKind.Sale && (l.Findings & Finding.FeeDiffers) != 0).Select(l => l.Id)];

    /// <summary>Sets or ends the standing rule of a processor; where it begins, what is open is taken at once.</summary>
    public void SetRule(string processor, bool takes, int settleWithinDays, string by)
    {
        if (settleWithinDays is < 0 or > 400) throw new RefusedException("Give a number of days from 0 to 400.", "SettleWithin");
        using var transaction = db.BeginUnlessBegun();
        if (db.Processors.Find(processor) is null && !db.Orders.Any(o => o.Processor == processor)) throw new RefusedException($"No order names a processor {processor}.");
        var bench = db.ProcessorBenches.Find(processor) ?? db.ProcessorBenches.Add(new ProcessorBenchRecord { Processor = processor }).Entity;
        var begins = takes && !bench.TakesTheirFees;
        (bench.TakesTheirFees, bench.SettleWithinDays) = (takes, settleWithinDays);
        audit.Note(by, "set how a processor is reconciled", $"{processor}: {(takes ? "their fees are taken as they come" : "their fees wait to be taken")}, settled within {MoneyWords.Count(settleWithinDays, "day")}");
        db.SaveChanges();
        if (begins && ToTakeOf([processor]).AsEnumerable().Where(IsToTake).ToArray() is { Length: > 0 } lines) Take(lines, $"standing rule for {processor}", by);
        transaction?.Commit();
    }

    /// <summary>Takes what has come in of processors with a standing rule.</summary>
    /// <returns>Whether there was anything.</returns>
    internal bool FollowRules()
    {
        var followed = false;
        while (db.ProcessorBenches.Where(p => p.TakesTheirFees).Select(p => p.Processor).ToArray() is { Length: > 0 } processors)
        {
            db.ChangeTracker.Clear();
            using var transaction = db.BeginUnlessBegun();
            var lines = ToTakeOf(processors).Take(ByRuleAtOnce).AsEnumerable().Where(IsToTake).ToArray();
            if (lines.Length == 0) break;
            Take(lines, "", TheRule);
            transaction?.Commit();
            followed = true;
        }
        return followed;
    }

    /// <summary>Puts the fee back that the order had before.</summary>
    internal void GiveBack(OutsideLineRecord line, SettlingRecord taken, string by)
    {
        var order = OrderOf(line);
        var held = db.Orders.Known(o => o.OrderId == order);
        held.ActualProcessingFee = taken.FeeBefore;
        db.SaveChanges();
        new PostedAtOnce(db, cache.Get(db), clock.Today).PostSeen([held.Id], shown, $"undo: their fee taken, {order}", by, clock.GetUtcNow());
    }

    private static bool IsToTake(OutsideLineRecord line) =>
        line is { Bench: Bench.Processors, Kind: MovementKind.Sale, State: MatchState.Open, Ours: not null } && line.Findings.HasFlag(Finding.FeeDiffers) && !line.Findings.HasFlag(Finding.SettledTwice);

    private IQueryable<OutsideLineRecord> ToTakeOf(string[] processors) => db.OutsideLines.AsNoTracking()
        .Where(l => l.Bench == Bench.Processors && l.State == MatchState.Open && l.Kind == MovementKind.Sale && l.Findings == Finding.FeeDiffers && db.Orders.Any(o => o.OrderId == l.Order && processors.Contains(o.Processor!)))
        .OrderBy(l => l.Id);

    internal static string OrderOf(OutsideLineRecord line) => line.Ours!["sale:".Length..];

    private void Take(IReadOnlyList<OutsideLineRecord> lines, string reason, string by)
    {
        var names = lines.Select(OrderOf).Distinct(StringComparer.Ordinal).ToArray();
        var orders = db.Orders.Where(o => names.Contains(o.OrderId)).ToDictionary(o => o.OrderId, StringComparer.Ordinal);
        var now = clock.GetUtcNow();
        foreach (var line in lines)
        {
            var order = orders[OrderOf(line)];
            db.Settlings.Add(new SettlingRecord
            {
                Bench = Bench.Processors,
                LineId = line.Id,
                Way = SettlingWay.TakeTheirs,
                Reason = reason.Trim(),
                Findings = line.Findings,
                FeeBefore = order.ActualProcessingFee,
                By = by,
                At = now,
            });
            order.ActualProcessingFee = line.Fee;
        }
        var words = lines.Count == 1 ? $"{names[0]}, line {lines[0].LineId} of {lines[0].Source}" : string.Create(CultureInfo.InvariantCulture, $"{lines.Count} sales, {string.Join(", ", lines.Select(l => l.Source).Distinct().Take(5))}");
        audit.Note(by, "take their fees", words);
        db.SaveChanges();
        long[] keys = [.. orders.Values.OrderBy(o => o.PaidAt).ThenBy(o => o.Id).Select(o => o.Id)];
        if (keys.Length <= shown.MostAtOnce) new PostedAtOnce(db, cache.Get(db), clock.Today).PostSeen(keys, shown, $"take their fees, {words}", by, now);
        else InBackground(orders.Values, words, by);
        new ProcessorMatches(db, cache.Get(db), clock.Today).Find(names);
    }

    private void InBackground(IReadOnlyCollection<OrderRecord> orders, string words, string by)
    {
        var seen = string.Create(CultureInfo.InvariantCulture, $"many {orders.Count}");
        // Seen as a number of orders, or as it was worked out by the side.
        var told = shown.WorkedOut is { } worked ? worked with { Orders = orders.Count } : new PostedDifference(orders.Count, [], true, seen);
        if (shown.Asks && shown.Seen != seen && shown.Seen != told.Fingerprint)
        {
            var fees = orders.ToDictionary(o => o.OrderId, o => o.ActualProcessingFee, StringComparer.Ordinal);
            throw new NotSeenException(told) { After = cache.Get(db), Change = facts => facts with { Orders = [.. facts.Orders.Select(o => fees.TryGetValue(o.Id.Value, out var fee) ? o with { ProcessingFee = fee } : o)] } };
        }
        var recalculation = db.Recalculations.Add(new RecalculationRecord { Touched = [], Words = $"take their fees, {words}", By = by, IsListed = true, Total = orders.Count }).Entity;
        db.SaveChanges();
        using var writer = BulkWriter<RecalculationOrderRecord>.Inserting(db);
        writer.Write(orders.Select(o => new RecalculationOrderRecord { RecalculationId = recalculation.Id, At = o.PaidAt ?? o.PlacedAt, OrderId = o.Id }));
    }
}
