using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

/// <summary>Each payee sees their own and nothing of anybody else, whatever they ask for; nobody else sees it but the house, marked.</summary>
public sealed partial class OwnPagesTests : IAsyncLifetime
{
    private readonly TestSite _site = new();
    private int _annasRun, _bensRun;
    private long _annasEntry, _bensEntry;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        Do<Books.Catalogue.ProductDesk>(p => p.Save(null, new Books.Catalogue.ProductDraft { Id = "guide", Name = "The guide", Price = "24.00" }, "Lena"));
        foreach (var name in new[] { "Anna", "Ben" })
        {
            Do<PayeeDesk>(d => d.Save(null, new PayeeDraft { Name = name + " Secretson", Email = name.ToLowerInvariant() + "@people.example", Role = PayeeRole.Affiliate, PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2025, 1, 1), Codes = name.ToUpperInvariant() + "CODE" }, "Lena"));
        }
        Do<AgreementDesk>(d => d.Publish(null, new AgreementDraft { Name = "Friends", Basis = Basis.Referral, Currency = "EUR", From = new DateOnly(2025, 1, 1), Terms = [new TermDraft { Cases = [new CaseDraft { Percent = "10" }] }] }, "Lena"));
        foreach (var id in new[] { "anna-secretson", "ben-secretson" }) Do<AgreementDesk>(d => d.PutOn("friends", id, new DateOnly(2025, 1, 1), "Lena"));
        Import("order_id,channel,placed_at,paid_at,currency,coupon_codes,line_id,product,quantity,unit_price\nA-1,shop,2025-10-03T12:00:00Z,2025-10-03T12:00:00Z,EUR,ANNACODE,1,guide,1,100.00\nB-1,shop,2025-10-03T12:00:00Z,2025-10-03T12:00:00Z,EUR,BENCODE,1,guide,1,777.70\n");
        _annasRun = Run(new DateOnly(2025, 10, 31), "anna-secretson");
        _bensRun = Run(new DateOnly(2025, 11, 30), "ben-secretson");
        (_annasEntry, _bensEntry) = (EntryOf("anna-secretson"), EntryOf("ben-secretson"));
        Do<TaxForms>(f => f.Send("ben-secretson", "bens-form.pdf", [.. "%PDF-1.7"u8]));
    }

    private long EntryOf(string payee) => _site.Do<BookDbContext, long>(db => db.Entries.First(e => e.Payee == payee).Id);

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    [Fact]
    public async Task Nobody_sees_a_payees_pages_but_that_payee()
    {
        var anna = await EnteredAsync("anna@people.example");
        var own = OwnAddresses().ToArray();
        Assert.True(own.Length >= 6);
        foreach (var address in own)
        {
            foreach (var other in new[] { _site.Visitor(), await _site.SignedInAsync("lead"), await _site.SignedInAsync("approver"), await _site.SignedInAsync("bookkeeper") })
            {
                var answer = await other.GetAsync(address);
                Assert.True(answer.StatusCode == HttpStatusCode.Redirect && answer.Headers.Location!.ToString().Contains("/me/sign-in", StringComparison.Ordinal), $"{address}: {answer.StatusCode}");
            }
            var html = await anna.GetAsync(address);
            var text = await html.Content.ReadAsStringAsync();
            Assert.True(html.StatusCode is HttpStatusCode.OK or HttpStatusCode.NotFound or HttpStatusCode.Redirect, $"{address}: {html.StatusCode}");
            foreach (var bens in new[] { "Ben", "BENCODE", "B-1", "77.77", "777.70" }) Assert.DoesNotContain(bens, text, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task A_payee_opens_no_page_of_the_house_and_sends_none_of_its_forms()
    {
        var anna = await EnteredAsync("anna@people.example");
        foreach (var address in HouseAddresses())
        {
            var answer = await anna.GetAsync(address);
            Assert.True(answer.StatusCode == HttpStatusCode.Redirect && answer.Headers.Location!.ToString().Contains("/sign-in", StringComparison.Ordinal), $"{address}: {answer.StatusCode}");
            var sent = await TestSite.PostAsync(anna, address, [], formOn: "/me/questions");
            Assert.True(sent.StatusCode is HttpStatusCode.Redirect or HttpStatusCode.BadRequest or HttpStatusCode.NotFound && sent.Headers.Location?.ToString().Contains("/people", StringComparison.Ordinal) != true, $"{address}: {sent.StatusCode}");
        }
    }

    [Fact]
    public async Task A_statement_of_somebody_else_is_answered_as_one_that_is_not()
    {
        var anna = await EnteredAsync("anna@people.example");
        Assert.Contains("10.00", await anna.GetStringAsync($"/me/statements/{_annasRun}"), StringComparison.Ordinal);
        foreach (var handler in new[] { "", "?handler=Pdf", "?handler=Csv", "?handler=Invoice" })
        {
            var (theirs, none) = (await anna.GetAsync($"/me/statements/{_bensRun}{handler}"), await anna.GetAsync($"/me/statements/99999{handler}"));
            Assert.Equal((HttpStatusCode.NotFound, none.StatusCode), (theirs.StatusCode, theirs.StatusCode));
            Assert.Equal((await none.Content.ReadAsStringAsync()).Length, (await theirs.Content.ReadAsStringAsync()).Length);
        }
    }

    [Fact]
    public async Task An_entry_of_somebody_else_is_answered_as_one_that_is_not()
    {
        var anna = await EnteredAsync("anna@people.example");
        Assert.Contains("Your code ANNACODE is on the order.", await anna.GetStringAsync($"/me/ledger/{_annasEntry}"), StringComparison.Ordinal);
        var (theirs, none) = (await anna.GetAsync($"/me/ledger/{_bensEntry}"), await anna.GetAsync("/me/ledger/99999"));
        Assert.Equal((HttpStatusCode.NotFound, HttpStatusCode.NotFound), (theirs.StatusCode, none.StatusCode));
        Assert.Equal((await none.Content.ReadAsStringAsync()).Length, (await theirs.Content.ReadAsStringAsync()).Length);
    }

    [Fact]
    public async Task Where_an_agreement_hides_orders_their_ids_are_nowhere_on_a_payees_pages()
    {
        Do<ShownToPayees>(s => s.Save(new AgreementViewRecord { AgreementId = "friends", Steps = ShownSteps.All, ShowsOrders = false }, "Lena"));
        var anna = await EnteredAsync("anna@people.example");
        foreach (var address in new[] { "/me", "/me/ledger", "/me/ledger?handler=Csv", $"/me/ledger/{_annasEntry}", $"/me/statements/{_annasRun}", $"/me/statements/{_annasRun}?handler=Csv", "/me/details?handler=Data" })
        {
            var text = await anna.GetStringAsync(address);
            Assert.DoesNotContain("A-1", text, StringComparison.Ordinal);
            if (address != "/me") Assert.Matches("sale [0-9A-F]{8}", text);
        }
        using var pdf = UglyToad.PdfPig.PdfDocument.Open(await anna.GetByteArrayAsync($"/me/statements/{_annasRun}?handler=Pdf"));
        Assert.DoesNotContain("A-1", string.Concat(pdf.GetPages().Select(p => p.Text)), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_payee_changes_their_own_details_and_nobody_elses()
    {
        var anna = await EnteredAsync("anna@people.example");
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(anna, "/me/details?handler=Reach", new() { ["Language"] = "de", ["PostalAddress"] = "A street", ["payee"] = "ben-secretson", ["PayeeId"] = "ben-secretson" }, formOn: "/me/details")).StatusCode);
        // The form as it was shown before: the newer language is told and kept; what was typed stays to be sent again.
        var late = await TestSite.PostAsync(anna, "/me/details?handler=Reach", new() { ["Language"] = "fr", ["PostalAddress"] = "A street", ["Was.Language"] = "", ["Was.PostalAddress"] = "A street" }, formOn: "/me/details");
        var told = await late.Content.ReadAsStringAsync();
        Assert.Equal(HttpStatusCode.UnprocessableEntity, late.StatusCode);
        Assert.Contains("it is now de. Save again", told, StringComparison.Ordinal);
        Assert.Contains("name=\"Was.Language\" value=\"de\"", told, StringComparison.Ordinal);
        Assert.Contains("value=\"fr\"", told, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await TestSite.PostAsync(anna, "/me/details?handler=Payout", new() { ["Method"] = "Bank", ["Holder"] = "Anna", ["Iban"] = "IE00 0000" }, formOn: "/me/details")).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(anna, "/me/details?handler=Payout", new() { ["Method"] = "Through" }, formOn: "/me/details")).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(anna, "/me/details?handler=Payout", new() { ["Method"] = "Bank", ["Holder"] = "Anna Secretson", ["Iban"] = "IE29AIBK93115212345678", ["Bic"] = "AIBKIE2D" }, formOn: "/me/details")).StatusCode);
        Assert.Equal(["anna-secretson"], _site.Do<BookDbContext, string[]>(db => [.. db.PayoutDetails.Select(d => d.Payee)]));
        Assert.Equal([("anna-secretson", "de"), ("ben-secretson", "")], _site.Do<BookDbContext, (string, string)[]>(db => [.. db.Payees.OrderBy(p => p.Id).Select(p => new { p.Id, p.Language }).AsEnumerable().Select(p => (p.Id, p.Language))]));
        Assert.DoesNotContain("IE29AIBK93115212345678", await anna.GetStringAsync("/me/details"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_payee_accepts_what_is_agreed_once()
    {
        Do<AgreementDesk>(d => d.Publish("friends", d.Draft("friends")! with { Text = "We share. **Fairly.**", From = new DateOnly(2025, 2, 1) }, "Lena"));
        var anna = await EnteredAsync("anna@people.example");
        Assert.Contains("There is a text to read and accept", await anna.GetStringAsync("/me"), StringComparison.Ordinal);
        Assert.Contains("<strong>Fairly.</strong>", await anna.GetStringAsync("/me/agreements"), StringComparison.Ordinal);
        var version = _site.Do<BookDbContext, int>(db => db.AgreementVersions.Max(v => v.Id));
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(anna, "/me/agreements?handler=Accept", new() { ["version"] = $"{version}" }, formOn: "/me/agreements")).StatusCode);
        Assert.DoesNotContain("to be accepted", await anna.GetStringAsync("/me/agreements"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(anna, "/me/agreements?handler=Accept", new() { ["version"] = $"{version}" }, formOn: "/me/questions")).StatusCode);
        var accepted = _site.Do<BookDbContext, AcceptanceRecord>(db => db.Acceptances.Single());
        Assert.Equal(("anna-secretson", "Anna Secretson"), (accepted.Payee, accepted.RecordedBy));
    }

    [Fact]
    public async Task A_question_is_about_ones_own_or_is_none()
    {
        var anna = await EnteredAsync("anna@people.example");
        var entries = _site.Do<BookDbContext, (long Own, long Other)>(db => (db.Entries.First(e => e.Payee == "anna-secretson").Id, db.Entries.First(e => e.Payee == "ben-secretson").Id));
        var refused = await TestSite.PostAsync(anna, $"/me/questions?entry={entries.Other}", new() { ["Question"] = "Why?" });
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(anna, $"/me/questions?entry={entries.Own}", new() { ["Question"] = "Why <b>so</b> little?" })).StatusCode);
        var lead = await _site.SignedInAsync("lead");
        Assert.Contains("Why &lt;b&gt;so&lt;/b&gt; little?", await lead.GetStringAsync("/2025-10/people/questions"), StringComparison.Ordinal);
        var id = _site.Do<BookDbContext, int>(db => db.PayeeQuestions.Single().Id);
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(lead, "/2025-10/people/questions", new() { ["question"] = $"{id}", ["Reply"] = "It was one guide." })).StatusCode);
        Assert.Contains("It was one guide.", await anna.GetStringAsync("/me/questions"), StringComparison.Ordinal);
        Assert.DoesNotContain("It was one guide.", await (await EnteredAsync("ben@people.example")).GetStringAsync("/me/questions"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_link_opens_once_and_only_in_the_browser_that_asked()
    {
        var asked = _site.Visitor();
        await AskAsync(asked, "anna@people.example");
        var token = Token();
        var other = _site.Visitor();
        await AskAsync(other, "nobody@people.example");
        Assert.Contains("opens nothing", await other.GetStringAsync($"/me/enter?token={token}"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(asked, "/me/enter", new() { ["Token"] = token }, formOn: $"/me/enter?token={token}")).StatusCode);
        Assert.Contains("Anna Secretson", await asked.GetStringAsync("/me"), StringComparison.Ordinal);
        Assert.Contains("opens nothing", await asked.GetStringAsync($"/me/enter?token={token}"), StringComparison.Ordinal);
        Assert.Contains("opens nothing", await asked.GetStringAsync("/me/enter?token=" + new string('0', 64)), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Nothing_tells_whether_an_address_is_known()
    {
        async Task<string> Told(string email) => Once().Replace(await (await AskAsync(_site.Visitor(), email)).Content.ReadAsStringAsync(), "");
        Assert.Equal(await Told("anna@people.example"), await Told("nobody@people.example"));
        Assert.Single(_site.Do<Outbox, IReadOnlyList<SentMail>>(o => o.List()), m => m.Id.StartsWith("sign-in-", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_sign_in_is_ended_from_afar()
    {
        var (one, two) = (await EnteredAsync("anna@people.example"), await EnteredAsync("anna@people.example"));
        var first = _site.Do<BookDbContext, string>(db => db.PayeeSessions.OrderBy(s => s.StartedAt).First().Id);
        await TestSite.PostAsync(await EnteredAsync("ben@people.example"), "/me/sign-ins", new() { ["session"] = first });
        Assert.Equal(HttpStatusCode.OK, (await one.GetAsync("/me")).StatusCode);
        await TestSite.PostAsync(two, "/me/sign-ins", new() { ["session"] = first });
        Assert.Equal(HttpStatusCode.Redirect, (await one.GetAsync("/me")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await two.GetAsync("/me")).StatusCode);
    }

    [Fact]
    public async Task The_lead_sees_as_they_do_marked_and_changes_nothing()
    {
        var lead = await _site.SignedInAsync("lead");
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(lead, "/2025-10/people/anna-secretson?handler=See", [], formOn: "/2025-10/people/anna-secretson")).StatusCode);
        Assert.Contains("you see this as Anna Secretson does", await lead.GetStringAsync("/me"), StringComparison.Ordinal);
        var sent = await TestSite.PostAsync(lead, "/me/questions", new() { ["Question"] = "Mine" }, formOn: "/2025-10/people/anna-secretson");
        Assert.Empty(_site.Do<BookDbContext, PayeeQuestionRecord[]>(db => [.. db.PayeeQuestions]));
        Assert.NotEqual(HttpStatusCode.OK, sent.StatusCode);
        Assert.Contains(_site.Do<BookDbContext, AuditRecord[]>(db => [.. db.Audit]), a => a.Action == "see as they do");
        foreach (var role in new[] { "approver", "bookkeeper" })
        {
            var other = await _site.SignedInAsync(role);
            await TestSite.PostAsync(other, "/2025-10/people/anna-secretson?handler=See", [], formOn: "/2025-10/people/anna-secretson");
            Assert.Equal(HttpStatusCode.Redirect, (await other.GetAsync("/me")).StatusCode);
        }
    }

    private IEnumerable<string> Templates() => _site.Services.GetRequiredService<IActionDescriptorCollectionProvider>().ActionDescriptors.Items.OfType<PageActionDescriptor>().Select(p => "/" + p.AttributeRouteInfo!.Template!);

    private IEnumerable<string> OwnAddresses() => Templates().Where(t => t == "/me" || t.StartsWith("/me/", StringComparison.Ordinal)).Where(t => t is not ("/me/sign-in" or "/me/enter")).Select(t => t.Replace("/{run:int?}", $"/{_bensRun}", StringComparison.Ordinal).Replace("/{entry:long}", $"/{_bensEntry}", StringComparison.Ordinal).Replace("/{agreement?}", "", StringComparison.Ordinal))
        .Append("/me/statements").Append("/me/ledger?handler=Csv").Append($"/me/statements/{_bensRun}?handler=Csv").Append("/me/details?handler=Form&id=1").Append("/me/details?handler=Data").Append("/me/links?handler=Picture&id=1").Append("/me/ledger?payee=ben-secretson").Append("/me/links?payee=ben-secretson");

    private IEnumerable<string> HouseAddresses() => Templates().Where(t => t.StartsWith("/{period:period}", StringComparison.Ordinal)).Select(t => t.Replace("{period:period}", "2025-10", StringComparison.Ordinal).Replace("{id:int}", "1", StringComparison.Ordinal)
        .Replace("{orderId}", "A-1", StringComparison.Ordinal).Replace("{id}", "anna-secretson", StringComparison.Ordinal).Replace("{payee}", "anna-secretson", StringComparison.Ordinal).Replace("{bench=processors}", "bank", StringComparison.Ordinal));

    private void Do<T>(Action<T> work) where T : notnull => _site.Do<T, int>(t =>
    {
        work(t);
        return 0;
    });

    private int Run(DateOnly asOf, string payee)
    {
        var id = _site.Do<PayRunSteps, int>(s => s.Gather(asOf, [payee], "Lena"));
        Do<PayRunSteps>(s => s.Lock(id, "Lena"));
        return id;
    }

    private void Import(string csv)
    {
        var id = _site.Do<ImportFiles, int>(files => files.QueueAsync(ImportKind.Orders, "orders.csv", new MemoryStream(Encoding.UTF8.GetBytes(csv)), "Lena").GetAwaiter().GetResult());
        Eventually.Is(() => _site.Do<ImportFiles, ImportState>(files => files.Find(id)!.State) is not (ImportState.Waiting or ImportState.Running), "The import was not taken up.");
    }

    private static async Task<HttpResponseMessage> AskAsync(HttpClient client, string email, string to = "")
    {
        var page = await client.GetStringAsync("/me/sign-in" + (to.Length > 0 ? "?ReturnUrl=" + Uri.EscapeDataString(to) : ""));
        // Those of the first form.
        var fields = Hidden().Matches(page).DistinctBy(m => Attribute("name", m.Value)).ToDictionary(m => Attribute("name", m.Value), m => WebUtility.HtmlDecode(Attribute("value", m.Value)));
        fields["Email"] = email;
        // Quicker than anybody writes, it is not taken.
        await Task.Delay(2100);
        return await client.PostAsync("/me/sign-in", new FormUrlEncodedContent(fields));
    }

    private async Task<HttpClient> EnteredAsync(string email)
    {
        var client = _site.Visitor();
        await AskAsync(client, email);
        var token = Token();
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(client, "/me/enter", new() { ["Token"] = token }, formOn: $"/me/enter?token={token}")).StatusCode);
        return client;
    }

    /// <summary>Of the last mail with a link to sign in.</summary>
    private string Token()
    {
        var text = _site.Do<Outbox, string>(o => o.Find(o.List().First(m => m.Id.StartsWith("sign-in-", StringComparison.Ordinal)).Id)!.Text);
        var from = text.IndexOf("token=", StringComparison.Ordinal) + "token=".Length;
        return text[from..(from + 64)];
    }

    private static string Attribute(string name, string input) => Regex.Match(input, $"{name}=\"([^\"]*)\"").Groups[1].Value;

    [GeneratedRegex("<input[^>]*type=\"hidden\"[^>]*>")]
    private static partial Regex Hidden();

    [GeneratedRegex("(value|href|src)=\"[^\"]*\"")]
    private static partial Regex Once();
}
