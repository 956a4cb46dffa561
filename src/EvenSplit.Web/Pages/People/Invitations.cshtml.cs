using System.ComponentModel.DataAnnotations;
using EvenSplit.Books;
using EvenSplit.Books.Joining;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.Web.Pages;

/// <summary>People who are asked to take part.</summary>
public sealed class InvitationsPage(Invitations invitations, Applying applying) : BookPage
{
    [BindProperty]
    public string Agreement { get; set; } = "";

    [BindProperty, StringLength(200_000)]
    public string People { get; set; } = "";

    /// <summary>Whether a file was read into the form.</summary>
    public bool IsRead { get; private set; }

    public IReadOnlyList<InvitationRow> Rows { get; private set; } = [];

    public IReadOnlyList<OpenAgreement> Agreements { get; private set; } = [];

    private string Site => $"{Request.Scheme}://{Request.Host}";

    public void OnGet() => Show();

    public override void Show() => (Rows, Agreements) = (invitations.List(), applying.Open());

    public IActionResult OnPost()
    {
        var (invited, known) = invitations.Invite(Agreement, People, By, Site);
        return Step($"{MoneyWords.Count(invited, "person is", "people are")} invited{(known > 0 ? $"; {known} had been already, or take part" : "")}.");
    }

    /// <summary>Puts those a file names into the form; nobody is invited yet.</summary>
    public async Task<IActionResult> OnPostFileAsync(IFormFile? file)
    {
        if (file is null || file.Length == 0) throw new RefusedException("Choose a file first.", "File");
        using var reader = new StreamReader(file.OpenReadStream());
        return Filled(Invitations.NamedIn(file.FileName, await reader.ReadToEndAsync()));
    }

    /// <summary>Puts customers who bring friends into the form; nobody is invited yet.</summary>
    public IActionResult OnPostCustomers() => Filled(invitations.CustomersWhoBringFriends());

    private PageResult Filled(string people)
    {
        People = people;
        ModelState.Remove(nameof(People));
        IsRead = true;
        Show();
        return Page();
    }

    public IActionResult OnPostAgain(int invitation)
    {
        invitations.SendAgain(invitation, By, Site);
        return Step("It is mailed once more; the link before opens no more.");
    }

    public IActionResult OnPostWithdraw(int invitation)
    {
        invitations.Withdraw(invitation, By);
        return Step("It is withdrawn.");
    }

    private RedirectToPageResult Step(string done)
    {
        Done = done;
        return RedirectToPage(new { handler = "" });
    }

    public string Local(DateTimeOffset at) => Book.Local(at);

    /// <summary>What became of it.</summary>
    public string Words(InvitationRow row) => row.Record switch
    {
        { AcceptedAt: { } at } => $"accepted on {Local(at)}",
        { WithdrawnAt: { } at } => $"withdrawn on {Local(at)}",
        { OpenedAt: { } at } => $"opened on {Local(at)}",
        _ => "not opened yet",
    };
}
