using System.ComponentModel.DataAnnotations;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What a payee asked, and asks.</summary>
public sealed class OwnQuestionsPage(PayeeQuestions questions, BookCache cache) : OwnPage(cache)
{
    [BindProperty(SupportsGet = true)]
    public long? Entry { get; set; }

    [BindProperty(SupportsGet = true)]
    public int? Run { get; set; }

    [BindProperty, StringLength(2000)]
    public string Question { get; set; } = "";

    public IReadOnlyList<PayeeQuestionRecord> Rows { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => Rows = questions.Of(PayeeId);

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPost()
    {
        questions.Ask(PayeeId, Entry, Run, Question);
        Done = "It is asked. You get a mail when it is answered.";
        return RedirectToPage(new { entry = (long?)null, run = (int?)null });
    }
}
