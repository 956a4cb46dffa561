namespace EvenSplit.Core;

/// <summary>
/// The orders that a change of the rules can touch: those between the dates that name any of the subjects; with <see cref="Everything"/>, all
/// between the dates. Dates are the book's; the upper ones are left out themselves.
/// </summary>
public sealed record TouchedOrders
{
    /// <summary>Every order there is, whatever it names.</summary>
    public bool Everything { get; init; }
    public DateOnly? PlacedFrom { get; init; }
    public DateOnly? PlacedBefore { get; init; }
    /// <summary>By the date of paidAt, of placedAt while unpaid: the date at which amounts are converted and fee schedules are asked.</summary>
    public DateOnly? ConvertedFrom { get; init; }
    public DateOnly? ConvertedBefore { get; init; }
    /// <summary>Who may have brought the order: by assignment, click or what it is attributed to. With the renewals of such orders, and theirs.</summary>
    public IReadOnlyList<string> Payees { get; init; } = [];
    /// <summary>Coupon codes on the order, with the renewals of such orders, and theirs.</summary>
    public IReadOnlyList<string> Codes { get; init; } = [];
    /// <summary>Who has an entry on the order.</summary>
    public IReadOnlyList<string> Earners { get; init; } = [];
    public IReadOnlyList<string> Products { get; init; } = [];
    public IReadOnlyList<string> Processors { get; init; } = [];
    public IReadOnlyList<string> Channels { get; init; } = [];

    /// <summary>Whether there is anything that an order could name.</summary>
    public bool IsNothing => !Everything && Payees.Count + Codes.Count + Earners.Count + Products.Count + Processors.Count + Channels.Count == 0;

    /// <summary>Fewer of them: those with the same dates become one.</summary>
    public static IReadOnlyList<TouchedOrders> Together(IEnumerable<TouchedOrders> touched) =>
    [
        .. touched.Where(t => !t.IsNothing).GroupBy(t => (t.PlacedFrom, t.PlacedBefore, t.ConvertedFrom, t.ConvertedBefore)).Select(g => g.First() with
        {
            Everything = g.Any(t => t.Everything),
            Payees = [.. g.SelectMany(t => t.Payees).Distinct()],
            Codes = [.. g.SelectMany(t => t.Codes).Distinct()],
            Earners = [.. g.SelectMany(t => t.Earners).Distinct()],
            Products = [.. g.SelectMany(t => t.Products).Distinct()],
            Processors = [.. g.SelectMany(t => t.Processors).Distinct()],
            Channels = [.. g.SelectMany(t => t.Channels).Distinct()],
        }),
    ];
}
