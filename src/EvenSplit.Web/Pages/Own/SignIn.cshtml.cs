using EvenSplit.Books;
using EvenSplit.Books.Own;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>A payee asks for a link. What it answers never depends on whether the address is known.</summary>
[AllowAnonymous]
public sealed class OwnSignInPage(PayeeSignIn signIn, ApplyThrottle throttle, BookCache cache, IConfiguration configuration) : PublicPage(cache)
{
    /// <summary>What the browser keeps until the link is opened in it.</summary>
    internal const string BrowserCookie = "evensplit-asked-link";

    [BindProperty]
    public string Email { get; set; } = "";

    [BindProperty]
    public string Stamp { get; set; } = "";

    public bool IsSent { get; private set; }

    public void OnGet() => Show();

    public override void Show()
    {
        Stamp = throttle.Stamp();
        ModelState.Remove(nameof(Stamp));
    }

    [WriteBy(Policies.Anyone)]
    public IActionResult OnPost()
    {
        IsSent = IsMachine;
        if (IsSent) return Page();
        if (throttle.Refusal(Stamp, HttpContext.Connection.RemoteIpAddress) is { } refusal) throw new RefusedException(refusal);
        var browser = PayeeSignIn.NewSecret();
        var cookie = new CookieBuilder();
        Surroundings.Name(cookie, BrowserCookie, Surroundings.IsBehindTls(configuration));
        var options = cookie.Build(HttpContext);
        // The link is opened from a mail, which is another site.
        (options.SameSite, options.MaxAge) = (SameSiteMode.Lax, PayeeSignIn.AskedLasts);
        Response.Cookies.Append(cookie.Name!, browser, options);
        signIn.Ask(Email, browser, Site);
        IsSent = true;
        return Page();
    }
}
