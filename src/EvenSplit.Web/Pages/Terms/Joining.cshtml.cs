using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Who may join an agreement, what they are asked and what they get.</summary>
public sealed class JoiningPage(JoiningDesk desk, GivenGoods goods) : BookPage
{
    private const int EmptyRows = 3;

    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty]
    public JoiningFields Draft { get; set; } = new();

    /// <summary>Goods that were given to people as they joined.</summary>
    public (int People, IReadOnlyList<Money> Cost) Given { get; private set; }

    public JoiningRecord Record { get; private set; } = null!;

    internal override string? About => "agreement:" + Id;

    internal override bool IsThere => Book.Rules.Agreements.Any(a => a.Id.Value == Id);

    public string Name => Book.AgreementName(Id);

    public Currency Currency => Book.Rules.Agreement(new AgreementId(Id)).Currency;

    public string PublicAddress => $"{Request.Scheme}://{Request.Host}/apply/{Uri.EscapeDataString(Id)}";

    public IActionResult OnGet()
    {
        if (!IsThere) return NotFound();
        Draft = JoiningFields.Of(desk.Draft(Id));
        Show();
        return Page();
    }

    public override void Show()
    {
        (Record, Given) = (desk.Of(Id), goods.Under(Id));
        while (Draft.Questions.Count(q => q.Words.Length == 0) < EmptyRows) Draft.Questions.Add(new QuestionFields());
    }

    [Overwrites]
    public IActionResult OnPost() => Answer(desk.Save(Id, Draft.ToDraft(), By), "That is how people join from now on.");

    [Overwrites]
    public IActionResult OnPostPause() => Step(() => desk.Pause(Id, By), $"{Name} is paused: nobody brings anything by it from today on.");

    [Overwrites]
    public IActionResult OnPostResume()
    {
        var (back, elsewhere) = desk.Resume(Id, By);
        return Step(() => { }, $"{Name} runs again; {MoneyWords.Count(back, "payee is", "payees are")} back on it.{(elsewhere.Count == 0 ? "" : $" On another agreement by now: {string.Join(", ", elsewhere)}.")}");
    }

    private RedirectToPageResult Step(Action step, string done)
    {
        step();
        Done = done;
        return RedirectToPage(new { handler = "" });
    }
}

/// <summary>A question as typed.</summary>
public sealed class QuestionFields
{
    public int? Number { get; set; }

    public string Words { get; set; } = "";

    public QuestionKind Kind { get; set; }

    public bool IsNeeded { get; set; }

    [StringLength(2000)]
    public string Choices { get; set; } = "";
}

/// <summary>How people join, as typed.</summary>
public sealed class JoiningFields
{
    public JoiningWay Way { get; set; }

    [StringLength(20_000)]
    public string Intro { get; set; } = "";

    public List<QuestionFields> Questions { get; set; } = [];

    public int? HoldDays { get; set; }

    public int? RecordDays { get; set; }

    public int? RecordOrders { get; set; }

    public string RecordRefunds { get; set; } = "";

    public GiftKind Gift { get; set; }

    public string GiftAmount { get; set; } = "";

    public string GiftNote { get; set; } = "";

    public UnacceptedRule Unaccepted { get; set; }

    internal static JoiningFields Of(JoiningDraft d) => new()
    {
        Way = d.Way,
        Intro = d.Intro,
        Questions = [.. d.Questions.Select(q => new QuestionFields { Number = q.Number, Words = q.Words, Kind = q.Kind, IsNeeded = q.IsNeeded, Choices = q.Choices })],
        HoldDays = d.HoldDays,
        RecordDays = d.RecordDays,
        RecordOrders = d.RecordOrders,
        RecordRefunds = d.RecordRefunds,
        Gift = d.Gift,
        GiftAmount = d.GiftAmount,
        GiftNote = d.GiftNote,
        Unaccepted = d.Unaccepted,
    };

    internal JoiningDraft ToDraft() => new()
    {
        Way = Way,
        Intro = Intro,
        Questions = [.. Questions.Select(q => new QuestionDraft { Number = q.Number, Words = q.Words, Kind = q.Kind, IsNeeded = q.IsNeeded, Choices = q.Choices })],
        HoldDays = HoldDays,
        RecordDays = RecordDays,
        RecordOrders = RecordOrders,
        RecordRefunds = RecordRefunds,
        Gift = Gift,
        GiftAmount = GiftAmount,
        GiftNote = GiftNote,
        Unaccepted = Unaccepted,
    };
}
