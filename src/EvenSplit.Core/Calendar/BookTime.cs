namespace EvenSplit.Core;

/// <summary>Takes dates from instants in the book's time zone (contract, section 1).</summary>
public sealed class BookTime(TimeZoneInfo zone)
{
    public TimeZoneInfo Zone { get; } = zone;

    /// <exception cref="TimeZoneNotFoundException">The id is no IANA time zone known here.</exception>
    public static BookTime Of(string ianaId) => new(TimeZoneInfo.FindSystemTimeZoneById(ianaId));

    public DateOnly DateOf(DateTimeOffset instant) =>
        DateOnly.FromDateTime(instant.UtcDateTime + Zone.GetUtcOffset(instant));
}
