using System.Net;
using System.Text.RegularExpressions;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Web.Tests;

/// <summary>A password alone neither signs in nor moves money where somebody has a second factor, and the book may ask everybody for one.</summary>
public sealed partial class SecondFactorTests : IAsyncLifetime
{
    private const string Page = "/second-factor", Users = "/2026-10/users", Other = "four unrelated garden words";

    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    [Fact]
    public async Task A_book_that_asks_for_one_lets_nobody_in_who_changes_it_before_it_is_set_up()
    {
        Sql("UPDATE Book SET AsksSecondFactor = 1, RulesVersion = RulesVersion + 1");
        Assert.Equal(Page, (await _lead.GetAsync("/2026-10")).Headers.Location!.ToString());
        Assert.Equal(Page, (await TestSite.PostAsync(_lead, "/2026-10/people/new", new() { ["Draft.Name"] = "Mine" }, formOn: Page)).Headers.Location!.ToString());
        // Who only reads is not asked.
        Assert.Equal(HttpStatusCode.OK, (await (await _site.SignedInAsync("bookkeeper")).GetAsync("/2026-10")).StatusCode);
        var (_, codes) = await SetUpAsync();
        Assert.Equal(10, codes.Length);
        Assert.Equal(HttpStatusCode.OK, (await _lead.GetAsync("/2026-10")).StatusCode);
        // The last one is not given up.
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(_lead, Page + "?handler=NoApp", [], Page)).StatusCode);
    }

    [Fact]
    public async Task A_code_of_the_app_signs_in_once_and_a_recovery_code_once()
    {
        var (key, codes) = await SetUpAsync();
        Assert.Equal(HttpStatusCode.OK, (await _lead.GetAsync("/2026-10")).StatusCode);
        var code = AppCodes.Of(key, 1);
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(code)).StatusCode);
        Assert.Contains("used already", await (await SignInAsync(code)).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(codes[0])).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await SignInAsync(codes[0])).StatusCode);
        Assert.Contains("9 recovery codes left", await _lead.GetStringAsync(Page), StringComparison.Ordinal);
        Assert.Contains(Record(), r => r is { Action: "use a recovery code", By: "Lena" });
        Assert.Contains(Record(), r => r.Action == "sign in with a second factor");
    }

    [Fact]
    public async Task Whoever_reads_the_database_can_make_no_code_and_what_was_kept_in_clear_still_opens()
    {
        var (key, codes) = await SetUpAsync();
        var clear = key.Replace(" ", "", StringComparison.Ordinal);
        var kept = _site.Do<BookDbContext, string[]>(db => [.. db.UserTokens.Select(t => t.Value!)]);
        Assert.Equal(2, kept.Length);
        Assert.All(kept, v => Assert.StartsWith("sealed:", v, StringComparison.Ordinal));
        Assert.DoesNotContain(kept, v => v.Contains(clear, StringComparison.OrdinalIgnoreCase) || codes.Any(c => v.Contains(c, StringComparison.OrdinalIgnoreCase)));
        // Sealed for one person, it opens for no other.
        var aron = List().Single(u => u.Name == "Aron").Id;
        Sql($"INSERT INTO AspNetUserTokens (UserId, LoginProvider, Name, Value) SELECT '{aron}', LoginProvider, Name, Value FROM AspNetUserTokens WHERE Name = 'AuthenticatorKey'");
        Assert.Equal((clear, null), (KeyOf("Lena"), KeyOf("Aron")));
        Sql($"UPDATE AspNetUserTokens SET Value = '{clear}' WHERE Name = 'AuthenticatorKey'");
        Assert.Equal(clear, KeyOf("Lena"));
        // It is sealed as the book is opened.
        _site.Services.PrepareBook();
        Assert.DoesNotContain(_site.Do<BookDbContext, string[]>(db => [.. db.UserTokens.Select(t => t.Value!)]), v => v.Contains(clear, StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.Redirect, (await SignInAsync(AppCodes.Of(key, 1))).StatusCode);
    }

    [Fact]
    public async Task Codes_are_not_guessed_from_wherever_and_half_a_sign_in_is_none()
    {
        var (key, _) = await SetUpAsync();
        for (var i = 0; i < 6; i++) Assert.Equal(HttpStatusCode.OK, (await SignInAsync("000000")).StatusCode);
        var answer = await SignInAsync(AppCodes.Of(key, 1));
        Assert.Contains("Wait ten minutes", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        var half = _site.Visitor();
        await TestSite.PostAsync(half, "/sign-in", new() { ["UserName"] = "lead", ["Password"] = TestSite.Password });
        Assert.Contains("/sign-in", (await half.GetAsync("/2026-10")).Headers.Location!.ToString(), StringComparison.Ordinal);
        // Nobody else is kept out by it, and what was made up is no half of anything.
        await _site.SignedInAsync("approver");
        Assert.Contains("took too long", await (await TestSite.PostAsync(_site.Visitor(), "/sign-in", new() { ["Half"] = "made-up", ["Code"] = "123456" })).Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_says_who_may_move_money_asks_again_and_keeps_what_was_typed()
    {
        var (key, _) = await SetUpAsync();
        Dictionary<string, string> Form() => new() { ["DisplayName"] = "Mate & Co", ["UserName"] = "mate", ["Role"] = Roles.Approver, ["Password"] = Other };
        // Shown a moment ago: not asked.
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(_lead, Users, new(Form()) { ["DisplayName"] = "First", ["UserName"] = "first" })).StatusCode);
        Sql("UPDATE Sessions SET ProvedAt = ProvedAt - 4000000000");
        var asked = await TestSite.PostAsync(_lead, Users, Form());
        Assert.Equal(HttpStatusCode.Unauthorized, asked.StatusCode);
        var page = await asked.Content.ReadAsStringAsync();
        Assert.Contains("Nothing is done yet", page, StringComparison.Ordinal);
        Assert.DoesNotContain(List(), u => u.Name == "Mate & Co");
        var sent = Hidden(page);
        Assert.Equal("Mate & Co", sent["DisplayName"]);
        Assert.Contains("not the code of now", await (await _lead.PostAsync(Users, new FormUrlEncodedContent(new Dictionary<string, string>(sent) { ["again.code"] = "000000" }))).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await _lead.PostAsync(Users, new FormUrlEncodedContent(new Dictionary<string, string>(sent) { ["again.code"] = AppCodes.Of(key, 1) }))).StatusCode);
        Assert.Contains(List(), u => u.Name == "Mate & Co");
    }

    [Fact]
    public async Task Setting_it_up_ends_every_other_sign_in_and_a_wrong_code_sets_nothing_up()
    {
        var elsewhere = await _site.SignedInAsync("lead");
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(_lead, Page + "?handler=App", new() { ["Code"] = "000000" }, Page)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await elsewhere.GetAsync("/2026-10")).StatusCode);
        await SetUpAsync();
        Assert.Equal(HttpStatusCode.Redirect, (await elsewhere.GetAsync("/2026-10")).StatusCode);
    }

    [Fact]
    public async Task A_lead_takes_a_lost_one_away_and_another_person_confirms_it()
    {
        var mate = await _site.SignedInAsync("approver");
        var page = await mate.GetStringAsync(Page);
        await TestSite.PostAsync(mate, Page + "?handler=App", new() { ["Code"] = AppCodes.Of(Key().Match(page).Groups[1].Value) }, Page);
        Assert.True(List().Single(u => u.Name == "Aron").HasSecondFactor);
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(_lead, Users + "?handler=SecondFactor", new() { ["user"] = List().Single(u => u.Name == "Aron").Id }, Users)).StatusCode);
        Assert.Equal((false, "Lena"), List().Single(u => u.Name == "Aron") is var aron ? (aron.HasSecondFactor, aron.MadeBy) : default);
        Assert.Equal(HttpStatusCode.Redirect, (await mate.GetAsync("/2026-10")).StatusCode);
        await _site.SignedInAsync("approver");
    }

    [Fact]
    public async Task A_sign_in_is_renamed_and_the_name_beside_deeds_stays()
    {
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(_lead, Users + "?handler=Rename", new() { ["user"] = List().Single(u => u.Name == "Aron").Id, ["newName"] = "aron.the.second" }, Users)).StatusCode);
        await _site.SignedInAsync("aron.the.second");
        Assert.Equal("Aron", List().Single(u => u.UserName == "aron.the.second").Name);
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(_lead, Users + "?handler=Rename", new() { ["user"] = List().Single(u => u.Name == "Aron").Id, ["newName"] = "lead" }, Users)).StatusCode);
    }

    private async Task<(string Key, string[] Codes)> SetUpAsync()
    {
        var key = Key().Match(await _lead.GetStringAsync(Page)).Groups[1].Value;
        var answer = await TestSite.PostAsync(_lead, Page + "?handler=App", new() { ["Code"] = AppCodes.Of(key) }, Page);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return (key, [.. RecoveryCode().Matches(await answer.Content.ReadAsStringAsync()).Select(m => m.Groups[1].Value)]);
    }

    private string? KeyOf(string name) => _site.Do<UserManager<BookUser>, string?>(users => users.GetAuthenticatorKeyAsync(users.Users.Single(u => u.DisplayName == name)).GetAwaiter().GetResult());

    /// <summary>The password, then the code.</summary>
    private async Task<HttpResponseMessage> SignInAsync(string code)
    {
        var client = _site.Visitor();
        var second = await (await TestSite.PostAsync(client, "/sign-in", new() { ["UserName"] = "lead", ["Password"] = TestSite.Password })).Content.ReadAsStringAsync();
        var fields = Hidden(second);
        fields["Code"] = code;
        return await client.PostAsync("/sign-in", new FormUrlEncodedContent(fields));
    }

    private static Dictionary<string, string> Hidden(string page) =>
        HiddenInput().Matches(page).Select(m => m.Value).ToDictionary(i => WebUtility.HtmlDecode(Name().Match(i).Groups[1].Value), i => WebUtility.HtmlDecode(Value().Match(i).Groups[1].Value));

    private void Sql(string sql) => _site.Do<BookDbContext, int>(db => db.Database.ExecuteSqlRaw(sql));

    private IReadOnlyList<UserView> List() => _site.Do<UserDesk, IReadOnlyList<UserView>>(d => d.List());

    private AuditRecord[] Record() => _site.Do<BookDbContext, AuditRecord[]>(db => [.. db.Audit]);

    [GeneratedRegex("<p><code class=\"mono\">([A-Z2-7 ]+)</code></p>")]
    private static partial Regex Key();

    [GeneratedRegex("<li>([0-9A-Z-]{8,})</li>")]
    private static partial Regex RecoveryCode();

    [GeneratedRegex("<input[^>]*type=\"hidden\"[^>]*>")]
    private static partial Regex HiddenInput();

    [GeneratedRegex("name=\"([^\"]*)\"")]
    private static partial Regex Name();

    [GeneratedRegex("value=\"([^\"]*)\"")]
    private static partial Regex Value();
}
