namespace EvenSplit.Core.Tests;

/// <summary>Dates of the book and the instants at which they begin.</summary>
public sealed class BookTimeTests
{
    [Theory]
    [InlineData("Europe/Dublin")]
    [InlineData("Asia/Kathmandu")]
    [InlineData("Pacific/Kiritimati")]
    // Midnight itself is left out, or comes twice.
    [InlineData("America/Santiago")]
    [InlineData("America/Havana")]
    [InlineData("Africa/Cairo")]
    public void A_date_begins_at_the_first_instant_that_bears_it(string zone)
    {
        var time = BookTime.Of(zone);
        for (var date = new DateOnly(2025, 12, 1); date < new DateOnly(2027, 2, 1); date = date.AddDays(1))
        {
            var start = time.StartOf(date);
            Assert.Equal((date, date.AddDays(-1)), (time.DateOf(start), time.DateOf(start.AddTicks(-1))));
        }
    }
}
