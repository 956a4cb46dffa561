using EvenSplit.Books.Record;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;

namespace EvenSplit.Web.Pages;

/// <summary>Who did what, when and from where, and what it changed.</summary>
public sealed class RecordPage(RecordList record) : BookPage
{
    [BindProperty(SupportsGet = true, Name = "by")]
    public string Who { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string Thing { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }

    [BindProperty(SupportsGet = true)]
    public long? Before { get; set; }

    public IReadOnlyList<RecordRow> Rows { get; private set; } = [];

    public long? Next { get; private set; }

    /// <summary>Whether all that matches is on this page.</summary>
    public bool IsWhole => Next is null && Before is null;

    public IReadOnlyList<string> People { get; private set; } = [];

    private RecordFilter Filter => new(Who, Thing, From, To, Before);

    public void OnGet()
    {
        (Rows, Next) = record.Find(Filter);
        People = record.People();
    }

    public IActionResult OnGetCsv() => new CsvDownload("record.csv", RecordTable.Header, RecordTable.Rows(record.All(Filter)));

    public string Local(DateTimeOffset at) => Book.Local(at);

    /// <summary>Where the thing itself is shown; null for one that has no page.</summary>
    public string? LinkTo(string thing)
    {
        var colon = thing.IndexOf(':', StringComparison.Ordinal);
        var id = Uri.EscapeDataString(thing[(colon + 1)..]);
        return thing[..colon] switch
        {
            "payee" => $"/{Period}/people/{id}",
            "agreement" => $"/{Period}/terms/{id}",
            "product" => $"/{Period}/terms/products/{id}",
            "run" => $"/{Period}/pay/{id}",
            "order" => $"/{Period}/sales/{id}",
            _ => null,
        };
    }

    public string Address(string? handler, long? before = null, string? thing = null) => QueryHelpers.AddQueryString($"/{Period}/books/record", new Dictionary<string, string?>
    {
        ["handler"] = handler,
        ["by"] = Who,
        ["thing"] = thing ?? Thing,
        ["from"] = From?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture),
        ["to"] = To?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture),
        ["before"] = before?.ToString(System.Globalization.CultureInfo.InvariantCulture),
    }.Where(v => !string.IsNullOrEmpty(v.Value)));
}
