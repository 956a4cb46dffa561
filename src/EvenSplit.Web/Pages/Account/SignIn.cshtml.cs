using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

[AllowAnonymous]
public sealed class SignInPage(UserManager<BookUser> users, SignInCookie cookie, SignInThrottle throttle, AuditLog audit, BookCache cache) : BookPage
{
    [BindProperty]
    public string UserName { get; set; } = "";

    [BindProperty]
    public string Password { get; set; } = "";

    public string BookName => cache.Find()?.Record.Name ?? "";

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync(string? returnUrl)
    {
        var address = HttpContext.Connection.RemoteIpAddress?.ToString() ?? "";
        var isTooMany = throttle.IsTooMany(address, UserName);
        var user = isTooMany ? null : await users.FindByNameAsync(UserName);
        // As much work whether or not the name is known, so that the time does not tell.
        if (!isTooMany && await IsRightAsync(user))
        {
            throttle.Succeeded(address, UserName);
            await cookie.StartAsync(user!);
            return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
        }
        throttle.Failed(address, UserName);
        audit.NoteAlone(Named(UserName), isTooMany ? "try to sign in too often" : "fail to sign in", Named(UserName));
        ModelState.AddModelError("", isTooMany ? "Too many wrong passwords. Wait ten minutes, then try again." : "That name and password do not go together.");
        Response.StatusCode = StatusCodes.Status401Unauthorized;
        return Page();
    }

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
