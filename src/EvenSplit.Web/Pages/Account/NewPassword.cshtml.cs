using EvenSplit.Books;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Sets a new password by the link that a lead has given, once.</summary>
[AllowAnonymous]
public sealed class NewPasswordPage(UserDesk users) : BookPage
{
    [BindProperty(SupportsGet = true, Name = "user")]
    public string UserId { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string Token { get; set; } = "";

    [BindProperty]
    public string Password { get; set; } = "";

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync()
    {
        await users.ResetAsync(UserId, Token, Password);
        return Redirect("/sign-in");
    }
}
