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
    public async Task Months_are_typed_as_they_are_written_and_what_is_none_stays_in_its_field()
    {
        var html = await _lead.GetStringAsync("/2026-10/terms/rewards?since=8.2026&until=Oct%202026");
        Assert.Contains("value=\"Aug 2026\"", html, StringComparison.Ordinal);
        Assert.Contains("since=2026-08&amp;until=2026-10", html, StringComparison.Ordinal);
        var wrong = await _lead.GetAsync("/2026-10/books/proof?handler=Audit&from=Octember&to=2026-10");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
        var told = await wrong.Content.ReadAsStringAsync();
        Assert.Contains("Give the first month. Write the month as Oct 2026", told, StringComparison.Ordinal);
        Assert.Contains("value=\"Octember\"", told, StringComparison.Ordinal);
        foreach (var page in new[] { "people/contacts", "terms/rewards", "books/proof", "sales/by-hand" })
        {
            var fields = await _lead.GetStringAsync($"/2026-10/{page}");
            Assert.DoesNotContain("type=\"month\"", fields, StringComparison.Ordinal);
            Assert.DoesNotContain("type=\"datetime-local\"", fields, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task An_order_by_hand_takes_a_time_as_it_is_written()
    {
        var form = new Dictionary<string, string> { ["Kind"] = "Order", ["Cells[order_id]"] = "H1", ["Cells[placed_at]"] = "31 Nov 2026 10:00", ["Cells[currency]"] = "EUR", ["Cells[channel]"] = "web", ["Lines[0][product]"] = "guide", ["Lines[0][quantity]"] = "1", ["Lines[0][unit_price]"] = "24.00" };
        var wrong = await TestSite.PostAsync(_lead, "/2026-10/sales/by-hand", form, formOn: "/2026-10/sales/by-hand");
        var html = await wrong.Content.ReadAsStringAsync();
        Assert.Contains("value=\"31 Nov 2026 10:00\"", html, StringComparison.Ordinal);
        Assert.Contains("aria-invalid=\"true\"", html, StringComparison.Ordinal);
        form["Cells[placed_at]"] = "2.10.2026 9:30";
        var next = await (await TestSite.PostAsync(_lead, "/2026-10/sales/by-hand", form, formOn: "/2026-10/sales/by-hand")).Content.ReadAsStringAsync();
        Assert.DoesNotContain("value=\"2.10.2026 9:30\"", next, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_field_asks_which_day_was_meant()
    {
        foreach (var (written, kind, words) in new[] { ("3.11.2026", "day", "3 Nov 2026"), ("10/2026", "month", "Oct 2026"), ("3.11.2026 9:05", "moment", "3 Nov 2026 09:05") })
        {
            Assert.Equal(words, await _lead.GetStringAsync($"/2026-10?handler=Day&written={Uri.EscapeDataString(written)}&kind={kind}"));
        }
        var unread = await _lead.GetAsync("/2026-10?handler=Day&written=soon");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, unread.StatusCode);
        Assert.Contains("2026-11-03", await unread.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    private Task<HttpResponseMessage> HolidayAsync(string written) => TestSite.PostAsync(_lead, Page + "?handler=Holiday", new() { ["HolidayOn"] = written, ["HolidayName"] = "Midwinter" }, Page);

    private DateOnly[] Holidays() => _site.Do<BookDbContext, DateOnly[]>(db => [.. db.Set<HolidayRecord>().AsNoTracking().Select(h => h.On)]);
}
