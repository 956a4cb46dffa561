using System.Buffers.Binary;
using System.Net;
using System.Security.Cryptography;
using System.Text.RegularExpressions;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;

namespace EvenSplit.Web.Tests;

// A payee signs in by a password with a code, goes on to what they came for, and moves to another address.
public sealed partial class OwnPagesTests
{
    private const string GoodPassword = "slow kettle of brass";

    [Fact]
    public async Task A_password_opens_only_with_a_code_of_the_app_that_is_good_once()
    {
        var (anna, elsewhere) = (await EnteredAsync("anna@people.example"), await EnteredAsync("anna@people.example"));
        var (key, now) = (KeyOn(await anna.GetStringAsync("/me/sign-ins")), DateTimeOffset.UtcNow);
        var (used, next) = (CodeOf(key, now), CodeOf(key, now.AddSeconds(30)));
        Task<HttpResponseMessage> Set(string password, string code, string? with = null) =>
            TestSite.PostAsync(anna, "/me/sign-ins?handler=Password", new() { ["Password"] = password, ["Key"] = with ?? key, ["Code"] = code }, formOn: "/me/sign-ins");

        Assert.Contains("tried first", await (await Set("password password", used)).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Conflict, (await Set(GoodPassword, used, with: "A")).StatusCode);
        var wrong = await Set(GoodPassword, "000000");
        Assert.Equal(key, KeyOn(await wrong.Content.ReadAsStringAsync()));
        Assert.Equal(0, _site.Do<BookDbContext, int>(db => db.PayeeLogins.Count()));
        Assert.Equal(HttpStatusCode.Redirect, (await Set(GoodPassword, used)).StatusCode);

        // The others are ended, and they are told.
        Assert.Equal(HttpStatusCode.Redirect, (await elsewhere.GetAsync("/me")).StatusCode);
        Assert.Contains("a password and a code of your app", Last("how-to-sign-in-"), StringComparison.Ordinal);

        Task<HttpResponseMessage> SignIn(string email, string password, string code)
        {
            var visitor = _site.Visitor();
            return TestSite.PostAsync(visitor, "/me/sign-in?handler=Password", new() { ["Email"] = email, ["Password"] = password, ["Code"] = code, ["ReturnUrl"] = "/me/questions" }, formOn: "/me/sign-in");
        }
        // The code that set it up is used; the one after it is good, once.
        foreach (var (email, password, code) in new[] { ("anna@people.example", GoodPassword, used), ("anna@people.example", GoodPassword, ""), ("anna@people.example", "slow kettle of tin", next), ("ben@people.example", GoodPassword, next), ("nobody@people.example", GoodPassword, next) })
        {
            var answer = await SignIn(email, password, code);
            Assert.Equal((HttpStatusCode.Unauthorized, true), (answer.StatusCode, (await answer.Content.ReadAsStringAsync()).Contains("do not go together", StringComparison.Ordinal)));
        }
        Assert.Equal("/me/questions", (await SignIn("Anna@People.example", GoodPassword, next)).Headers.Location?.ToString());
        Assert.Equal(HttpStatusCode.Unauthorized, (await SignIn("anna@people.example", GoodPassword, next)).StatusCode);

        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(anna, "/me/sign-ins?handler=NoPassword", [], formOn: "/me/sign-ins")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await SignIn("anna@people.example", GoodPassword, CodeOf(key, DateTimeOffset.UtcNow))).StatusCode);
    }

    [Fact]
    public async Task A_link_leads_on_to_what_they_came_for_and_nowhere_else()
    {
        foreach (var (asked, led) in new[] { ("/me/questions", "/me/questions"), ("https://other.example/me/", "/me"), ("//other.example", "/me"), ("/2025-10/people", "/me"), ("/me/../users", "/me"), ("/me\\other", "/me") })
        {
            var visitor = _site.Visitor();
            await AskAsync(visitor, "anna@people.example", asked);
            var link = Regex.Match(Last("sign-in-"), @"/me/enter\?\S+").Value;
            var to = Regex.Match(link, "&to=(\\S+)").Groups[1].Value;
            var entered = await TestSite.PostAsync(visitor, "/me/enter", new() { ["Token"] = Regex.Match(link, "token=([0-9a-f]{64})").Groups[1].Value, ["To"] = to.Length > 0 ? Uri.UnescapeDataString(to) : asked }, formOn: link);
            Assert.Equal((asked, led), (asked, entered.Headers.Location?.ToString()));
        }
    }

    [Fact]
    public async Task An_address_is_theirs_once_they_open_what_was_sent_there()
    {
        var anna = await EnteredAsync("anna@people.example");
        Task<HttpResponseMessage> Ask(string email) => TestSite.PostAsync(anna, "/me/details?handler=Email", new() { ["NewEmail"] = email }, formOn: "/me/details");
        Assert.Equal(HttpStatusCode.Conflict, (await Ask("nothing")).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await Ask("ANNA@people.example")).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await Ask("first@people.example")).StatusCode);
        var first = TokenIn(Last("new-address-"));
        Assert.Equal(HttpStatusCode.Redirect, (await Ask("second@people.example")).StatusCode);
        var second = TokenIn(Last("new-address-"));
        Assert.Contains("second@people.example", Last("asked-address-"), StringComparison.Ordinal);
        Assert.Equal("anna@people.example", EmailOf("anna-secretson"));

        var visitor = _site.Visitor();
        Assert.Contains("opens nothing", await visitor.GetStringAsync($"/me/enter?token={first}"), StringComparison.Ordinal);
        // It is no link to sign in with.
        var signedIn = await TestSite.PostAsync(visitor, "/me/enter", new() { ["Token"] = second }, formOn: $"/me/enter?token={second}");
        Assert.Equal((HttpStatusCode.OK, "anna@people.example"), (signedIn.StatusCode, EmailOf("anna-secretson")));
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.GetAsync("/me")).StatusCode);
        var taken = await TestSite.PostAsync(visitor, "/me/enter?handler=Address", new() { ["Token"] = second }, formOn: $"/me/enter?token={second}");
        Assert.Contains("your address from now on", await taken.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal("second@people.example", EmailOf("anna-secretson"));
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.GetAsync("/me")).StatusCode);
        Assert.Contains("opens nothing", await visitor.GetStringAsync($"/me/enter?token={second}"), StringComparison.Ordinal);

        // A third is sent, and no more in a quarter of an hour: nobody mails strangers by it.
        Assert.Equal(HttpStatusCode.Redirect, (await Ask("third@people.example")).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await Ask("fourth@people.example")).StatusCode);
        Assert.DoesNotContain("fourth@people.example", Last("asked-address-"), StringComparison.Ordinal);
    }

    private string EmailOf(string payee) => _site.Do<BookDbContext, string>(db => db.Payees.Single(p => p.Id == payee).Email!);

    private string Last(string kind) => _site.Do<Outbox, string>(o => o.Find(o.List().First(m => m.Id.StartsWith(kind, StringComparison.Ordinal)).Id)!.Text);

    private static string TokenIn(string text) => Regex.Match(text, "token=([0-9a-f]{64})").Groups[1].Value;

    private static string KeyOn(string page) => Regex.Match(page, "name=\"Key\" value=\"([A-Z2-7]+)\"").Groups[1].Value;

    /// <summary>What an authenticator app shows for a key (RFC 6238, six digits, thirty seconds).</summary>
    private static string CodeOf(string key, DateTimeOffset at)
    {
        var bits = string.Concat(key.Select(c => Convert.ToString("ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".IndexOf(c, StringComparison.Ordinal), 2).PadLeft(5, '0')));
        var secret = bits.Chunk(8).Where(b => b.Length == 8).Select(b => Convert.ToByte(new string(b), 2)).ToArray();
        var counter = new byte[8];
        BinaryPrimitives.WriteInt64BigEndian(counter, at.ToUnixTimeSeconds() / 30);
        // SHA-1 is what the standard has and the apps know.
#pragma warning disable CA5350
        var hash = HMACSHA1.HashData(secret, counter);
#pragma warning restore CA5350
        var number = BinaryPrimitives.ReadInt32BigEndian(hash.AsSpan(hash[^1] & 15)) & int.MaxValue;
        return (number % 1_000_000).ToString("D6", System.Globalization.CultureInfo.InvariantCulture);
    }
}
