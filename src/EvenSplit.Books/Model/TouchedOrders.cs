namespace EvenSplit.Books.Model;

/// <summary>
/// The orders that a change of the rules can touch: those between the dates that name any of the subjects; without a subject, all between
/// the dates. Dates are the book's; the upper ones are left out themselves.
/// </summary>
public sealed record TouchedOrders
{
    public DateOnly? PlacedFrom { get; init; }
    public DateOnly? PlacedBefore { get; init; }
    /// <summary>By the date of paidAt, of placedAt while unpaid: the date at which amounts are converted.</summary>
    public DateOnly? ConvertedFrom { get; init; }
    public DateOnly? ConvertedBefore { get; init; }
    public IReadOnlyList<string> Payees { get; init; } = [];
    public IReadOnlyList<string> Codes { get; init; } = [];
    public IReadOnlyList<string> Products { get; init; } = [];
    public IReadOnlyList<string> Processors { get; init; } = [];
    public IReadOnlyList<string> Channels { get; init; } = [];

    public bool NamesSubjects => Payees.Count + Codes.Count + Products.Count + Processors.Count + Channels.Count > 0;
}
