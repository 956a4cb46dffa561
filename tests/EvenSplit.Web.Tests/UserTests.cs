using System.Net;
using System.Text.RegularExpressions;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Web.Serving;

namespace EvenSplit.Web.Tests;

/// <summary>Nobody walks around the second pair of eyes; who is signed in can be ended; who guesses learns nothing.</summary>
public sealed partial class UserTests : IAsyncLifetime
{
    private const string Users = "/2026-10/users", Other = "four unrelated garden words";

    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    [Fact]
    public async Task Somebody_whom_the_lead_has_made_approver_releases_nothing_of_the_leads_until_another_confirms_it()
    {
        await AddAsync("mate", "Mate", Roles.Approver);
        var run = _site.Do<PayRunSteps, int>(s =>
        {
            var id = s.Gather(new DateOnly(2026, 10, 31), "Lena");
            s.Lock(id, "Lena");
            return id;
        });
        void Approve(string by) => _site.Do<PayRunSteps, int>(s =>
        {
            s.Approve(run, _site.Do<PayRunDesk, string>(d => d.Find(run)!.ControlText), by);
            return 0;
        });
        Assert.Contains("gave Mate the role", Assert.Throws<RefusedException>(() => Approve("Mate")).Message, StringComparison.Ordinal);
        // Neither who gave it nor who got it says that it is right; a bookkeeper may not.
        Assert.Equal(HttpStatusCode.Conflict, (await ConfirmAsync(_lead, "Mate")).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await ConfirmAsync(await SignedInAsync("mate", Other), "Mate")).StatusCode);
        Assert.Contains("/refused", (await ConfirmAsync(await _site.SignedInAsync("bookkeeper"), "Mate")).Headers.Location!.ToString(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await ConfirmAsync(await _site.SignedInAsync("approver"), "Mate")).StatusCode);
        Approve("Mate");
        Assert.Contains(Record(), r => r is { By: "Aron", Action: "confirm the role approver", Subject: "Mate" });
    }

    [Fact]
    public async Task A_lead_is_confirmed_by_a_lead_only()
    {
        await AddAsync("second", "Second", Roles.Lead);
        Assert.Equal(HttpStatusCode.Conflict, (await ConfirmAsync(await _site.SignedInAsync("approver"), "Second")).StatusCode);
        _site.Do<UserDesk, int>(d =>
        {
            d.ConfirmAtTheMachine("second", "root");
            return 0;
        });
        Assert.Null(Of("Second").MadeBy);
    }

    [Fact]
    public async Task Another_role_a_reset_and_the_end_sign_somebody_out_and_wait_for_another_person()
    {
        var approver = await _site.SignedInAsync("approver");
        Assert.Equal(HttpStatusCode.OK, (await approver.GetAsync("/2026-10")).StatusCode);
        await TestSite.PostAsync(_lead, $"{Users}?handler=Role", new() { ["user"] = Of("Aron").Id, ["Role"] = Roles.Bookkeeper }, Users);
        Assert.Equal(HttpStatusCode.Redirect, (await approver.GetAsync("/2026-10")).StatusCode);
        Assert.Equal((Roles.Bookkeeper, "Lena"), (Of("Aron").Role, Of("Aron").MadeBy));

        var page = await (await TestSite.PostAsync(_lead, $"{Users}?handler=Reset", new() { ["user"] = Of("Bea").Id }, Users)).Content.ReadAsStringAsync();
        var link = WebUtility.HtmlDecode(Link().Match(page).Value);
        Assert.Equal("Lena", Of("Bea").MadeBy);
        var stranger = _site.Visitor();
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(stranger, link, new() { ["Password"] = Other, ["user"] = Of("Bea").Id, ["token"] = Token(link) })).StatusCode);
        await SignedInAsync("bookkeeper", Other);
        // Once.
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(stranger, link, new() { ["Password"] = Other + "!", ["user"] = Of("Bea").Id, ["token"] = Token(link) })).StatusCode);

        var bookkeeper = await SignedInAsync("bookkeeper", Other);
        await TestSite.PostAsync(_lead, $"{Users}?handler=End", new() { ["user"] = Of("Bea").Id }, Users);
        Assert.Equal(HttpStatusCode.Redirect, (await bookkeeper.GetAsync("/2026-10")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await SignInAsync("bookkeeper", Other)).StatusCode);
    }

    [Fact]
    public async Task A_cookie_is_worth_nothing_after_signing_out()
    {
        var cookie = (await SignInAsync("lead", TestSite.Password)).Headers.GetValues("Set-Cookie").Single(c => c.StartsWith("evensplit=", StringComparison.Ordinal)).Split(';')[0];
        async Task<HttpStatusCode> AskAsync()
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, "/2026-10");
            request.Headers.Add("Cookie", cookie);
            return (await _site.CreateClient(new() { AllowAutoRedirect = false, HandleCookies = false }).SendAsync(request)).StatusCode;
        }
        Assert.Equal(HttpStatusCode.OK, await AskAsync());
        // Each sign-in is listed, and ended by itself.
        await TestSite.PostAsync(_lead, $"{Users}?handler=Session", new() { ["session"] = Of("Lena").Sessions[^1].Id }, Users);
        Assert.Equal(HttpStatusCode.Redirect, await AskAsync());
        var signedIn = await _site.SignedInAsync("lead");
        await TestSite.PostAsync(signedIn, "/sign-out", [], "/2026-10");
        // Who opened the book is signed in still, and this lead.
        Assert.Equal(2, Of("Lena").Sessions.Count);
    }

    [Fact]
    public async Task The_last_lead_stays_and_nobody_changes_their_own_role()
    {
        Assert.Throws<RefusedException>(() => _site.Do<UserDesk, int>(d =>
        {
            d.End(Of("Lena").Id, "Aron");
            return 0;
        }));
        Assert.Equal(HttpStatusCode.Conflict, (await TestSite.PostAsync(_lead, $"{Users}?handler=Role", new() { ["user"] = Of("Lena").Id, ["Role"] = Roles.Approver }, Users)).StatusCode);
    }

    [Theory]
    [InlineData("Password1234!")]
    [InlineData("qwertyuiop123")]
    [InlineData("aaaaaaaaaaaaaa")]
    [InlineData("123456789012")]
    [InlineData("new-person-1")]
    public async Task A_password_that_is_tried_first_is_refused(string password)
    {
        var answer = await TestSite.PostAsync(_lead, Users, new() { ["DisplayName"] = "New Person", ["UserName"] = "new-person", ["Role"] = Roles.Bookkeeper, ["Password"] = password });
        Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
        Assert.DoesNotContain(_site.Do<UserDesk, IReadOnlyList<UserView>>(d => d.List()), u => u.Name == "New Person");
    }

    [Fact]
    public async Task Names_that_are_known_and_that_are_not_are_answered_alike_and_on_record()
    {
        foreach (var name in new[] { "approver", "nobody at all" })
        {
            for (var i = 0; i < 7; i++)
            {
                var answer = await SignInAsync(name, "wrong");
                Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
                Assert.Contains(i < 6 ? "do not go together" : "Wait ten minutes", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
            }
        }
        Assert.Equal(12, Record().Count(r => r.Action == "fail to sign in"));
    }

    [Fact]
    public void Whoever_guesses_is_slowed_down_by_address_and_name_and_nobody_else()
    {
        var throttle = new SignInThrottle();
        for (var i = 0; i < 6; i++) throttle.Failed("1.2.3.4", "Lena");
        Assert.True(throttle.IsTooMany("1.2.3.4", "lena"));
        Assert.False(throttle.IsTooMany("1.2.3.4", "aron"));
        Assert.False(throttle.IsTooMany("5.6.7.8", "lena"));
        for (var i = 0; i < 60; i++) throttle.Failed("9.9.9.9", $"name {i}");
        Assert.True(throttle.IsTooMany("9.9.9.9", "one more"));
    }

    private Task<HttpResponseMessage> ConfirmAsync(HttpClient client, string name) => TestSite.PostAsync(client, $"{Users}?handler=Confirm", new() { ["user"] = Of(name).Id }, Users);

    private async Task AddAsync(string userName, string name, string role) =>
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(_lead, Users, new() { ["DisplayName"] = name, ["UserName"] = userName, ["Role"] = role, ["Password"] = Other })).StatusCode);

    private Task<HttpResponseMessage> SignInAsync(string name, string password) => TestSite.PostAsync(_site.Visitor(), "/sign-in", new() { ["UserName"] = name, ["Password"] = password });

    private async Task<HttpClient> SignedInAsync(string name, string password)
    {
        var client = _site.Visitor();
        Assert.Equal(HttpStatusCode.Redirect, (await TestSite.PostAsync(client, "/sign-in", new() { ["UserName"] = name, ["Password"] = password })).StatusCode);
        return client;
    }

    private UserView Of(string name) => _site.Do<UserDesk, UserView>(d => d.List().Single(u => u.Name == name));

    private AuditRecord[] Record() => _site.Do<BookDbContext, AuditRecord[]>(db => [.. db.Audit]);

    private static string Token(string link) => Uri.UnescapeDataString(link[(link.IndexOf("token=", StringComparison.Ordinal) + 6)..]);

    [GeneratedRegex("/new-password\\?[^<\"]+")]
    private static partial Regex Link();
}
