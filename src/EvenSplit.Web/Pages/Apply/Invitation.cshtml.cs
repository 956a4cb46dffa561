using EvenSplit.Books;
using EvenSplit.Books.Joining;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Where an invited person accepts.</summary>
[AllowAnonymous]
public sealed class InvitationPage(Invitations invitations, BookCache cache) : PublicPage(cache)
{
    [BindProperty(SupportsGet = true)]
    public string Token { get; set; } = "";

    [BindProperty]
    public ApplicationFields Fields { get; set; } = new();

    public OpenAgreement? Agreement { get; private set; }

    public bool IsIn { get; private set; }

    public void OnGet()
    {
        Show();
        Fields.Name = invitations.Find(Token)?.Invitation.Name ?? "";
    }

    public override void Show() => Agreement = invitations.Find(Token)?.Agreement;

    [WriteBy(Policies.Anyone)]
    public IActionResult OnPost()
    {
        var faults = invitations.Accept(Token, Fields.ToDraft(), From, Site);
        IsIn = faults.Count == 0;
        if (IsIn) return Page();
        Refuse(faults);
        Show();
        return Page();
    }
}
