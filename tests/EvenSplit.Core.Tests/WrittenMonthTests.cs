using System.Globalization;

namespace EvenSplit.Core.Tests;

/// <summary>Months and points in time are read as people write them, or not at all.</summary>
public sealed class WrittenMonthTests
{
    private static readonly WrittenDay Days = WrittenDay.In(TimeZoneInfo.FindSystemTimeZoneById("Europe/Dublin"), new DateOnly(2026, 11, 3));

    [Theory]
    [InlineData("Oct 2026", "2026-10")]
    [InlineData(" october 2026 ", "2026-10")]
    [InlineData("2026-10", "2026-10")]
    [InlineData("10/2026", "2026-10")]
    [InlineData("1.2027", "2027-01")]
    [InlineData("2026 Oct", "2026-10")]
    public void A_month_however_it_is_written(string written, string month)
    {
        Assert.Equal(month, WrittenMonth.Read(written)?.ToString());
        Assert.Equal(month, WrittenMonth.Read(WrittenMonth.InWords(WrittenMonth.Read(written)!.Value))?.ToString());
    }

    [Theory]
    [InlineData("")]
    [InlineData("2026")]
    [InlineData("13/2026")]
    [InlineData("Octember 2026")]
    [InlineData("3 Oct 2026")]
    public void What_is_no_month_is_none(string written) => Assert.Null(WrittenMonth.Read(written));

    [Theory]
    [InlineData("3 Nov 2026 14:30", "2026-11-03T14:30:00")]
    [InlineData("3.11.2026 9:05", "2026-11-03T09:05:00")]
    [InlineData("Nov 3, 14:30:05", "2026-11-03T14:30:05")]
    [InlineData("today 0:00", "2026-11-03T00:00:00")]
    [InlineData("3 Nov", "2026-11-03T00:00:00")]
    [InlineData("2026-11-03T14:30", "2026-11-03T14:30:00")]
    public void A_point_in_time_however_it_is_written(string written, string moment)
    {
        var read = WrittenMoment.Read(written, Days);
        Assert.Equal(moment, read?.ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture));
        Assert.Equal(read, WrittenMoment.Read(WrittenMoment.InWords(read!.Value), Days));
    }

    [Theory]
    [InlineData("")]
    [InlineData("14:30")]
    [InlineData("3 Nov 2026 25:00")]
    [InlineData("31 Nov 2026 10:00")]
    [InlineData("soon 10:00")]
    public void What_is_no_point_in_time_is_none(string written) => Assert.Null(WrittenMoment.Read(written, Days));
}
