namespace EvenSplit.Core;

/// <summary>A line of a settlement that names an order. Minor units of <paramref name="Currency"/>.</summary>
/// <param name="RefundId">Empty where the processor does not say.</param>
/// <param name="LinkedTo">What of ours somebody has linked it to; null where nobody has.</param>
public sealed record SettlementLine(MovementKind Kind, string RefundId, Currency Currency, long Gross, long Fee, string? LinkedTo = null);

/// <summary>What has to be known of an order that lines name.</summary>
public sealed record SettledOrder(OrderId Id, Currency Currency, bool IsPaid);

/// <summary>What a line is held against, and what does not agree.</summary>
/// <param name="Ours">Null where the book has nothing of it.</param>
public sealed record SettlementMatch(SettlementLine Line, Movement? Ours, Finding Findings);

/// <summary>Holds the lines of settlements that name one order against what the book expects of it (reconcile contract, section 2).</summary>
public static class OrderMatching
{
    /// <param name="order">Null where the book does not have it; a test order counts as that.</param>
    /// <param name="movements">As <see cref="Movements.Of"/> has them.</param>
    /// <param name="lines">In the order in which they came; only sales, refunds and chargebacks.</param>
    /// <returns>A match for each line, in their order.</returns>
    public static IReadOnlyList<SettlementMatch> Match(SettledOrder? order, IReadOnlyList<Movement> movements, IReadOnlyList<SettlementLine> lines)
    {
        var matches = new SettlementMatch[lines.Count];
        if (order is null)
        {
            for (var i = 0; i < lines.Count; i++) matches[i] = new SettlementMatch(lines[i], null, Finding.NotInBook);
            return matches;
        }
        var taken = new HashSet<Movement>(ReferenceEqualityComparer.Instance);
        // What a person has linked is not for another line to take.
        for (var i = 0; i < lines.Count; i++)
        {
            if (lines[i].LinkedTo is { } linked && movements.FirstOrDefault(m => m.Ours(order.Id) == linked) is { } ours && taken.Add(ours)) matches[i] = Compared(lines[i], ours, order.Currency);
        }
        for (var i = 0; i < lines.Count; i++) matches[i] ??= Find(order, movements, lines[i], taken);
        return matches;
    }

    private static SettlementMatch Find(SettledOrder order, IReadOnlyList<Movement> movements, SettlementLine line, HashSet<Movement> taken)
    {
        if (!order.IsPaid) return new SettlementMatch(line, null, Finding.UnpaidInBook);
        var ofKind = movements.Where(m => m.Kind == line.Kind).ToArray();
        var named = line.RefundId.Length == 0 ? null : Array.Find(ofKind, m => m.Id == line.RefundId);
        var best = named
            ?? Array.Find(ofKind, m => !taken.Contains(m) && m.Gross == line.Gross && line.Currency == order.Currency)
            ?? Array.Find(ofKind, m => !taken.Contains(m));
        if (best is not null && taken.Add(best)) return Compared(line, best, order.Currency);
        var again = best ?? Array.Find(ofKind, m => m.Gross == line.Gross) ?? ofKind.FirstOrDefault();
        return again is null ? new SettlementMatch(line, null, Finding.NotInBook) : new SettlementMatch(line, again, Finding.SettledTwice);
    }

    private static SettlementMatch Compared(SettlementLine line, Movement ours, Currency currency) => new(
        line, ours,
        line.Currency != currency
            ? Finding.CurrencyDiffers
            : (line.Gross == ours.Gross ? Finding.None : Finding.GrossDiffers) | (line.Fee == ours.Fee ? Finding.None : Finding.FeeDiffers));
}
