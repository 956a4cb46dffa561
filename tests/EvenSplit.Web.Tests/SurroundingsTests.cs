using System.Net;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

/// <summary>A new book goes to whoever sees the console; hosts and proxies are believed by name; forms take what they can use.</summary>
public sealed class SurroundingsTests : IAsyncDisposable
{
    private readonly TestSite _site = new();

    public ValueTask DisposeAsync() => _site.DisposeAsync();

    [Fact]
    public async Task A_new_book_is_opened_with_the_code_of_the_console_only()
    {
        var stranger = _site.Visitor();
        Dictionary<string, string> Form(string code) => new() { ["Code"] = code, ["BookName"] = "Mine", ["Currency"] = "EUR", ["TimeZone"] = "Europe/Dublin", ["DisplayName"] = "Eve", ["UserName"] = "eve", ["Password"] = TestSite.Password, ["WorksAlone"] = "true" };
        Assert.Contains("This is not the code", await (await TestSite.PostAsync(stranger, "/setup", Form("AAAAAAAAAA"))).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        for (var i = 0; i < 5; i++) await TestSite.PostAsync(stranger, "/setup", Form(""));
        var code = _site.Services.GetRequiredService<OwnerCode>().Text;
        // Guessing it is slowed down like anything else.
        Assert.Contains("Wait ten minutes", await (await TestSite.PostAsync(stranger, "/setup", Form(code))).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        _site.Services.GetRequiredService<SignInThrottle>().Succeeded("", "owner");
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(stranger, "/setup", Form($" {code.ToLowerInvariant()[..5]} {code[5..]}"))).StatusCode);
        Assert.True(_site.Do<BookCache, bool>(c => c.Find()!.Record.WorksAlone));
        // It ends when somebody joins who could confirm.
        using var scope = _site.Services.CreateScope();
        await BookUsers.AddAsync(scope.ServiceProvider, "reader", "Rea", Roles.Bookkeeper, "four unrelated garden words");
        Assert.True(_site.Do<BookCache, bool>(c => c.Find()!.Record.WorksAlone));
        await BookUsers.AddAsync(scope.ServiceProvider, "approver", "Aron", Roles.Approver, "four unrelated garden words");
        Assert.False(_site.Do<BookCache, bool>(c => c.Find()!.Record.WorksAlone));
    }

    [Fact]
    public async Task Another_host_is_not_served_and_nobody_says_who_asked_but_a_proxy_that_is_named()
    {
        await _site.OpenAsync();
        using var other = new HttpRequestMessage(HttpMethod.Get, "/sign-in");
        other.Headers.Host = "elsewhere.example";
        Assert.Equal(HttpStatusCode.BadRequest, (await _site.Visitor().SendAsync(other)).StatusCode);
        var visitor = _site.Visitor();
        visitor.DefaultRequestHeaders.Add("X-Forwarded-For", "6.6.6.6");
        await TestSite.PostAsync(visitor, "/sign-in", new() { ["UserName"] = "lead", ["Password"] = "wrong" });
        Assert.DoesNotContain(_site.Do<BookDbContext, string[]>(db => [.. db.Audit.Select(a => a.Origin)]), o => o.Contains("6.6.6.6", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Behind_TLS_cookies_are_bound_to_the_host()
    {
        await _site.OpenAsync();
        await using var behind = _site.WithWebHostBuilder(builder => builder.UseSetting("tls", "true").UseSetting("data", Path.Combine(Path.GetTempPath(), "evensplit-tls-" + Guid.NewGuid().ToString("N"))));
        var client = behind.CreateClient(new WebApplicationFactoryClientOptions { BaseAddress = new Uri("https://localhost"), AllowAutoRedirect = false });
        var cookies = (await client.GetAsync("/setup")).Headers.GetValues("Set-Cookie").ToArray();
        Assert.All(cookies, c => Assert.Matches("^__Host-evensplit.*secure.*samesite=strict", c));
        Assert.NotEmpty(cookies);
    }

    [Fact]
    public async Task What_is_too_long_is_told_at_its_field_and_stays()
    {
        await _site.OpenAsync();
        var lead = await _site.SignedInAsync("lead");
        var name = new string('n', 301);
        var answer = await TestSite.PostAsync(lead, "/2026-10/people/new", new() { ["Draft.Name"] = name, ["Draft.Email"] = "kept@example.com" });
        var page = await answer.Content.ReadAsStringAsync();
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("This has 301 characters; at most 300 can be kept.", page, StringComparison.Ordinal);
        Assert.Contains("kept@example.com", page, StringComparison.Ordinal);
        Assert.Contains(name, page, StringComparison.Ordinal);
    }
}
