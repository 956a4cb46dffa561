using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

[AllowAnonymous]
public sealed class SignInPage(SignInManager<BookUser> signIn, BookCache cache) : BookPage
{
    [BindProperty]
    public string UserName { get; set; } = "";

    [BindProperty]
    public string Password { get; set; } = "";

    public string BookName => cache.Find()?.Record.Name ?? "";

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync(string? returnUrl)
    {
        var result = await signIn.PasswordSignInAsync(UserName, Password, isPersistent: false, lockoutOnFailure: true);
        if (result.Succeeded) return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
        ModelState.AddModelError("", result.IsLockedOut
            ? "Too many wrong passwords. Wait ten minutes, then try again."
            : "That name and password do not go together.");
        Response.StatusCode = StatusCodes.Status401Unauthorized;
        return Page();
    }
}
