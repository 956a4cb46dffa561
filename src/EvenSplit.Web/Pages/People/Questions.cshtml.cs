using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What payees ask, with the way to what it is about, and the answers.</summary>
public sealed class QuestionsPage(PayeeQuestions questions) : BookPage
{
    [BindProperty, StringLength(2000)]
    public string Reply { get; set; } = "";

    public IReadOnlyList<PayeeQuestionRecord> Rows { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => Rows = questions.All();

    public IActionResult OnPost(int question)
    {
        questions.Answer(question, Reply, By, $"{Request.Scheme}://{Request.Host}");
        Done = "It is answered; they have it by mail.";
        return RedirectToPage();
    }

    public string Local(DateTimeOffset at) => Book.Local(at);

    public string NameOf(string payee) => Book.PayeeName(payee);

    public int Open => Rows.Count(r => r.AnsweredAt is null);
}
