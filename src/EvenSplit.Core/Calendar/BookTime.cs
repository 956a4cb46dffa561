namespace EvenSplit.Core;

/// <summary>Takes dates from instants in the book's time zone (contract, section 1).</summary>
public sealed class BookTime(TimeZoneInfo zone)
{
    // Asking the zone is slow beside everything else done with an order, and on nearly every day its offset stays the same.
    private const int FirstKeptDay = 719_162; // 1 January 1970
    private const int KeptDays = 80 * 366;
    private const long NotAsked = long.MinValue;
    private const long Changes = long.MaxValue;

    private readonly long[] _offsetsByDay = Enumerable.Repeat(NotAsked, KeptDays).ToArray();

    public TimeZoneInfo Zone { get; } = zone;

    /// <exception cref="TimeZoneNotFoundException">The id is no IANA time zone known here.</exception>
    public static BookTime Of(string ianaId) => new(TimeZoneInfo.FindSystemTimeZoneById(ianaId));

    public DateOnly DateOf(DateTimeOffset instant)
    {
        var utc = instant.UtcDateTime;
        return DateOnly.FromDateTime(utc + Offset(utc));
    }

    /// <summary>The first instant of a date of the book; UTC. Where midnight is left out or comes twice, the earliest that bears the date.</summary>
    public DateTimeOffset StartOf(DateOnly date)
    {
        var local = date.ToDateTime(TimeOnly.MinValue);
        while (Zone.IsInvalidTime(local)) local = local.AddMinutes(15);
        return new DateTimeOffset(local, Zone.IsAmbiguousTime(local) ? Zone.GetAmbiguousTimeOffsets(local).Max() : Zone.GetUtcOffset(local)).ToUniversalTime();
    }

    private TimeSpan Offset(DateTime utc)
    {
        var day = (int)(utc.Ticks / TimeSpan.TicksPerDay);
        var kept = day - FirstKeptDay;
        if (kept is < 0 or >= KeptDays) return Zone.GetUtcOffset(utc);
        var ticks = _offsetsByDay[kept];
        if (ticks == NotAsked) _offsetsByDay[kept] = ticks = OffsetAllDay(new DateTime(day * TimeSpan.TicksPerDay, DateTimeKind.Utc));
        return ticks == Changes ? Zone.GetUtcOffset(utc) : new TimeSpan(ticks);
    }

    private long OffsetAllDay(DateTime start)
    {
        var offset = Zone.GetUtcOffset(start);
        for (var hour = 1; hour <= 24; hour++)
        {
            if (Zone.GetUtcOffset(start.AddHours(hour)) != offset) return Changes;
        }
        return offset.Ticks;
    }
}
