using System.Globalization;

namespace EvenSplit.Core.Tests;

/// <summary>A day is read as people write it, or not at all.</summary>
public sealed class WrittenDayTests
{
    private static readonly DateOnly Today = new(2026, 11, 3);

    private static readonly WrittenDay Dublin = WrittenDay.In(TimeZoneInfo.FindSystemTimeZoneById("Europe/Dublin"), Today), Chicago = WrittenDay.In(TimeZoneInfo.FindSystemTimeZoneById("America/Chicago"), Today);

    [Theory]
    [InlineData("2026-11-03", "2026-11-03")]
    [InlineData("20261103", "2026-11-03")]
    [InlineData(" 3 Nov 2026 ", "2026-11-03")]
    [InlineData("3 november 2026", "2026-11-03")]
    [InlineData("3. Nov 2026", "2026-11-03")]
    [InlineData("Nov 3, 2026", "2026-11-03")]
    [InlineData("3.11.2026", "2026-11-03")]
    [InlineData("3/11/26", "2026-11-03")]
    [InlineData("3-11-2026", "2026-11-03")]
    [InlineData("3.11.", "2026-11-03")]
    [InlineData("3/11", "2026-11-03")]
    [InlineData("3 Nov", "2026-11-03")]
    [InlineData("Nov 3", "2026-11-03")]
    [InlineData("11/25", "2026-11-25")]
    [InlineData("today", "2026-11-03")]
    [InlineData("Yesterday", "2026-11-02")]
    [InlineData("tomorrow", "2026-11-04")]
    [InlineData("29 Feb", "2028-02-29")]
    [InlineData("29.2.2028", "2028-02-29")]
    public void What_people_write_is_that_day(string written, string day) => Assert.Equal(DateOnly.Parse(day, CultureInfo.InvariantCulture), Dublin.Read(written));

    [Theory]
    [InlineData("31 Dec", "2026-12-31")]
    [InlineData("1 Jan", "2027-01-01")]
    [InlineData("1 May", "2027-05-01")]
    [InlineData("6 May", "2026-05-06")]
    [InlineData("3 May", "2027-05-03", "2026-11-30")]
    public void Without_a_year_it_is_the_nearest(string written, string day, string today = "2026-11-03") =>
        Assert.Equal(DateOnly.Parse(day, CultureInfo.InvariantCulture), new WrittenDay(DateOnly.Parse(today, CultureInfo.InvariantCulture), false).Read(written));

    [Theory]
    [InlineData("3/11", "2027-03-11")]
    [InlineData("3/11/2026", "2026-03-11")]
    [InlineData("25/11", "2026-11-25")]
    [InlineData("3 Nov", "2026-11-03")]
    public void Figures_are_read_as_where_the_book_is(string written, string day) => Assert.Equal(DateOnly.Parse(day, CultureInfo.InvariantCulture), Chicago.Read(written));

    [Theory]
    [InlineData("")]
    [InlineData("soon")]
    [InlineData("3")]
    [InlineData("31 Nov 2026")]
    [InlineData("31.11.")]
    [InlineData("29 Feb 2026")]
    [InlineData("3 Nov 2026 12:00")]
    [InlineData("13/13/2026")]
    [InlineData("2026")]
    [InlineData("3 Brumaire 2026")]
    public void Nothing_else_is(string written) => Assert.Null(Dublin.Read(written));

    [Fact]
    public void Every_day_is_read_back_as_it_is_shown()
    {
        for (var day = Today.AddYears(-2); day < Today.AddYears(2); day = day.AddDays(1)) Assert.Equal(day, Chicago.Read(day.InWords()));
    }
}
