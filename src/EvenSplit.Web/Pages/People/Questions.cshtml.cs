using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What payees ask, with the way to what it is about, and the answers.</summary>
public sealed class QuestionsPage(PayeeQuestions questions, OwnTraces traces) : BookPage
{
    private const int MostTraces = 20;

    /// <summary>The question that is answered.</summary>
    [BindProperty(Name = "question")]
    public int Answered { get; set; }

    /// <summary>By question that is open, the entry it is about.</summary>
    public IReadOnlyDictionary<int, OwnEntry> Traces { get; private set; } = new Dictionary<int, OwnEntry>();

    [BindProperty, StringLength(2000)]
    public string Reply { get; set; } = "";

    public IReadOnlyList<PayeeQuestionRecord> Rows { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show()
    {
        Rows = questions.All();
        Traces = Rows.Where(q => q is { AnsweredAt: null, EntryId: not null }).Take(MostTraces).Select(q => (q.Id, Entry: traces.Find(q.Payee, q.EntryId!.Value))).Where(q => q.Entry is not null).ToDictionary(q => q.Id, q => q.Entry!);
    }

    public IActionResult OnPost()
    {
        questions.Answer(Answered, Reply, By, $"{Request.Scheme}://{Request.Host}");
        Done = "It is answered; they have it by mail.";
        return RedirectToPage();
    }

    public string Local(DateTimeOffset at) => Book.Local(at);

    public string NameOf(string payee) => Book.PayeeName(payee);

    public int Open => Rows.Count(r => r.AnsweredAt is null);
}
