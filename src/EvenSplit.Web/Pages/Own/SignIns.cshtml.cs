using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Web.Pictures;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>With what a payee signs in, and where they are signed in; each can be ended from afar.</summary>
public sealed class OwnSignInsPage(PayeeSignIn signIn, PayeeLogins logins, PasskeyAsking<PayeeLogin> passkeys, BookCache cache) : OwnPage(cache)
{
    [BindProperty]
    public string Password { get; set; } = "";

    /// <summary>What the app shown on this page was set up with.</summary>
    [BindProperty]
    public string Key { get; set; } = "";

    [BindProperty]
    public string Code { get; set; } = "";

    [BindProperty]
    public string PasskeyName { get; set; } = "";

    /// <summary>What a new passkey answered, as JSON of WebAuthn.</summary>
    [BindProperty]
    public string Passkey { get; set; } = "";

    public IReadOnlyList<PayeeSessionRecord> Rows { get; private set; } = [];

    public PayeeLoginView Has { get; private set; } = new(false, []);

    /// <summary>For an app to read.</summary>
    public IHtmlContent Picture { get; private set; } = HtmlString.Empty;

    public string PasskeyOptions { get; private set; } = "";

    public string? This => PayeeCookie.SessionOf(User);

    public Task OnGetAsync() => LookAsync();

    public override void Show() => LookAsync().GetAwaiter().GetResult();

    [WriteBy(Policies.OwnChange)]
    public async Task<IActionResult> OnPostAsync(string? session)
    {
        signIn.End(PayeeId, session ?? "");
        if (session == This) await HttpContext.SignOutAsync(PayeeCookie.Scheme);
        return Told("That sign-in is ended.");
    }

    [WriteBy(Policies.OwnChange)]
    public async Task<IActionResult> OnPostPasswordAsync()
    {
        await logins.TakePasswordAsync(PayeeId, Password, Key, Code, This ?? "");
        return Told("You can sign in with your address, this password and a code of the app.");
    }

    [WriteBy(Policies.OwnChange)]
    public async Task<IActionResult> OnPostNoPasswordAsync()
    {
        await logins.TakeAwayPasswordAsync(PayeeId, This ?? "");
        return Told("The password opens nothing any more.");
    }

    [WriteBy(Policies.OwnChange)]
    public async Task<IActionResult> OnPostPasskeyAsync()
    {
        var made = await passkeys.MadeAsync(Passkey, PayeeId) ?? throw new RefusedException("The passkey was not taken. Try again.", "PasskeyName");
        await logins.TakePasskeyAsync(PayeeId, made, PasskeyName, This ?? "");
        return Told("You can sign in with this passkey.");
    }

    [WriteBy(Policies.OwnChange)]
    public async Task<IActionResult> OnPostNoPasskeyAsync(string credential)
    {
        await logins.TakeAwayPasskeyAsync(PayeeId, credential, This ?? "");
        return Told("The passkey opens nothing any more.");
    }

    private IActionResult Told(string done)
    {
        Done = done;
        return RedirectToPage(new { handler = "" });
    }

    private async Task LookAsync()
    {
        (Rows, Has) = (signIn.Sessions(PayeeId), await logins.OfAsync(PayeeId));
        if (SeenBy is not null) return;
        PasskeyOptions = await passkeys.NewAsync(PayeeLogins.For(PayeeId), PayeeName);
        if (Has.HasPassword) return;
        // After a refusal the app that was set up already stays right.
        (Key, var link) = Key.Length > 0 ? logins.LinkOf(PayeeId, Key) : logins.NewKey(PayeeId);
        ModelState.Remove(nameof(Key));
        Picture = SquareCode.Draw(link);
    }
}
