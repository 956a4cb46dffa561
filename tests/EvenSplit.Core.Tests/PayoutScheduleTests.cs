using CsCheck;

namespace EvenSplit.Core.Tests;

/// <summary>When payees' earnings fall due.</summary>
public sealed class PayoutScheduleTests
{
    private static readonly string[] Texts = ["monthly", "monthly-working", "twice", "weekly-1", "weekly-5", "weekly-7", "every-3-from-2026-01-05", "every-90-from-2026-01-05"];

    private static readonly HashSet<DateOnly> Holidays = [new(2026, 12, 31), new(2026, 12, 30)];

    [Theory]
    [InlineData("monthly", "2026-10-05", "2026-10-31")]
    [InlineData("monthly", "2026-10-31", "2026-10-31")]
    [InlineData("monthly", "2028-02-10", "2028-02-29")]
    // The last of October 2026 is a Saturday.
    [InlineData("monthly-working", "2026-10-05", "2026-10-30")]
    [InlineData("monthly-working", "2026-10-31", "2026-11-30")]
    // Two holidays stand before the year's end.
    [InlineData("monthly-working", "2026-12-01", "2026-12-29")]
    [InlineData("monthly-working", "2026-12-30", "2027-01-29")]
    [InlineData("twice", "2026-10-15", "2026-10-15")]
    [InlineData("twice", "2026-10-16", "2026-10-31")]
    [InlineData("weekly-5", "2026-10-31", "2026-11-06")]
    [InlineData("weekly-7", "2026-10-31", "2026-11-01")]
    [InlineData("every-10-from-2026-01-05", "2026-01-06", "2026-01-15")]
    [InlineData("every-10-from-2026-01-05", "2025-06-01", "2026-01-05")]
    public void The_next_date_is_the_first_on_or_after(string schedule, string from, string due)
    {
        Assert.True(PayoutSchedule.TryParse(schedule, out var parsed));
        Assert.Equal(DateOnly.Parse(due), parsed.DueOnOrAfter(DateOnly.Parse(from), Holidays));
        Assert.Equal(schedule, parsed.ToString());
    }

    [Fact]
    public void On_request_nothing_falls_due()
    {
        Assert.True(PayoutSchedule.TryParse("request", out var request));
        Assert.Null(request.DueOnOrAfter(new DateOnly(2026, 10, 1), Holidays));
        Assert.Null(request.DueOnOrBefore(new DateOnly(2026, 10, 1), Holidays));
    }

    [Theory]
    [InlineData("weekly-0")]
    [InlineData("weekly-8")]
    [InlineData("every-0-from-2026-01-05")]
    [InlineData("every-10-from-yesterday")]
    [InlineData("sometimes")]
    public void What_is_no_schedule_is_refused(string text) => Assert.False(PayoutSchedule.TryParse(text, out _));

    [Fact]
    public void The_latest_date_and_the_next_leave_no_date_between() => Gen.Select(
        Gen.Int[0, Texts.Length - 1].Select(i => Texts[i]), Gen.Int[200, 2000]).Sample((text, days) =>
    {
        PayoutSchedule.TryParse(text, out var schedule);
        var date = new DateOnly(2026, 1, 1).AddDays(days);
        var before = schedule.DueOnOrBefore(date, Holidays);
        var after = schedule.DueOnOrAfter(date.AddDays(1), Holidays);
        Assert.NotNull(before);
        Assert.True(before <= date && after > date);
        Assert.Equal(before, schedule.DueOnOrAfter(before.Value, Holidays));
        Assert.Equal(after, schedule.DueOnOrAfter(before.Value.AddDays(1), Holidays));
    });
}
