using System.Net;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Web.Tests;

/// <summary>Days are typed as they are written; with what is no day nothing is done, and it stays in its field.</summary>
public sealed class DaysTests : IAsyncLifetime
{
    private const string Page = "/2026-10/pay/set-up";

    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    [Theory]
    [InlineData("25 Dec 2026")]
    [InlineData("25.12.2026")]
    [InlineData("25/12/26")]
    [InlineData("2026-12-25")]
    public async Task However_it_is_written_it_is_the_same_day(string written)
    {
        Assert.Equal(HttpStatusCode.Redirect, (await HolidayAsync(written)).StatusCode);
        Assert.Equal([new DateOnly(2026, 12, 25)], Holidays());
    }

    [Fact]
    public async Task What_is_no_day_is_told_at_its_field_and_stays_in_it()
    {
        var answer = await HolidayAsync("31 Nov 2026");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var html = await answer.Content.ReadAsStringAsync();
        Assert.Contains("31 Nov 2026 is no day. Write the day as 3 Nov 2026", html, StringComparison.Ordinal);
        Assert.Contains("value=\"31 Nov 2026\"", html, StringComparison.Ordinal);
        Assert.Contains("aria-invalid=\"true\"", html, StringComparison.Ordinal);
        Assert.Empty(Holidays());
    }

    [Fact]
    public async Task A_day_is_shown_as_it_is_written()
    {
        var html = await _lead.GetStringAsync("/2026-10/pay/ahead?asOf=2026-10-31");
        Assert.Contains("value=\"31 Oct 2026\"", html, StringComparison.Ordinal);
        Assert.DoesNotContain("type=\"date\"", html, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_field_asks_which_day_was_meant()
    {
        Assert.Equal("2026-11-03", await _lead.GetStringAsync("/2026-10?handler=Day&written=3%20Nov%202026"));
        var unread = await _lead.GetAsync("/2026-10?handler=Day&written=soon");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, unread.StatusCode);
        Assert.Contains("2026-11-03", await unread.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    private Task<HttpResponseMessage> HolidayAsync(string written) => TestSite.PostAsync(_lead, Page + "?handler=Holiday", new() { ["HolidayOn"] = written, ["HolidayName"] = "Midwinter" }, Page);

    private DateOnly[] Holidays() => _site.Do<BookDbContext, DateOnly[]>(db => [.. db.Set<HolidayRecord>().AsNoTracking().Select(h => h.On)]);
}
