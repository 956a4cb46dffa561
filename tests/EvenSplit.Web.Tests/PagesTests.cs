using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

/// <summary>What pages show and take, over one small book.</summary>
public sealed partial class PagesTests : IAsyncLifetime
{
    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
        await PostAsync("/2025-10/terms/products", ("Draft.Id", "mug"), ("Draft.Name", "A mug"), ("Draft.Price", "10.00"));
        await PostAsync("/2025-10/people/new", ("Draft.Name", "Pia <Potter>"), ("Draft.Role", "Collaborator"), ("Draft.PayoutCurrency", "EUR"), ("Draft.ActiveFrom", "2025-01-01"));
        await PostAsync("/2025-10/terms/new", ("Draft.Name", "Mugs"), ("Draft.Basis", "Contribution"), ("Draft.Currency", "EUR"), ("Draft.From", "2025-01-01"), ("Draft.Terms[0].Cases[0].Percent", "30"));
        await PostAsync("/2025-10/terms/mugs?handler=On", "/2025-10/terms/mugs", ("Payee", "pia-potter"), ("From", "2025-01-01"));
        Import(ImportKind.Orders, "order_id,channel,placed_at,paid_at,currency,line_id,product,quantity,unit_price\nA/1,shop,2025-10-03T12:00:00Z,2025-10-03T12:00:00Z,EUR,1,mug,3,10.00\n");
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    private Task<HttpResponseMessage> PostAsync(string path, params (string Name, string Value)[] fields) => PostAsync(path, path, fields);

    private Task<HttpResponseMessage> PostAsync(string path, string formOn, params (string Name, string Value)[] fields) =>
        TestSite.PostAsync(_lead, path, fields.ToDictionary(f => f.Name, f => f.Value), formOn);

    private async Task<string> GetAsync(string path) => WebUtility.HtmlDecode(await _lead.GetStringAsync(path));

    private void Import(ImportKind kind, string csv)
    {
        using var scope = _site.Services.CreateScope();
        var files = scope.ServiceProvider.GetRequiredService<ImportFiles>();
        var id = files.QueueAsync(kind, "file.csv", new MemoryStream(Encoding.UTF8.GetBytes(csv)), "Lena").GetAwaiter().GetResult();
        // The application's own worker takes it, as it does for anybody.
        Eventually.Is(() => files.Find(id)!.State is not (ImportState.Waiting or ImportState.Running), "The import was not taken up.");
        Assert.Equal((ImportState.Done, 0L), (files.Find(id)!.State, files.Find(id)!.Quarantined));
    }

    [Fact]
    public async Task An_order_with_any_id_opens_and_names_are_shown_as_text()
    {
        var html = await _lead.GetStringAsync("/2025-10/sales/A%2F1");
        Assert.Contains("Pia &lt;Potter&gt;", html, StringComparison.Ordinal);
        Assert.DoesNotContain("<Potter>", html, StringComparison.Ordinal);
        Assert.Contains("30 % of the share base", WebUtility.HtmlDecode(await _lead.GetStringAsync("/2025-10/sales/A%2F1?entry=1")), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_trace_of_an_entry_opens_on_the_page_of_its_payee()
    {
        var html = await GetAsync("/2025-10/people/pia-potter?entry=1");
        Assert.Contains("30 % of €30.00 is €9.00.", html, StringComparison.Ordinal);
        Assert.Contains("/2025-10/sales/A%2F1?entry=1#trace", html, StringComparison.Ordinal);
        Assert.DoesNotContain("30 % of €30.00", await GetAsync("/2025-10/people/pia-potter?entry=99"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_corrected_fee_that_cannot_be_read_stays_in_the_form_and_changes_nothing()
    {
        var refused = await PostAsync("/2025-10/sales/A%2F1?handler=Fees", "/2025-10/sales/A%2F1", ("ProcessingFee", "a lot"));
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        var html = await refused.Content.ReadAsStringAsync();
        Assert.Contains("value=\"a lot\"", html, StringComparison.Ordinal);
        Assert.Contains("an amount with a decimal point", WebUtility.HtmlDecode(html), StringComparison.Ordinal);
        var shown = await (await PostAsync("/2025-10/sales/A%2F1?handler=Fees", "/2025-10/sales/A%2F1", ("ProcessingFee", "2.00"))).Content.ReadAsStringAsync();
        Assert.Contains("What this would post", shown, StringComparison.Ordinal);
        Assert.DoesNotContain("value=\"2.00\"", await GetAsync("/2025-10/sales/A%2F1"), StringComparison.Ordinal);
        var seen = Seen().Match(shown).Groups[1].Value;
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync("/2025-10/sales/A%2F1?handler=Fees", "/2025-10/sales/A%2F1", ("ProcessingFee", "2.00"), ("seen.difference", seen))).StatusCode);
        Assert.Contains("value=\"2.00\"", await GetAsync("/2025-10/sales/A%2F1"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_desk_sums_the_month_and_its_ribbons_lead_to_what_they_sum()
    {
        var html = await GetAsync("/2025-10");
        Assert.Contains("October 2025, 1 order, €30.00 charged", Tag().Replace(html, ""), StringComparison.Ordinal);
        Assert.Contains("href=\"/2025-10/sales?kind=paid\"", html, StringComparison.Ordinal);
        // The foot of that list has the ribbon's own figures.
        var list = await GetAsync("/2025-10/sales?kind=paid");
        foreach (var measure in new[] { "charged", "tax", "collaborators", "house" })
        {
            string Figure(string page) => Tag().Replace(Regex.Match(page, $"data-measure=\"{measure}\" data-of=\"2025-10 EUR\">(.*?)</(td|span|g)>").Groups[1].Value, "").Replace("€", "", StringComparison.Ordinal);
            Assert.Equal((measure, Figure(list)), (measure, Figure(html) is "" ? "–" : Figure(html)));
        }
        Assert.Contains("Pia", await GetAsync("/2025-10/books?role=collaborator&kind=earnings"), StringComparison.Ordinal);
        Assert.DoesNotContain("Pia", await GetAsync("/2025-10/books?role=vendor"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Entries_are_taken_away_as_a_file()
    {
        var file = await _lead.GetAsync("/2025-10/books?handler=Csv");
        Assert.Equal("text/csv", file.Content.Headers.ContentType!.MediaType);
        Assert.Equal(
            "posted_on,order_id,product,payee,agreement,part,kind,clears_on,run,amount,currency\r\n2025-10-03,A/1,A mug,pia-potter,Mugs,percent,earning,2025-10-03,,9.00,EUR\r\n",
            await file.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task The_preview_works_out_what_is_being_typed_and_keeps_nothing()
    {
        var answer = await PostAsync("/2025-10/terms/new?handler=Preview", "/2025-10/terms/new",
            ("Draft.Name", "Half"), ("Draft.Basis", "Contribution"), ("Draft.Currency", "EUR"), ("Draft.Terms[0].Cases[0].Percent", "50"), ("Choice.Order", "A/1"));
        var html = WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
        Assert.Contains("50 % of €30.00 is €15.00.", html, StringComparison.Ordinal);
        Assert.DoesNotContain("Half", await GetAsync("/2025-10/terms"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_run_goes_through_its_steps_and_two_people()
    {
        var gathered = await PostAsync("/2025-10/pay", ("AsOf", "2025-10-31"));
        var run = gathered.Headers.Location!.ToString();
        Assert.Contains("9.00", await GetAsync(run), StringComparison.Ordinal);
        await PostAsync(run + "?handler=Lock", run);
        Assert.Equal(HttpStatusCode.Conflict, (await PostAsync(run + "?handler=Approve", run)).StatusCode);
        var approver = await _site.SignedInAsync("approver");
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(approver, run + "?handler=Look", [], run)).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(approver, run + "?handler=Approve", new() { ["sums"] = "EUR:1:901" }, run)).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(approver, run + "?handler=Approve", new() { ["sums"] = "EUR:1:900" }, run)).StatusCode);
        Assert.Contains("approved by Aron", await GetAsync(run), StringComparison.Ordinal);
        var refused = await PostAsync(run + "?handler=Paid", run, ("Marked", "1"), ("PaidOn", "2025-11-03"), ("Reference", ""));
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        Assert.Matches("name=\"Marked\" value=\"1\" checked", await refused.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync(run + "?handler=Paid", run, ("Marked", "1"), ("PaidOn", "2025-11-03"), ("Reference", "T-1"))).StatusCode);
        var statement = await GetAsync($"{run}/statement/pia-potter");
        Assert.Contains("€9.00 paid on 3 Nov 2025, reference T-1.", statement, StringComparison.Ordinal);
        var list = await GetAsync("/2025-10/pay");
        Assert.Contains("<th class=\"n\">Payments in EUR</th>", list, StringComparison.Ordinal);
        Assert.Contains("€9.00", list, StringComparison.Ordinal);
        Assert.DoesNotContain("Payments in GBP", list, StringComparison.Ordinal);
        var csv = await _lead.GetStringAsync($"{run}/statement/pia-potter?handler=Csv");
        Assert.EndsWith("paid,2025-10-31,,,,,9.00,EUR\r\n", csv, StringComparison.Ordinal);
        Assert.Equal("%PDF-", System.Text.Encoding.ASCII.GetString(await _lead.GetByteArrayAsync($"{run}/statement/pia-potter?handler=Pdf"), 0, 5));
    }

    [Fact]
    public async Task Two_refunds_later_the_next_run_starts_below_nothing()
    {
        var run = (await PostAsync("/2025-10/pay", ("AsOf", "2025-10-31"))).Headers.Location!.ToString();
        await PostAsync(run + "?handler=Lock", run);
        Import(ImportKind.Refunds, "refund_id,order_id,at,kind,line_id,quantity,goods,tax\nR1,A/1,2025-11-02T12:00:00Z,refund,1,1,10.00,0\nR2,A/1,2025-11-03T12:00:00Z,cancel,,,,\n");
        var next = (await PostAsync("/2025-11/pay", ("AsOf", "2025-11-30"))).Headers.Location!.ToString();
        var html = await GetAsync(next);
        Assert.Contains("−9.00", html, StringComparison.Ordinal);
        Assert.Contains("below nothing", html, StringComparison.Ordinal);
        await PostAsync(next + "?handler=Lock", next);
        Assert.Contains("Somebody other than Lena compares the control sums and approves.", await GetAsync(next), StringComparison.Ordinal);
        Assert.Contains("Nothing is paid this time: below nothing. It is carried to the next run.", await GetAsync($"{next}/statement/pia-potter"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_real_book_has_no_clock_to_move()
    {
        var answer = await PostAsync("/clock", "/2025-10");
        Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
    }

    [GeneratedRegex("<[^>]+>")]
    private static partial Regex Tag();

    [GeneratedRegex("name=\"seen.difference\" value=\"([^\"]*)\"")]
    private static partial Regex Seen();
}
