using EvenSplit.Books.PayRuns;
using EvenSplit.Web.Documents;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class StatementPage(Statements statements, Advices advices, SelfBills selfBills) : BookPage
{
    /// <summary>A page shows so many; the files have all.</summary>
    private const int MostLines = 300;

    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Payee { get; set; } = "";

    public Statement Statement { get; private set; } = null!;

    /// <summary>The invoice that was written in the payee's name with it; null where none was.</summary>
    public SelfBill? Bill { get; private set; }

    public IActionResult OnGet()
    {
        if (statements.Find(Id, Payee, MostLines) is not { } statement) return NotFound();
        (Statement, Bill) = (statement, selfBills.Find(Id, Payee));
        return Page();
    }

    public IActionResult OnGetPdf() =>
        advices.Document(Id, Payee) is { } document ? File(document, "application/pdf", $"statement-{Id}-{Payee}.pdf") : NotFound();

    public IActionResult OnGetInvoice() => advices.OwnInvoice(Id, Payee) is { } bill ? File(bill.Document, "application/pdf", $"invoice-{bill.Number}.pdf") : NotFound();

    public IActionResult OnGetCsv() => statements.Find(Id, Payee) is { } statement
        ? new CsvDownload(
            $"statement-{statement.Payee.Payee}-{CsvDownload.Date(statement.AsOf)}.csv",
            StatementTable.Header,
            StatementTable.Rows(statement, Advice.Payment(statement)))
        : NotFound();
}
