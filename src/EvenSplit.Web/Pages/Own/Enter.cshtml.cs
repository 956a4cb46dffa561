using EvenSplit.Books;
using EvenSplit.Books.Own;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Where the mailed link leads. Only the button signs in: readers of mail open links by themselves.</summary>
[AllowAnonymous]
public sealed class OwnEnterPage(PayeeSignIn signIn, BookCache cache, IConfiguration configuration) : PublicPage(cache)
{
    [BindProperty(SupportsGet = true)]
    public string Token { get; set; } = "";

    /// <summary>The page of theirs that they came for.</summary>
    [BindProperty(SupportsGet = true)]
    public string To { get; set; } = "";

    public bool Opens { get; private set; }

    /// <summary>The address that the link makes theirs; null where it signs in.</summary>
    public string? NewEmail { get; private set; }

    public bool IsTaken { get; private set; }

    private string Browser => AskedInBrowser.SecretIn(HttpContext, Surroundings.IsBehindTls(configuration));

    public void OnGet() => Show();

    public override void Show() => (Opens, NewEmail) = (signIn.Opens(Token, Browser), signIn.NewEmail(Token));

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync()
    {
        if (signIn.Open(Token, Browser, Request.Headers.UserAgent.ToString()) is not { } session)
        {
            Show();
            return Page();
        }
        await PayeeCookie.StartAsync(HttpContext, session, Book.PayeeName(session.Payee));
        return LocalRedirect(OwnAddress.Of(To));
    }

    /// <summary>The address is theirs. It signs nobody in.</summary>
    [WriteBy(Policies.Anyone)]
    public void OnPostAddress() => IsTaken = signIn.TakeNewEmail(Token);
}
