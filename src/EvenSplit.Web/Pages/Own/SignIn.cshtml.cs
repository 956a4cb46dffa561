using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>A payee asks for a link, or signs in by a passkey or a password with a code. What it answers never depends on whether the address is known.</summary>
[AllowAnonymous]
public sealed class OwnSignInPage(
    PayeeSignIn signIn, PayeeLogins logins, PasskeyAsking<PayeeLogin> passkeys, ApplyThrottle throttle, SignInThrottle tries, AuditLog audit, BookCache cache, IConfiguration configuration) : PublicPage(cache)
{
    /// <summary>How tries of payees are counted, apart from those of the house.</summary>
    private const string OfPayees = "payee ";

    [BindProperty]
    public string Email { get; set; } = "";

    [BindProperty]
    public string Password { get; set; } = "";

    [BindProperty]
    public string Code { get; set; } = "";

    /// <summary>What a passkey answered, as JSON of WebAuthn.</summary>
    [BindProperty]
    public string Passkey { get; set; } = "";

    [BindProperty]
    public string Stamp { get; set; } = "";

    /// <summary>The page of theirs that they came for.</summary>
    [BindProperty(SupportsGet = true)]
    public string ReturnUrl { get; set; } = "";

    public bool IsSent { get; private set; }

    /// <summary>Whether they tried by password, so that its fields stay open.</summary>
    public bool IsByPassword { get; private set; }

    public string PasskeyOptions { get; private set; } = "";

    private string Agent => Request.Headers.UserAgent.ToString();

    public Task OnGetAsync() => LookAsync();

    public override void Show() => LookAsync().GetAwaiter().GetResult();

    [WriteBy(Policies.Anyone)]
    public IActionResult OnPost()
    {
        IsSent = IsMachine;
        if (IsSent) return Page();
        if (throttle.Refusal(Stamp, HttpContext.Connection.RemoteIpAddress) is { } refusal) throw new RefusedException(refusal);
        var browser = PayeeSignIn.NewSecret();
        AskedInBrowser.Keep(HttpContext, Surroundings.IsBehindTls(configuration), browser);
        signIn.Ask(Email, browser, Site, OwnAddress.IsOwn(ReturnUrl) ? ReturnUrl : "");
        IsSent = true;
        return Page();
    }

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostPasswordAsync()
    {
        IsByPassword = true;
        var isTooMany = tries.IsTooMany(From, OfPayees + Email);
        if (!isTooMany && await logins.WhoAsync(Email, Password, Code) is { } payee)
        {
            tries.Succeeded(From, OfPayees + Email);
            return await StartAsync(payee, "password and app");
        }
        tries.Failed(From, OfPayees + Email);
        audit.NoteAlone("somebody", isTooMany ? "try to sign in too often" : "fail to sign in", "as a payee");
        return await AgainAsync(isTooMany ? SignInThrottle.TooMany : "Address, password and code do not go together. Or let us mail you a link.");
    }

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostPasskeyAsync()
    {
        var isTooMany = tries.IsTooMany(From, OfPayees);
        if (!isTooMany && await passkeys.WhoAsync(Passkey) is { } login) return await StartAsync(login.Id, "passkey");
        tries.Failed(From, OfPayees);
        audit.NoteAlone("somebody", "fail to sign in", "as a payee, with a passkey");
        return await AgainAsync(isTooMany ? SignInThrottle.TooMany : "This passkey is not known here. Let us mail you a link.");
    }

    private async Task<IActionResult> StartAsync(string payee, string by)
    {
        var session = signIn.Start(payee, by, Agent);
        await PayeeCookie.StartAsync(HttpContext, session, Book.PayeeName(payee));
        return LocalRedirect(OwnAddress.Of(ReturnUrl));
    }

    private async Task<IActionResult> AgainAsync(string fault)
    {
        ModelState.AddModelError("", fault);
        await LookAsync();
        Response.StatusCode = StatusCodes.Status401Unauthorized;
        return Page();
    }

    private async Task LookAsync()
    {
        (Stamp, PasskeyOptions) = (throttle.Stamp(), await passkeys.OptionsAsync(null));
        ModelState.Remove(nameof(Stamp));
    }
}
