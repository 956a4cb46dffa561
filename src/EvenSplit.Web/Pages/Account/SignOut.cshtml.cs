using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class SignOutPage(SignInManager<BookUser> signIn) : BookPage
{
    public IActionResult OnGet() => Redirect("/");

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync()
    {
        await signIn.SignOutAsync();
        return Redirect("/sign-in");
    }
}
