using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>Looks for what explains that a partner's figure is not ours (reconcile contract, section 4). It says what would fit to the cent, and decides nothing.</summary>
internal sealed class PartnerReasons(BookDbContext db)
{
    /// <summary>Two roundings apart is still the same figure.</summary>
    private const long Rounding = 1;

    /// <returns>A sentence; null where nothing that is known fits.</returns>
    public string? Likely(OutsideLineRecord line) => line.Order is { } order ? OfOrder(line, order) : OfDays(line);

    private string? OfOrder(OutsideLineRecord line, string orderId)
    {
        if (db.Orders.AsNoTracking().FirstOrDefault(o => o.OrderId == orderId) is not { } order) return null;
        var entries = db.Entries.AsNoTracking().Where(e => e.OrderId == order.Id && e.Payee == line.Name && e.Currency == line.Currency && e.PostedOn <= line.On).Select(e => new { e.Amount, e.RefundId, e.PostedOn }).ToArray();
        var (ours, sale) = (entries.Sum(e => e.Amount), entries.Where(e => e.RefundId is null).Sum(e => e.Amount));
        if (sale != ours && Same(line.Gross, sale)) return $"It is ours before the refund of {entries.Where(e => e.RefundId is not null).Max(e => e.PostedOn).InWords()}, which they have not seen.";
        var (goods, fees) = (order.GoodsNet, order.ProcessingFee + order.ChannelFee - order.Rebate);
        if (goods <= 0 || ours == 0) return null;
        if (order.Tax > 0 && Same(line.Gross, Of(ours, goods + order.Tax, goods))) return "It is ours worked out on goods with tax.";
        if (fees > 0 && goods > fees && Same(line.Gross, Of(ours, goods, goods - fees))) return "It is ours without the fees taken off.";
        return RateOf(line.Gross, goods) is { } theirs && RateOf(ours, goods) is { } our ? $"Theirs would be {theirs} % of the goods, ours is {our} %." : null;
    }

    /// <summary>In per cent with at most one decimal; null where no such rate comes to the amount.</summary>
    private static string? RateOf(long amount, long goods)
    {
        var perMille = ((amount * 2000) + goods) / (goods * 2);
        return amount > 0 && Same(amount, Of(goods, perMille, 1000)) ? (perMille / 10m).ToString("0.#", System.Globalization.CultureInfo.InvariantCulture) : null;
    }

    private string? OfDays(OutsideLineRecord line)
    {
        var off = line.Gross - (line.GrossOurs ?? 0);
        var (first, last) = (line.From!.Value, line.On);
        foreach (var (day, sign, words) in new[] { (first.AddDays(-1), 1, "they count it in"), (last.AddDays(1), 1, "they count it in"), (first, -1, "they leave it out"), (last, -1, "they leave it out") })
        {
            var posted = db.Entries.Where(e => e.Payee == line.Name && e.Currency == line.Currency && e.PostedOn == day).Sum(e => e.Amount);
            if (posted != 0 && posted * sign == off) return $"It is what was posted on {day.InWords()}: {words}.";
        }
        return null;
    }

    private static bool Same(long a, long b) => Math.Abs(a - b) <= Rounding;

    /// <summary>An amount times a fraction, to the nearest minor unit.</summary>
    private static long Of(long amount, long times, long outOf) => (amount * new Fraction(times, outOf)).Round();
}
