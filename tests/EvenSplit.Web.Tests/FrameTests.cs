using System.Net;
using System.Net.Http.Json;
using System.Text.RegularExpressions;
using EvenSplit.Formats.Csv;
using EvenSplit.Web.Frame;

namespace EvenSplit.Web.Tests;

/// <summary>The frame: where pages stand, what they say they are for, the guide, and tables taken away.</summary>
public sealed partial class FrameTests : IAsyncLifetime
{
    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    public static TheoryData<string> Paths => [.. PlaceMap.Places.Append(PlaceMap.SetUp).SelectMany(p => p.Pages).Select(p => p.Path)];

    [Theory]
    [MemberData(nameof(Paths))]
    public async Task Every_page_of_the_frame_opens_is_marked_on_its_line_and_says_what_it_is_for(string path)
    {
        var html = await _lead.GetStringAsync($"/2025-10{(path.Length > 0 ? "/" + path : "")}");
        var (place, page) = PlaceMap.Of(path)!.Value;
        Assert.Equal(path, page.Path);
        Assert.Contains($"<nav class=\"places\" aria-label=\"{place.Word}\">", html, StringComparison.Ordinal);
        Assert.Matches($"aria-current=\"page\">{Regex.Escape(page.Word)}", html);
        Assert.NotNull(Guide.Help(page));
        Assert.Contains("<dialog id=\"keys\"", html, StringComparison.Ordinal);
    }

    [Fact]
    public void Places_have_seven_words_at_most_and_no_page_stands_twice()
    {
        Assert.Equal(["Desk", "Sales", "Terms", "People", "Pay", "Books"], PlaceMap.Places.Select(p => p.Word));
        Assert.All(PlaceMap.Places.Append(PlaceMap.SetUp), p => Assert.InRange(p.Pages.Count, 1, 7));
        var paths = PlaceMap.Places.Append(PlaceMap.SetUp).SelectMany(p => p.Pages).Select(p => p.Path).ToArray();
        Assert.Equal(paths.Length, paths.Distinct().Count());
    }

    [Theory]
    [InlineData("sales/H-1", "sales")]
    [InlineData("sales/imports/5/columns", "sales/import")]
    [InlineData("pay/12/statement/anna", "pay")]
    [InlineData("terms/products/guide", "terms/products")]
    [InlineData("people/anna/edit", "people")]
    public void A_thing_stands_on_the_page_it_was_opened_from(string path, string page) => Assert.Equal(page, PlaceMap.Of(path)!.Value.Page.Path);

    [Fact]
    public async Task The_guide_has_every_chapter_and_is_searched_by_words()
    {
        foreach (var (name, title) in Guide.Chapters)
        {
            Assert.Contains(title, WebUtility.HtmlDecode(await _lead.GetStringAsync($"/2025-10/guide/{name}")), StringComparison.Ordinal);
        }
        var found = WebUtility.HtmlDecode(await _lead.GetStringAsync("/2025-10/guide?find=decimal+comma"));
        Assert.Contains("Sales: Files", found, StringComparison.Ordinal);
        Assert.Contains("nothing with these words", await _lead.GetStringAsync("/2025-10/guide?find=xyzzy"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await _lead.GetAsync("/2025-10/guide/nothing")).StatusCode);
    }

    private async Task<HttpResponseMessage> TableAsync(HttpClient by, object table)
    {
        var token = Token().Match(await by.GetStringAsync("/2025-10")).Groups[1].Value;
        using var request = new HttpRequestMessage(HttpMethod.Post, "/table.xlsx") { Content = JsonContent.Create(table) };
        request.Headers.Add("RequestVerificationToken", token);
        return await by.SendAsync(request);
    }

    [Fact]
    public async Task A_table_is_taken_away_as_a_workbook_with_numbers_and_days()
    {
        var bookkeeper = await _site.SignedInAsync("bookkeeper");
        var answer = await TableAsync(bookkeeper, new { name = "Payees", heads = new[] { "Payee", "On", "Held", "Held" }, kinds = new[] { "t", "d", "n", "n" }, rows = new[] { new[] { "=1+1", "2026-10-31", "-12.50", "" } } });
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        using var records = new CsvRecords(new MemoryStream(await answer.Content.ReadAsByteArrayAsync()));
        var head = records.Head(5);
        Assert.Equal(["Payee", "On", "Held", "Held (2)"], head.Header);
        // Text stays text: nothing of it is run.
        Assert.Equal(["=1+1", "2026-10-31", "-12.5", ""], Assert.Single(head.Rows));
    }

    [Fact]
    public async Task An_example_of_a_shops_file_can_be_taken_and_nothing_else()
    {
        Assert.StartsWith("Order no;", await _lead.GetStringAsync("/2025-10/sales/import?handler=Example&file=a-shops-orders"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await _lead.GetAsync("/2025-10/sales/import?handler=Example&file=../appsettings")).StatusCode);
    }

    [Fact]
    public async Task What_is_no_table_is_refused_and_nobody_takes_one_without_signing_in()
    {
        Assert.Equal(HttpStatusCode.BadRequest, (await TableAsync(_lead, new { name = "x", heads = new[] { "A" }, kinds = Array.Empty<string>(), rows = Array.Empty<string[]>() })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await _lead.PostAsJsonAsync("/table.xlsx", new { name = "x" })).StatusCode);
        Assert.NotEqual(HttpStatusCode.OK, (await _site.Visitor().PostAsJsonAsync("/table.xlsx", new { name = "x" })).StatusCode);
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
