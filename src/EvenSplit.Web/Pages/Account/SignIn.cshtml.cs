using System.Security.Cryptography;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>By name and password, then the second factor where somebody has one; or by a passkey alone, which is both.</summary>
[AllowAnonymous]
public sealed class SignInPage(
    UserManager<BookUser> users, SignInCookie cookie, SignInThrottle throttle, AuditLog audit, BookCache cache, SecondFactors factors, PasskeyAsking<BookUser> passkeys, IDataProtectionProvider protection) : BookPage
{
    /// <summary>How long somebody has for the second step.</summary>
    private static readonly TimeSpan SecondStep = TimeSpan.FromMinutes(5);

    private readonly ITimeLimitedDataProtector _half = protection.CreateProtector("half signed in").ToTimeLimitedDataProtector();

    [BindProperty]
    public string UserName { get; set; } = "";

    [BindProperty]
    public string Password { get; set; } = "";

    /// <summary>Who gave the right password and has not shown the second factor yet; sealed.</summary>
    [BindProperty]
    public string Half { get; set; } = "";

    [BindProperty]
    public string Code { get; set; } = "";

    /// <summary>What a passkey answered, as JSON of WebAuthn.</summary>
    [BindProperty]
    public string Passkey { get; set; } = "";

    public string BookName => cache.Find()?.Record.Name ?? "";

    /// <summary>What is asked for in the second step; null in the first.</summary>
    public SecondFactorView? Asked { get; private set; }

    /// <summary>What the browser is asked with for a passkey.</summary>
    public string PasskeyOptions { get; private set; } = "";

    private string Address => HttpContext.Connection.RemoteIpAddress?.ToString() ?? "";

    public async Task OnGetAsync() => PasskeyOptions = await passkeys.OptionsAsync(null);

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync(string? returnUrl)
    {
        if (Half.Length > 0) return await SecondAsync(returnUrl);
        var isTooMany = throttle.IsTooMany(Address, UserName);
        if (Passkey.Length > 0) return await ByPasskeyAsync(returnUrl);
        var user = isTooMany ? null : await users.FindByNameAsync(UserName);
        // As much work whether or not the name is known, so that the time does not tell.
        if (!isTooMany && await IsRightAsync(user))
        {
            if (await factors.OfAsync(user!) is { IsSet: true } has) return await AskAsync(user!, has);
            throttle.Succeeded(Address, UserName);
            await cookie.StartAsync(user!);
            return Onwards(returnUrl);
        }
        throttle.Failed(Address, UserName);
        audit.NoteAlone(Named(UserName), isTooMany ? "try to sign in too often" : "fail to sign in", Named(UserName));
        return await AgainAsync(isTooMany ? "Too many wrong passwords. Wait ten minutes, then try again." : "That name and password do not go together.");
    }

    private async Task<IActionResult> SecondAsync(string? returnUrl)
    {
        BookUser? user;
        try
        {
            user = await users.FindByIdAsync(_half.Unprotect(Half));
        }
        catch (CryptographicException)
        {
            user = null;
        }
        if (user is not { EndedAt: null }) return await AgainAsync("That took too long. Sign in anew.");
        var has = await factors.OfAsync(user);
        var isTooMany = throttle.IsTooManyCodes(user.Id);
        if (!isTooMany && (Passkey.Length > 0 ? await passkeys.IsOfAsync(user, Passkey) : await factors.IsRightAsync(user, Code)))
        {
            throttle.Succeeded(Address, user.UserName!);
            await cookie.StartAsync(user, isProved: true);
            return Onwards(returnUrl);
        }
        throttle.FailedCode(user.Id);
        audit.NoteAlone(user.DisplayName, "fail to show the second factor", user.UserName ?? "");
        ModelState.AddModelError("", isTooMany ? SignInThrottle.TooMany : Passkey.Length > 0 ? PasskeyAsking.NotTaken : "This is not the code of now, or it was used already. Wait for the next one.");
        return await AskAsync(user, has);
    }

    private async Task<IActionResult> ByPasskeyAsync(string? returnUrl)
    {
        if (await passkeys.WhoAsync(Passkey) is { EndedAt: null } user)
        {
            await cookie.StartAsync(user, isProved: true);
            return Onwards(returnUrl);
        }
        throttle.Failed(Address, "passkey");
        audit.NoteAlone("somebody", "fail to sign in", "with a passkey");
        return await AgainAsync("This passkey is not known here. Sign in with your name and password.");
    }

    private async Task<IActionResult> AskAsync(BookUser user, SecondFactorView has)
    {
        (Asked, Half) = (has, _half.Protect(user.Id, SecondStep));
        ModelState.Remove(nameof(Half));
        if (has.Passkeys.Count > 0) PasskeyOptions = await passkeys.OptionsAsync(user);
        return Page();
    }

    private async Task<IActionResult> AgainAsync(string fault)
    {
        ModelState.AddModelError("", fault);
        PasskeyOptions = await passkeys.OptionsAsync(null);
        Response.StatusCode = StatusCodes.Status401Unauthorized;
        return Page();
    }

    private LocalRedirectResult Onwards(string? returnUrl) => LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");

    private async Task<bool> IsRightAsync(BookUser? user)
    {
        if (user is { EndedAt: null, PasswordHash: not null }) return await users.CheckPasswordAsync(user, Password);
        users.PasswordHasher.VerifyHashedPassword(Nobody, NobodysHash, Password);
        return false;
    }

    private static readonly BookUser Nobody = new() { DisplayName = "" };

    private static readonly string NobodysHash = new PasswordHasher<BookUser>().HashPassword(Nobody, Guid.NewGuid().ToString());

    /// <summary>What was typed in the name's place may be long, or a password.</summary>
    private static string Named(string name) => name.Length <= 60 ? name : name[..60] + "…";
}
