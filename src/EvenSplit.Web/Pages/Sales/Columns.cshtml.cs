using EvenSplit.Books;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Shops;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What the columns of a file are, shown as the file would be taken.</summary>
[Authorize(Policies.Change)]
public sealed class ColumnsPage(FileColumns columns, BookClock clock) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    [BindProperty]
    public ImportKind Kind { get; set; }

    [BindProperty]
    public string Source { get; set; } = "";

    [BindProperty]
    public Dictionary<string, string> Theirs { get; set; } = [];

    [BindProperty]
    public Dictionary<string, string> Always { get; set; } = [];

    [BindProperty]
    public DateOrder? Dates { get; set; }

    [BindProperty]
    public DecimalMark? Decimals { get; set; }

    [BindProperty]
    public bool IsInUtc { get; set; }

    [BindProperty]
    public bool NumbersLines { get; set; }

    [BindProperty]
    public bool PriceIsOfLine { get; set; }

    /// <summary>The day from which the terms of a file hold.</summary>
    [BindProperty]
    public DateOnly? From { get; set; }

    /// <summary>What adjustments were shown to add: they are added only as they were seen.</summary>
    [BindProperty]
    public string Seen { get; set; } = "";

    internal const int PayeesShown = 50;

    public FileReading Reading { get; private set; } = null!;

    internal override bool IsThere => columns.Find(Id) is not null;

    /// <summary>Values of the book that a column may have in every row.</summary>
    public IReadOnlyList<string> Known(string column) => column switch
    {
        "prices_include_tax" or "requires_shipping" => ["yes", "no"],
        "role" => ["affiliate", "collaborator", "vendor"],
        "kind" when Reading.Kind == ImportKind.Adjustments => ["bonus", "recharge", "correction"],
        "scope_kind" => ["all", "collection", "product", "variant"],
        _ => [],
    };

    public static string InAll(AdjustmentsAhead ahead) => string.Join(" and ", ahead.InAll.Select(m => m.InWords()));

    public string NameOf(string payee) => Book.PayeeName(payee);

    /// <summary>The field in which a column of the file is chosen.</summary>
    public static string FieldOf(string column) => $"Theirs[{column}]";

    public IActionResult OnGet()
    {
        if (columns.Find(Id) is not { } reading) return NotFound();
        (Reading, From) = (reading, clock.NextMonthAfter(Period));
        return Page();
    }

    public override void Show() => Reading = columns.Look(Id, Kind, Chosen, Source)!;

    public IActionResult OnPostLook()
    {
        Show();
        return Page();
    }

    public IActionResult OnPostKind()
    {
        Reading = columns.Look(Id, Kind, columns.Guess(Id, Kind), Source)!;
        return Page();
    }

    public IActionResult OnPost()
    {
        // A file that was taken meanwhile is there no more; that is told where it would be taken.
        if (Kind == ImportKind.Adjustments && columns.Look(Id, Kind, Chosen, Source) is { Adjustments: { } ahead } unseen && InAll(ahead) != Seen)
        {
            Reading = unseen;
            return Page();
        }
        var taken = columns.Take(Id, Kind, Chosen, Source, From, By);
        switch (taken.Kind)
        {
            case ImportKind.Adjustments:
                Done = AdjustmentsPage.Added(taken.Added, taken.Known);
                return Redirect($"/{Period}/pay/adjustments");
            case ImportKind.Rates:
                Done = FeesPage.Taken(taken.Added);
                return Redirect($"/{Period}/sales/fees");
            default: return Redirect($"/{Period}/{(taken.ImportId is { } import ? $"sales/imports/{import}" : $"terms/bulk/{taken.ChangeId}")}");
        }
    }

    public IActionResult OnPostDiscard()
    {
        columns.Discard(Id, By);
        Done = "The file is thrown away; nothing of it is in the book.";
        return Redirect($"/{Period}/sales/import");
    }

    private FileLayout Chosen => new()
    {
        Columns = Theirs.Where(t => !string.IsNullOrEmpty(t.Value)).ToDictionary(),
        Always = Always.Where(a => !string.IsNullOrWhiteSpace(a.Value) && string.IsNullOrEmpty(Theirs.GetValueOrDefault(a.Key))).ToDictionary(a => a.Key, a => a.Value.Trim()),
        Dates = Dates,
        Decimals = Decimals,
        IsInUtc = IsInUtc,
        NumbersLines = NumbersLines && string.IsNullOrEmpty(Theirs.GetValueOrDefault("line_id")),
        PriceIsOfLine = PriceIsOfLine,
        OthersAreNotRead = true,
    };
}
