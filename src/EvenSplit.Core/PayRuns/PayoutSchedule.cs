using System.Globalization;

namespace EvenSplit.Core;

public enum ScheduleKind { MonthEnd, LastWorkingDay, TwiceAMonth, Weekly, EveryDays, OnRequest }

/// <summary>When a payee's earnings fall due: the as-of dates of the runs that serve them, in the book's zone.</summary>
/// <param name="Weekday">For weekly.</param>
/// <param name="Days">For every n days, counted from <paramref name="From"/>.</param>
public sealed record PayoutSchedule(ScheduleKind Kind, DayOfWeek Weekday = DayOfWeek.Friday, int Days = 0, DateOnly From = default)
{
    public const int MostDays = 366;

    /// <summary>Months end, and a run is due as of their last day: what holds where nothing else was agreed.</summary>
    public static PayoutSchedule Usual { get; } = new(ScheduleKind.MonthEnd);

    /// <summary>The first date on or after another; null where a run is made only on request.</summary>
    /// <param name="holidays">Days on which nobody works, beside Saturdays and Sundays.</param>
    public DateOnly? DueOnOrAfter(DateOnly date, IReadOnlySet<DateOnly> holidays) => Kind switch
    {
        ScheduleKind.OnRequest => null,
        ScheduleKind.MonthEnd => LastOf(date),
        ScheduleKind.LastWorkingDay => LastWorkingDay(date, holidays) is var last && last >= date ? last : LastWorkingDay(LastOf(date).AddDays(1), holidays),
        ScheduleKind.TwiceAMonth => date.Day <= 15 ? new DateOnly(date.Year, date.Month, 15) : LastOf(date),
        ScheduleKind.Weekly => date.AddDays((7 + (int)Weekday - (int)date.DayOfWeek) % 7),
        _ => date <= From ? From : From.AddDays((date.DayNumber - From.DayNumber + Days - 1) / Days * Days),
    };

    /// <summary>The latest date on or before another; null where there is none.</summary>
    public DateOnly? DueOnOrBefore(DateOnly date, IReadOnlySet<DateOnly> holidays)
    {
        if (Kind == ScheduleKind.OnRequest || (Kind == ScheduleKind.EveryDays && date < From)) return null;
        // No schedule leaves more than its own days, or two months, between two dates.
        DateOnly? latest = null;
        for (var next = DueOnOrAfter(date.AddDays(-Math.Max(62, Days)), holidays); next <= date; next = DueOnOrAfter(next.Value.AddDays(1), holidays)) latest = next;
        return latest;
    }

    /// <summary>As it stands in payees.csv: monthly, monthly-working, twice, weekly-5, every-10-from-2026-01-05, request.</summary>
    public override string ToString() => Kind switch
    {
        ScheduleKind.MonthEnd => "monthly",
        ScheduleKind.LastWorkingDay => "monthly-working",
        ScheduleKind.TwiceAMonth => "twice",
        ScheduleKind.Weekly => $"weekly-{(Weekday == DayOfWeek.Sunday ? 7 : (int)Weekday)}",
        ScheduleKind.EveryDays => string.Create(CultureInfo.InvariantCulture, $"every-{Days}-from-{From:yyyy-MM-dd}"),
        _ => "request",
    };

    public static bool TryParse(string text, out PayoutSchedule schedule)
    {
        schedule = Usual;
        switch (text.Split('-', 4))
        {
            case ["monthly"] or [""]: return true;
            case ["monthly", "working"]:
                schedule = new PayoutSchedule(ScheduleKind.LastWorkingDay);
                return true;
            case ["twice"]:
                schedule = new PayoutSchedule(ScheduleKind.TwiceAMonth);
                return true;
            case ["request"]:
                schedule = new PayoutSchedule(ScheduleKind.OnRequest);
                return true;
            case ["weekly", [>= '1' and <= '7'] day]:
                schedule = new PayoutSchedule(ScheduleKind.Weekly, (DayOfWeek)((day[0] - '0') % 7));
                return true;
            case ["every", var days, "from", var from] when int.TryParse(days, NumberStyles.None, CultureInfo.InvariantCulture, out var n) && n is > 0 and <= MostDays
                && DateOnly.TryParseExact(from, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date):
                schedule = new PayoutSchedule(ScheduleKind.EveryDays, Days: n, From: date);
                return true;
            default: return false;
        }
    }

    public string InWords() => Kind switch
    {
        ScheduleKind.MonthEnd => "monthly, as of the last day",
        ScheduleKind.LastWorkingDay => "monthly, as of the last working day",
        ScheduleKind.TwiceAMonth => "twice a month, as of the 15th and the last day",
        ScheduleKind.Weekly => $"every {Weekday}",
        ScheduleKind.EveryDays => $"every {MoneyWords.Count(Days, "day")}, from {From.InWords()}",
        _ => "on request",
    };

    private static DateOnly LastOf(DateOnly date) => new(date.Year, date.Month, DateTime.DaysInMonth(date.Year, date.Month));

    private static DateOnly LastWorkingDay(DateOnly inMonth, IReadOnlySet<DateOnly> holidays)
    {
        var day = LastOf(inMonth);
        while (day.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday || holidays.Contains(day)) day = day.AddDays(-1);
        return day;
    }
}
