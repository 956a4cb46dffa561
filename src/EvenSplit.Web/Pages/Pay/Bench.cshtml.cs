using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>One design for three benches: what they say, what we say, and a line between what belongs together.</summary>
public sealed class BenchPage(Benches benches, SettleFindings settle, TakeTheirs theirs) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public Bench Bench { get; set; }

    [BindProperty(SupportsGet = true)]
    public BenchShows Shows { get; set; }

    /// <summary>A finding's code; empty for any.</summary>
    [BindProperty(SupportsGet = true)]
    public string Finding { get; set; } = "";

    /// <summary>The row that is open in the reading pane.</summary>
    [BindProperty(SupportsGet = true)]
    public string Row { get; set; } = "";

    [BindProperty(SupportsGet = true, Name = "from")]
    public int Part { get; set; }

    [BindProperty]
    public List<string> Marked { get; set; } = [];

    [BindProperty]
    public string Reason { get; set; } = "";

    [BindProperty]
    public DateOnly? Until { get; set; }

    public BenchView View { get; private set; } = null!;

    public BenchDetail? Detail { get; private set; }

    public IReadOnlyList<FeesTaken> Fees { get; private set; } = [];

    public IReadOnlyList<ProcessorBenchRecord> Processors { get; private set; } = [];

    private Finding Of => Findings.OfCode(Finding);

    public void OnGet() => Show();

    public override void Show()
    {
        View = benches.Find(Bench, Period, Shows, Of, Math.Max(0, Part));
        // The first that needs somebody is open as one comes.
        var row = Row.Length > 0 ? Row : Shows == BenchShows.Open && View.Rows is [var first, ..] ? first.Row.ToString() : "";
        Detail = row.Length > 1 && row[0] is 'l' or 'o' ? benches.Open(Bench, BenchRow.Parse(row)) : null;
        if (Bench != Bench.Processors) return;
        Fees = benches.Fees(Period);
        Processors = benches.Processors();
    }

    public IActionResult OnPostAccept() => Settled(rows => settle.Accept(Bench, rows, Reason, By), "Accepted");

    public IActionResult OnPostWait() => Settled(rows => settle.Wait(Bench, rows, Until, Reason, By), "Waiting");

    public IActionResult OnPostBook(string account) => Settled(rows => settle.BookTo(rows, account ?? "", Reason, By), "Booked");

    public IActionResult OnPostUndo() => Settled(rows => settle.Undo(Bench, rows, By), "Undone");

    public IActionResult OnPostTake() => Settled(rows => theirs.Take([.. rows.Where(r => r.Line is not null).Select(r => r.Line!.Value)], Reason, By), "Their fee is taken");

    public IActionResult OnPostLink(string ours) => Settled(
        rows =>
        {
            if (rows is not [{ Line: { } line }]) throw new RefusedException("Choose one line to link.");
            settle.Link(Bench, line, ours ?? "", Reason, By);
        },
        "Linked");

    /// <summary>Takes the best suggestion of every open row that is at least as sure.</summary>
    public IActionResult OnPostSuggested(int sureness)
    {
        if (sureness is < 1 or > 100) throw new RefusedException("Give a sureness from 1 to 100.", "Sureness");
        var taken = 0;
        var given = new HashSet<string>();
        foreach (var item in benches.Find(Bench, Period, BenchShows.Open, Of, 0).Rows)
        {
            // One thing of ours is for one line; what another took a moment ago is gone.
            if (item.Suggested is not [var best, ..] || best.Sureness < sureness || item.Row.Line is not { } line || best.Ours.Split('+').Any(o => !given.Add(o))) continue;
            settle.Link(Bench, line, best.Ours, $"suggested, {best.Sureness} % sure: {best.Why}", By);
            taken++;
        }
        return Told(taken == 0 ? $"No suggestion is {sureness} % sure." : $"{MoneyWords.Count(taken, "suggestion")} taken.", null);
    }

    public IActionResult OnPostSettlement(string settlement)
    {
        var lines = theirs.OfSettlement(settlement ?? "");
        if (lines.Length == 0) throw new RefusedException("No sale of it has another fee any more.");
        theirs.Take(lines, Reason.Length > 0 ? Reason : $"all of {settlement}", By);
        return Told($"{MoneyWords.Count(lines.Length, "fee")} of {settlement} taken.", null);
    }

    public IActionResult OnPostRule(string processor, bool takes, int settleWithin)
    {
        theirs.SetRule(processor ?? "", takes, settleWithin, By);
        return Told(takes ? $"The fees of {processor} are taken as they come." : $"The fees of {processor} wait until somebody takes them.", null);
    }

    public IActionResult OnPostTolerance(string report, string tolerance)
    {
        settle.SetTolerance(report ?? "", tolerance ?? "", By);
        return Told("Compared again.", null);
    }

    public string Address(object? row = null, BenchShows? shows = null, string? finding = null, int? part = null)
    {
        var query = new List<string>();
        if ((shows ?? Shows) != BenchShows.Open) query.Add($"shows={(shows ?? Shows).ToString().ToLowerInvariant()}");
        if ((finding ?? Finding).Length > 0) query.Add($"finding={finding ?? Finding}");
        if ((part ?? Part) > 0) query.Add($"from={part ?? Part}");
        if (row is not null) query.Add($"row={Uri.EscapeDataString(row.ToString()!)}");
        return $"/{Period}/pay/bench/{Bench.ToString().ToLowerInvariant()}{(query.Count > 0 ? "?" + string.Join('&', query) : "")}";
    }

    public static string Words(Bench bench) => bench switch
    {
        Bench.Processors => "processors",
        Bench.Bank => "the bank",
        _ => "partners",
    };

    public string Local(DateTimeOffset at) => Book.Local(at);

    public string PayeeName(string id) => Book.PayeeName(id);

    private IActionResult Settled(Action<IReadOnlyList<BenchRow>> how, string done)
    {
        string[] names = Marked.Count > 0 ? [.. Marked] : Row.Length > 0 ? [Row] : throw new RefusedException("Choose a row first.");
        var next = benches.Next(Bench, Period, Of, names[^1]);
        try
        {
            how([.. names.Select(BenchRow.Parse)]);
        }
        catch (RefusedException refused) when (Marked.Count > 0 && refused.Field is { } field)
        {
            // Told where the marked ones are settled; the open row has fields of the same names.
            throw new RefusedException(refused.Message, $"Marked.{field}");
        }
        return Told($"{done}: {MoneyWords.Count(names.Length, "row")}.", Shows == BenchShows.Open && next is not null && !names.Contains(next) ? next : null);
    }

    private RedirectResult Told(string done, string? row)
    {
        Done = done;
        return Redirect(Address(row));
    }
}
