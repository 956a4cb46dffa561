using System.ComponentModel.DataAnnotations;
using EvenSplit.Books;
using EvenSplit.Books.Joining;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Anybody asks to take part. What it answers never depends on whether the address is known.</summary>
[AllowAnonymous]
public sealed class ApplyPage(Applying applying, ApplyThrottle throttle, BookCache cache) : PublicPage(cache)
{
    /// <summary>Asked for by a link of its own; empty for all that take new people.</summary>
    [BindProperty(SupportsGet = true)]
    public string Agreement { get; set; } = "";

    [BindProperty]
    public ApplicationFields Fields { get; set; } = new();

    [BindProperty]
    public string Stamp { get; set; } = "";

    public IReadOnlyList<OpenAgreement> Open { get; private set; } = [];

    public OpenAgreement? Chosen { get; private set; }

    /// <summary>Whether it was sent: the same for everybody.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Sent { get; set; }

    public IActionResult OnGet()
    {
        Show();
        return Agreement.Length > 0 && Chosen is null ? NotFound() : Page();
    }

    public override void Show()
    {
        Open = applying.Open();
        Chosen = Agreement.Length > 0 ? Open.FirstOrDefault(a => a.Id == Agreement) : Open.Count == 1 ? Open[0] : null;
        Stamp = throttle.Stamp();
        ModelState.Remove(nameof(Stamp));
    }

    [WriteBy(Policies.Anyone)]
    public IActionResult OnPost()
    {
        if (IsMachine) return Answered();
        if (throttle.Refusal(Stamp, HttpContext.Connection.RemoteIpAddress) is { } refusal) throw new RefusedException(refusal);
        var faults = applying.Ask(Agreement, Fields.ToDraft(), From, Site);
        if (faults.Count == 0) return Answered();
        Refuse(faults);
        Show();
        return Page();
    }

    private RedirectToPageResult Answered() => RedirectToPage(new { agreement = Agreement, sent = true });
}

/// <summary>An answer as typed.</summary>
public sealed class AnswerField
{
    [StringLength(4000)]
    public string Text { get; set; } = "";
}

/// <summary>What somebody types who asks, or who accepts an invitation.</summary>
public sealed class ApplicationFields
{
    public string Name { get; set; } = "";

    public string Email { get; set; } = "";

    public string Country { get; set; } = "";

    [StringLength(4000)]
    public string Sites { get; set; } = "";

    [StringLength(4000)]
    public string Note { get; set; } = "";

    public List<AnswerField> Answers { get; set; } = [];

    public bool Accepts { get; set; }

    internal ApplicationDraft ToDraft() => new() { Name = Name, Email = Email, Country = Country, Sites = Sites, Note = Note, Answers = [.. Answers.Select(a => a.Text)], Accepts = Accepts };
}
