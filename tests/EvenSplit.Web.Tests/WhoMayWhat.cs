using System.Net;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

public sealed class WhoMayWhat : IAsyncLifetime
{
    private static readonly string[] Open = ["/sign-in", "/setup", "/error", "/new-password", "/apply/{agreement?}", "/apply/confirm", "/apply/answer", "/apply/invitation", "/me/sign-in", "/me/enter", "/friends/{token}"];

    private readonly TestSite _site = new();

    public async ValueTask InitializeAsync() => await _site.OpenAsync();

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    /// <summary>Every page there is, at an address of its own.</summary>
    private IEnumerable<string> Addresses() => _site.Services.GetRequiredService<IActionDescriptorCollectionProvider>().ActionDescriptors.Items
        .OfType<PageActionDescriptor>()
        .Select(page => "/" + page.AttributeRouteInfo!.Template!
            .Replace("{period:period}", "2026-10", StringComparison.Ordinal).Replace("{id:int}", "1", StringComparison.Ordinal)
            .Replace("{orderId}", "A", StringComparison.Ordinal).Replace("{id}", "a", StringComparison.Ordinal).Replace("{payee}", "a", StringComparison.Ordinal));

    [Fact]
    public async Task A_stranger_is_sent_to_sign_in_from_every_page()
    {
        var addresses = Addresses().Except(Open).ToArray();
        Assert.True(addresses.Length >= 20);
        foreach (var address in addresses)
        {
            var answer = await _site.Visitor().GetAsync(address);
            Assert.True(answer.StatusCode == HttpStatusCode.Redirect && answer.Headers.Location!.ToString().Contains("/sign-in", StringComparison.Ordinal), $"{address}: {answer.StatusCode}");
        }
    }

    [Theory]
    [InlineData("bookkeeper")]
    [InlineData("approver")]
    public async Task Only_the_lead_changes_the_book(string userName)
    {
        var client = await _site.SignedInAsync(userName);
        foreach (var path in new[] { "/2026-10/pay", "/2026-10/terms/new", "/2026-10/people/new", "/2026-10/people/ines/terms/new", "/2026-10/people/ines?handler=Approve", "/2026-10/books/check", "/2026-10/books/journal", "/2026-10/books/proof?handler=Close", "/2026-10/books/proof?handler=Open", "/2026-10/terms/products", "/2026-10/users", "/2026-10/pay/1?handler=Lock", "/2026-10/pay/1?handler=Issue", "/2026-10/pay/1?handler=Unlock", "/2026-10/pay/results", "/2026-10/pay/adjustments?handler=Many", "/2026-10/pay/set-up?handler=Account", "/2026-10/sales/assign?handler=Apply", "/2026-10/sales/quarantine", "/2026-10/sales/by-hand", "/2026-10/people/applications?handler=Approve", "/2026-10/people/invitations", "/clock" })
        {
            var answer = await TestSite.PostAsync(client, path, new() { ["Draft.Name"] = "Mine" }, formOn: "/2026-10");
            Assert.True(answer.StatusCode == HttpStatusCode.Redirect && answer.Headers.Location!.ToString().Contains("/refused", StringComparison.Ordinal), $"{path}: {answer.StatusCode}");
        }
    }

    [Fact]
    public async Task A_form_without_its_token_changes_nothing()
    {
        var client = await _site.SignedInAsync("lead");
        var answer = await client.PostAsync("/2026-10/people/new", new FormUrlEncodedContent(new Dictionary<string, string> { ["Draft.Name"] = "Forged" }));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("Nothing was changed", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.DoesNotContain("Forged", await client.GetStringAsync("/2026-10/people"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Every_answer_forbids_inline_scripts_and_other_origins()
    {
        var answer = await (await _site.SignedInAsync("lead")).GetAsync("/2026-10");
        var policy = answer.Headers.GetValues("Content-Security-Policy").Single();
        Assert.Contains("default-src 'none'", policy, StringComparison.Ordinal);
        Assert.DoesNotContain("unsafe", policy, StringComparison.Ordinal);
        var html = await answer.Content.ReadAsStringAsync();
        Assert.DoesNotContain("<script>", html, StringComparison.Ordinal);
        Assert.DoesNotContain(" style=", html, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_open_book_cannot_be_opened_again() =>
        Assert.Equal(HttpStatusCode.NotFound, (await _site.Visitor().GetAsync("/setup")).StatusCode);

    [Fact]
    public async Task Six_wrong_passwords_lock_the_door()
    {
        var client = _site.Visitor();
        for (var i = 0; i < 6; i++) await TestSite.PostAsync(client, "/sign-in", new() { ["UserName"] = "approver", ["Password"] = "wrong" });
        var answer = await TestSite.PostAsync(client, "/sign-in", new() { ["UserName"] = "approver", ["Password"] = TestSite.Password });
        Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
        Assert.Contains("Wait ten minutes", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Signing_in_leads_nowhere_else()
    {
        var client = _site.Visitor();
        var answer = await TestSite.PostAsync(client, "/sign-in?returnUrl=https://elsewhere.example/", new() { ["UserName"] = "lead", ["Password"] = TestSite.Password });
        Assert.Equal("/", answer.Headers.Location!.ToString());
    }

    [Theory]
    [InlineData("/2026-13")]
    [InlineData("/2026-10/people/nobody")]
    [InlineData("/2026-10/sales/none")]
    [InlineData("/2026-10/pay/99")]
    [InlineData("/2026-10/terms/none")]
    public async Task What_is_not_there_says_so_in_words(string address)
    {
        var answer = await (await _site.SignedInAsync("lead")).GetAsync(address);
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        Assert.Contains("There is nothing at this address", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_failed_save_keeps_what_was_typed_and_says_what_to_do()
    {
        var client = await _site.SignedInAsync("lead");
        var answer = await TestSite.PostAsync(client, "/2026-10/people/new", new()
        {
            ["Draft.Name"] = "Half a payee",
            ["Draft.PayoutCurrency"] = "EUR",
            ["Draft.Minimum"] = "12.345",
        });
        var html = WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("value=\"Half a payee\"", html, StringComparison.Ordinal);
        Assert.Contains("Expected at most 2 decimals in EUR.", html, StringComparison.Ordinal);
        Assert.Contains("Say from which day they are active.", html, StringComparison.Ordinal);
    }
}
