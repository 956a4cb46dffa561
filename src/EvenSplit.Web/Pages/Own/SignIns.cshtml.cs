using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Where a payee is signed in; each can be ended from afar.</summary>
public sealed class OwnSignInsPage(PayeeSignIn signIn, BookCache cache) : OwnPage(cache)
{
    public IReadOnlyList<PayeeSessionRecord> Rows { get; private set; } = [];

    public string? This => PayeeCookie.SessionOf(User);

    public void OnGet() => Show();

    public override void Show() => Rows = signIn.Sessions(PayeeId);

    [WriteBy(Policies.OwnChange)]
    public async Task<IActionResult> OnPostAsync(string? session)
    {
        signIn.End(PayeeId, session ?? "");
        if (session == This) await HttpContext.SignOutAsync(PayeeCookie.Scheme);
        Done = "That sign-in is ended.";
        return RedirectToPage();
    }
}
