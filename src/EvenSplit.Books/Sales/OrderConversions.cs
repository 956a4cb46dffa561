using EvenSplit.Core;

namespace EvenSplit.Books.Sales;

/// <summary>A pair of currencies that an order's figures were converted between, and by which published rates.</summary>
/// <param name="Source">Null where there is no rate yet: what needs it waits or counts 0.</param>
public sealed record ConversionView(Currency From, Currency To, string? Source);

/// <summary>Where the rates of an order's conversions came from (contract, sections 6 and 9): all are of the date of paidAt.</summary>
internal static class OrderConversions
{
    public static IReadOnlyList<ConversionView> Of(OpenedBook book, OrderLedger ledger) => Pairs(book.Rules, ledger)
        .Where(p => p.From != p.To).Distinct().OrderBy(p => p.From.Code, StringComparer.Ordinal).ThenBy(p => p.To.Code, StringComparer.Ordinal)
        .Select(p => new ConversionView(p.From, p.To, book.Rules.Rates.Source(p.From, p.To, ledger.PaidOn))).ToArray();

    private static IEnumerable<(Currency From, Currency To)> Pairs(Rulebook rules, OrderLedger ledger)
    {
        var (order, figures) = (ledger.Order, ledger.Figures);
        if (figures.ProcessingFeeSource == FeeSource.Schedule && rules.FindProcessor(order.Processor!.Value)?.On(ledger.PaidOn) is { FeeFixed: not 0 } processing)
        {
            yield return (processing.Currency, order.Currency);
        }
        if (figures.ChannelFeeSource == FeeSource.Schedule && rules.FindChannel(order.Channel)?.On(ledger.PaidOn) is { FeeFixed: not 0 } channel)
        {
            yield return (channel.Currency, order.Currency);
        }
        foreach (var line in figures.Lines)
        {
            if (line.Product.UnitCostOn(ledger.PlacedOn) is (not null and not 0, var costIn)) yield return (costIn, order.Currency);
        }
        foreach (var share in ledger.Shares)
        {
            var cases = share.Lines.SelectMany(l => l.Term.Term.Cases).ToArray();
            if (cases.Any(c => c.When.OrderValueAtLeast is not null)) yield return (order.Currency, share.Agreement.Currency);
            if (cases.Any(c => c.Rate.HasFlatAmount)) yield return (share.Agreement.Currency, order.Currency);
        }
    }
}
