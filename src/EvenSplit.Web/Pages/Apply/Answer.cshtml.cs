using System.ComponentModel.DataAnnotations;
using EvenSplit.Books;
using EvenSplit.Books.Joining;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Where somebody answers what was asked back.</summary>
[AllowAnonymous]
public sealed class AnswerPage(Applying applying, BookCache cache) : PublicPage(cache)
{
    [BindProperty(SupportsGet = true)]
    public string Token { get; set; } = "";

    [BindProperty, StringLength(4000)]
    public string Words { get; set; } = "";

    public (string Name, string Question)? Asked { get; private set; }

    public bool IsAnswered { get; private set; }

    public void OnGet() => Show();

    public override void Show() => Asked = applying.Asked(Token);

    [WriteBy(Policies.Anyone)]
    public IActionResult OnPost()
    {
        applying.Answer(Token, Words);
        IsAnswered = true;
        return Page();
    }
}
