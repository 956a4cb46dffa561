using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Web.Tests;

/// <summary>Twice is once, nobody's change is lost, and what changes money already earned is seen before it is posted.</summary>
public sealed partial class FormLawTests : IAsyncLifetime
{
    private const string Month = "/2026-10";

    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    [Fact]
    public async Task A_form_that_was_sent_does_nothing_more_however_it_is_sent_again()
    {
        var sent = await FormAsync($"{Month}/people/new");
        foreach (var (name, value) in Payee("Anna")) sent[name] = value;
        // Enter twice: both at one moment.
        var both = await Task.WhenAll(SendAsync($"{Month}/people/new", sent), SendAsync($"{Month}/people/new", sent));
        Assert.All(both, answer => Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode));
        Assert.Single(both.Select(a => a.Headers.Location!.ToString()).Distinct());
        // Back, and sent again.
        var again = await SendAsync($"{Month}/people/new", sent);
        Assert.Equal(both[0].Headers.Location, again.Headers.Location);
        Assert.Contains("it was not done again", await _lead.GetStringAsync(again.Headers.Location), StringComparison.Ordinal);
        Assert.Equal(1, _site.Do<BookDbContext, int>(db => db.Payees.Count()));
    }

    [Fact]
    public async Task A_script_that_asks_meanwhile_does_not_take_the_words_that_a_form_is_done()
    {
        var form = await FormAsync($"{Month}/people/new");
        foreach (var (name, value) in Payee("Anna")) form[name] = value;
        var done = await SendAsync($"{Month}/people/new", form);
        using var byScript = new HttpRequestMessage(HttpMethod.Get, $"{Month}/people") { Headers = { { "Accept", "*/*" } } };
        var meanwhile = await _lead.SendAsync(byScript, TestContext.Current.CancellationToken);
        Assert.Equal(HttpStatusCode.OK, meanwhile.StatusCode);
        Assert.DoesNotContain(meanwhile.Headers.TryGetValues("Set-Cookie", out var cookies) ? cookies : [], c => c.StartsWith("evensplit-told", StringComparison.Ordinal));
        Assert.Contains("Anna is saved.", await _lead.GetStringAsync(done.Headers.Location), StringComparison.Ordinal);
        Assert.DoesNotContain("Anna is saved.", await _lead.GetStringAsync(done.Headers.Location), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_was_refused_may_be_corrected_and_sent()
    {
        var form = await FormAsync($"{Month}/people/new");
        foreach (var (name, value) in Payee("Anna")) form[name] = value;
        form["Draft.Minimum"] = "12.345";
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await SendAsync($"{Month}/people/new", form)).StatusCode);
        form["Draft.Minimum"] = "12.34";
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync($"{Month}/people/new", form)).StatusCode);
    }

    [Fact]
    public async Task Every_form_that_posts_carries_a_token_of_its_own()
    {
        await EarnedAsync();
        foreach (var page in new[] { "", "/sales", "/people", "/people/anna", "/people/anna/edit", "/pay", "/pay/set-up", "/pay/adjustments", "/pay/owed", "/pay/results", "/terms", "/terms/products", "/terms/products/guide", "/terms/targets", "/terms/rewards", "/sales/A", "/sales/fees", "/sales/by-hand", "/users", "/books/safety" })
        {
            var html = await _lead.GetStringAsync(Month + page);
            var forms = Form().Matches(html).Select(m => m.Value).ToArray();
            Assert.True(forms.Length > 0, page);
            Assert.All(forms, form => Assert.Contains("name=\"once\"", form, StringComparison.Ordinal));
            var tokens = forms.Select(f => Once().Match(f).Groups[1].Value).ToArray();
            Assert.Equal(tokens.Length, tokens.Distinct().Count());
        }
    }

    [Fact]
    public async Task Two_who_change_one_payee_do_not_overwrite_each_other()
    {
        await EarnedAsync();
        var (mine, theirs) = (await FormAsync($"{Month}/people/anna/edit"), await FormAsync($"{Month}/people/anna/edit"));
        theirs["Draft.Email"] = "anna@example.com";
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync($"{Month}/people/anna/edit", theirs)).StatusCode);
        mine["Draft.Name"] = "Anna the Second";
        var answer = await SendAsync($"{Month}/people/anna/edit", mine);
        var page = WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
        Assert.Contains("Email: from nothing to anna@example.com", page, StringComparison.Ordinal);
        Assert.Contains("value=\"Anna the Second\"", page, StringComparison.Ordinal);
        Assert.Equal("Anna", _site.Do<BookDbContext, string>(db => db.Payees.Single(p => p.Id == "anna").Name));
        // Taken over by choice, and sent again.
        var merged = Inputs(page, mine);
        merged["Draft.Email"] = "anna@example.com";
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync($"{Month}/people/anna/edit", merged)).StatusCode);
        Assert.Equal(("Anna the Second", "anna@example.com"), _site.Do<BookDbContext, (string, string?)>(db => db.Payees.AsNoTracking().Single(p => p.Id == "anna") is var p ? (p.Name, p.Email) : default));
    }

    [Fact]
    public async Task Taking_a_code_away_shows_what_it_takes_back_before_it_does()
    {
        await EarnedAsync();
        var entries = Entries();
        Assert.Equal(240, entries.Sum(e => e.Amount));
        var form = await FormAsync($"{Month}/people/anna/edit");
        form["Draft.Codes"] = "";
        var shown = await SendAsync($"{Month}/people/anna/edit", form);
        var page = WebUtility.HtmlDecode(await shown.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.OK, shown.StatusCode);
        Assert.Contains("What this would post", page, StringComparison.Ordinal);
        Assert.Contains("−2.40", page, StringComparison.Ordinal);
        Assert.Contains("2.40</td>", page, StringComparison.Ordinal);
        // Nothing is posted and nothing changed.
        Assert.Equal(entries.Length, Entries().Length);
        Assert.Equal(1, _site.Do<BookDbContext, int>(db => db.PayeeCodes.Count()));
        var agreed = Hidden(page);
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync($"{Month}/people/anna/edit", agreed)).StatusCode);
        var after = Entries();
        Assert.Equal(0, after.Sum(e => e.Amount));
        Assert.Equal(0, _site.Do<BookDbContext, int>(db => db.PayeeCodes.Count()));
        // Posted says why, on the ledger too.
        var cause = _site.Do<BookDbContext, PostingCauseRecord>(db => db.PostingCauses.Single());
        Assert.Equal((after[^1].Id, "Lena"), (cause.LastEntry, cause.By));
        Assert.Contains("corrected", await _lead.GetStringAsync($"/{EvenSplit.Core.Period.Of(after[^1].PostedOn)}/books"), StringComparison.Ordinal);
        Assert.Equal(0, _site.Do<EvenSplit.Books.Checking.BookCheck, long>(c => c.Run().Differences));
    }

    [Fact]
    public async Task What_reaches_too_many_orders_to_wait_for_is_worked_out_by_the_side_and_shown_before_it_is_posted()
    {
        await EarnedAsync();
        Orders([.. Enumerable.Range(1, 3_000).Select(i => $"L{i}")]);
        Assert.Equal(240 * 3_001, Entries().Sum(e => e.Amount));
        var form = await FormAsync($"{Month}/people/anna/edit");
        form["Draft.Codes"] = "";
        var page = await ShownAsync(form);
        await Eventually.IsAsync(
            async () =>
            {
                if (!page.Contains("being worked out by the side", StringComparison.Ordinal)) return true;
                page = await ShownAsync(Hidden(page));
                return false;
            },
            "What it comes to was never told.");
        Assert.Contains("3,001 orders", page, StringComparison.Ordinal);
        Assert.Contains("−7,202.40", page, StringComparison.Ordinal);
        Assert.Equal((3_001, 1), (Entries().Length, _site.Do<BookDbContext, int>(db => db.PayeeCodes.Count())));
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync($"{Month}/people/anna/edit", Hidden(page))).StatusCode);
        Eventually.Is(() => _site.Do<BookDbContext, bool>(db => db.Recalculations.All(r => r.IsFinished)), "It was never posted.");
        Assert.Equal(0, Entries().Sum(e => e.Amount));

        async Task<string> ShownAsync(Dictionary<string, string> sent) => WebUtility.HtmlDecode(await (await SendAsync($"{Month}/people/anna/edit", sent)).Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task A_file_of_rates_shows_what_it_posts_for_the_past_and_posts_it_from_its_text()
    {
        await EarnedAsync();
        _site.Do<EvenSplit.Books.Terms.AgreementDesk, int>(d =>
        {
            var draft = new EvenSplit.Books.Terms.AgreementDraft { Name = "Dollars", Basis = EvenSplit.Core.Basis.Contribution, Currency = "USD", From = new DateOnly(2026, 1, 1), Terms = [new() { Cases = [new() { PerUnit = "1.00" }] }] };
            d.PutOn(d.Publish(null, draft, "Lena").Id!, "anna", new DateOnly(2026, 1, 1), "Lena");
            return 0;
        });
        _site.Do<RecalculateOrders, int>(r => { r.RunAll(); return 0; });
        var before = Entries().Length;
        var token = (await FormAsync($"{Month}/sales/fees"))["__RequestVerificationToken"];
        using var file = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" }, { new StringContent("Date,USD\n2026-10-01,1.10\n"), "RatesFile", "rates.csv" } };
        var shown = WebUtility.HtmlDecode(await (await _lead.PostAsync($"{Month}/sales/fees?handler=Rates", file)).Content.ReadAsStringAsync());
        Assert.Contains("What this would post", shown, StringComparison.Ordinal);
        Assert.Equal(before, Entries().Length);
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync($"{Month}/sales/fees?handler=Rates", Hidden(shown))).StatusCode);
        Assert.Equal(before + 1, Entries().Length);
        Assert.Equal(0, _site.Do<EvenSplit.Books.Checking.BookCheck, long>(c => c.Run().Differences));
    }

    [Fact]
    public async Task A_difference_that_has_moved_since_it_was_seen_is_shown_anew()
    {
        await EarnedAsync();
        var form = await FormAsync($"{Month}/people/anna/edit");
        form["Draft.Codes"] = "";
        var agreed = Hidden(WebUtility.HtmlDecode(await (await SendAsync($"{Month}/people/anna/edit", form)).Content.ReadAsStringAsync()));
        Order("B");
        var again = await SendAsync($"{Month}/people/anna/edit", agreed);
        Assert.Contains("−4.80", WebUtility.HtmlDecode(await again.Content.ReadAsStringAsync()), StringComparison.Ordinal);
        Assert.Equal(480, Entries().Sum(e => e.Amount));
    }

    /// <summary>An affiliate with a code on 10 %, and an order of 24.00 by it.</summary>
    private async Task EarnedAsync()
    {
        async Task Post(string page, Dictionary<string, string> fields, string? action = null)
        {
            var form = await FormAsync(page);
            foreach (var (name, value) in fields) form[name] = value;
            var answer = await SendAsync(action ?? page, form);
            Assert.True(answer.StatusCode == HttpStatusCode.Redirect, $"{page}: {answer.StatusCode} {string.Join(' ', Fault().Matches(await answer.Content.ReadAsStringAsync()).Select(m => m.Groups[1].Value))}");
        }
        await Post($"{Month}/terms/products", new() { ["Draft.Id"] = "guide", ["Draft.Name"] = "The guide", ["Draft.Price"] = "24.00" });
        await Post($"{Month}/people/new", Payee("Anna"));
        _site.Do<EvenSplit.Books.Terms.AgreementDesk, int>(d =>
        {
            var (id, faults) = d.Publish(null, new EvenSplit.Books.Terms.AgreementDraft { Name = "Friends", Basis = EvenSplit.Core.Basis.Referral, Currency = "EUR", From = new DateOnly(2026, 1, 1), Terms = [new() { Cases = [new() { Percent = "10" }] }] }, "Lena");
            Assert.Empty(faults);
            d.PutOn(id!, "anna", new DateOnly(2026, 1, 1), "Lena");
            return 0;
        });
        Order("A");
    }

    private void Order(string id) => Orders([id]);

    private void Orders(string[] ids)
    {
        var file = "order_id,channel,placed_at,paid_at,currency,coupon_codes,line_id,product,quantity,unit_price\n" + string.Concat(ids.Select(id => $"{id},web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,ANNA,1,guide,1,24.00\n"));
        var import = _site.Do<ImportFiles, int>(f => f.QueueAsync(ImportKind.Orders, "orders.csv", new MemoryStream(Encoding.UTF8.GetBytes(file)), "Lena").GetAwaiter().GetResult());
        Eventually.Is(() => _site.Do<BookDbContext, ImportState>(db => db.Imports.Single(i => i.Id == import).State) == ImportState.Done, "The orders were not taken up.");
    }

    private static Dictionary<string, string> Payee(string name) => new() { ["Draft.Name"] = name, ["Draft.Role"] = "Affiliate", ["Draft.PayoutCurrency"] = "EUR", ["Draft.ActiveFrom"] = "2026-01-01", ["Draft.Codes"] = name.ToUpperInvariant() };

    /// <summary>The fields of the page's last form as a browser would send them.</summary>
    private async Task<Dictionary<string, string>> FormAsync(string page) => Inputs(await _lead.GetStringAsync(page), []);

    private static Dictionary<string, string> Inputs(string html, Dictionary<string, string> otherwise)
    {
        var form = Form().Matches(html).Select(m => m.Value).OrderByDescending(f => f.Length).First();
        var fields = new Dictionary<string, string>(otherwise);
        foreach (Match input in Input().Matches(form))
        {
            var (name, value) = (Name().Match(input.Value), Value().Match(input.Value));
            if (!name.Success || (input.Value.Contains("type=\"checkbox\"", StringComparison.Ordinal) && !input.Value.Contains("checked", StringComparison.Ordinal))) continue;
            fields[name.Groups[1].Value] = WebUtility.HtmlDecode(value.Groups[1].Value);
        }
        foreach (Match select in Select().Matches(form))
        {
            var chosen = Selected().Match(select.Groups[2].Value);
            if (chosen.Success) fields[select.Groups[1].Value] = WebUtility.HtmlDecode(Value().Match(chosen.Value).Groups[1].Value);
        }
        return fields;
    }

    private static Dictionary<string, string> Hidden(string html) => Input().Matches(html).Where(i => i.Value.Contains("type=\"hidden\"", StringComparison.Ordinal))
        .ToDictionary(i => Name().Match(i.Value).Groups[1].Value, i => WebUtility.HtmlDecode(Value().Match(i.Value).Groups[1].Value));

    private Task<HttpResponseMessage> SendAsync(string path, Dictionary<string, string> fields) => _lead.PostAsync(path, new FormUrlEncodedContent(fields));

    private EntryRecord[] Entries() => _site.Do<BookDbContext, EntryRecord[]>(db => [.. db.Entries.AsNoTracking().OrderBy(e => e.Id)]);

    [GeneratedRegex("<form[^>]*method=\"post\".*?</form>", RegexOptions.Singleline)]
    private static partial Regex Form();

    [GeneratedRegex("<input[^>]*>")]
    private static partial Regex Input();

    [GeneratedRegex("<select[^>]*name=\"([^\"]*)\"[^>]*>(.*?)</select>", RegexOptions.Singleline)]
    private static partial Regex Select();

    [GeneratedRegex("<option[^>]*selected[^>]*>")]
    private static partial Regex Selected();

    [GeneratedRegex("name=\"once\" type=\"hidden\" value=\"([^\"]+)\"|name=\"once\"[^>]*value=\"([^\"]+)\"")]
    private static partial Regex Once();

    [GeneratedRegex("name=\"([^\"]*)\"")]
    private static partial Regex Name();

    [GeneratedRegex("value=\"([^\"]*)\"")]
    private static partial Regex Value();

    [GeneratedRegex("class=\"fault\"[^>]*>([^<]*)")]
    private static partial Regex Fault();
}
