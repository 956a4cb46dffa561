using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class SignOutPage(SignInCookie cookie) : BookPage
{
    public IActionResult OnGet() => Redirect("/");

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync()
    {
        await cookie.EndAsync(User);
        return Redirect("/sign-in");
    }
}
