using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Documents;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>A payee's statements: all of them, or one.</summary>
public sealed class OwnStatementsPage(OwnHome home, Statements statements, ShownToPayees shown, Advices advices, SelfBills selfBills, BookCache cache) : OwnPage(cache)
{
    private const int MostLines = 300;

    /// <summary>The run; null for the list.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Run { get; set; }

    public IReadOnlyList<OwnRun> Runs { get; private set; } = [];

    public Statement? Statement { get; private set; }

    /// <summary>The invoice that was written for them with it; null where none was.</summary>
    public SelfBill? Bill { get; private set; }

    /// <summary>What was paid in each year, by currency.</summary>
    public IEnumerable<(int Year, Money Paid)> Years => Runs.Where(r => r.PaidOn is not null && r.State == RemittanceState.Confirmed).GroupBy(r => (r.PaidOn!.Value.Year, r.Paid.Currency)).OrderByDescending(g => g.Key.Year)
        .Select(g => (g.Key.Year, new Money(g.Sum(r => r.Paid.Minor), g.Key.Currency)));

    public IActionResult OnGet()
    {
        Runs = home.Of(PayeeId).Runs;
        if (Run is not { } run) return Page();
        Statement = statements.Find(run, PayeeId, MostLines) is { } found ? shown.Shown(found) : null;
        Bill = selfBills.Find(run, PayeeId);
        return Statement is null ? NotFound() : Page();
    }

    public IActionResult OnGetPdf() => Run is { } run && advices.Own(run, PayeeId) is { } document ? File(document, "application/pdf", $"statement-{run}.pdf") : NotFound();

    public IActionResult OnGetInvoice() => Run is { } run && advices.OwnInvoice(run, PayeeId) is { } bill ? File(bill.Document, "application/pdf", $"invoice-{bill.Number}.pdf") : NotFound();

    public IActionResult OnGetCsv() => Run is { } run && statements.Find(run, PayeeId) is { } statement
        ? new CsvDownload($"statement-{CsvDownload.Date(statement.AsOf)}.csv", StatementTable.Header, StatementTable.Rows(shown.Shown(statement), Advice.Payment(statement)))
        : NotFound();
}
