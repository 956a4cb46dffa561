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
        AskedInBrowser.Keep(HttpContext, Surroundings.IsBehindTls(configuration), browser);
        signIn.Ask(Email, browser, Site);
        IsSent = true;
        return Page();
    }
}
