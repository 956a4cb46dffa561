using EvenSplit.Books;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Assigns orders by hand, one, many or by file; the difference is shown before it is posted.</summary>
public sealed class AssignPage(AssignOrders assign) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public List<string> Orders { get; set; } = [];

    [BindProperty]
    public string Payee { get; set; } = "";

    [BindProperty]
    public string Note { get; set; } = "";

    [BindProperty]
    public new IFormFile? File { get; set; }

    /// <summary>The file's text, kept while its difference is looked at.</summary>
    [BindProperty]
    public string Rows { get; set; } = "";

    public IReadOnlyList<RowFault> Faults { get; private set; } = [];

    public AssignmentDifference? Difference { get; private set; }

    public IEnumerable<(string Id, string Name)> Payees => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public void OnGet()
    {
    }

    public void OnPostChoose()
    {
        if (Orders.Count == 0) throw new RefusedException("Mark at least one order in the list of orders, or name them in a file.", "Orders");
    }

    public async Task OnPostShowAsync(CancellationToken cancellation)
    {
        if (File is { Length: > AssignOrders.MaxBytes }) throw new RefusedException($"A file of assignments may have {AssignOrders.MaxBytes / 1024} KB.", "File");
        if (File is not null)
        {
            using var reader = new StreamReader(File.OpenReadStream());
            Rows = await reader.ReadToEndAsync(cancellation);
        }
        var assignments = Assignments();
        if (Faults.Count == 0) Difference = assign.Show(assignments, By);
        else Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
    }

    public IActionResult OnPostApply()
    {
        var assignments = Assignments();
        if (Faults.Count > 0) throw new RefusedException("The book has changed since the file was shown; bring it in again.", "File");
        var posted = assign.Assign(assignments, By);
        Done = $"{MoneyWords.Count(assignments.Count, "order")} assigned, {MoneyWords.Count(posted.Entries, "entry", "entries")} posted.";
        return Redirect(assignments is [var only] ? $"/{Period}/sales/{Uri.EscapeDataString(only.OrderId)}" : $"/{Period}/sales");
    }

    private IReadOnlyList<Assignment> Assignments()
    {
        if (Rows.Length == 0) return assign.ToOne(Orders, Payee, Note);
        var (assignments, faults) = assign.Read(Rows);
        Faults = faults;
        return assignments;
    }
}
