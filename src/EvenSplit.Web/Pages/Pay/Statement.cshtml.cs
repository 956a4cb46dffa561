using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Web.Documents;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class StatementPage(Statements statements, Advices advices) : BookPage
{
    /// <summary>A page shows so many; the files have all.</summary>
    private const int MostLines = 300;

    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Payee { get; set; } = "";

    public Statement Statement { get; private set; } = null!;

    public IActionResult OnGet()
    {
        if (statements.Find(Id, Payee, MostLines) is not { } statement) return NotFound();
        Statement = statement;
        return Page();
    }

    public IActionResult OnGetPdf() =>
        advices.Document(Id, Payee) is { } document ? File(document, "application/pdf", $"statement-{Id}-{Payee}.pdf") : NotFound();

    public IActionResult OnGetCsv() => statements.Find(Id, Payee) is { } statement
        ? new CsvDownload(
            $"statement-{statement.Payee.Payee}-{CsvDownload.Date(statement.AsOf)}.csv",
            ["kind", "date", "order_id", "product", "agreement", "note", "amount", "currency"],
            Rows(statement))
        : NotFound();

    /// <summary>The entries and adjustments, then the summary down to what was paid, so that the column can be added up.</summary>
    private static IEnumerable<IReadOnlyList<string>> Rows(Statement statement)
    {
        foreach (var l in statement.Lines)
        {
            yield return [l.IsReversal ? "reversal" : "earning", CsvDownload.Date(l.PostedOn), l.OrderId, l.Product, l.Agreement, "", l.Amount.ToMajorText(), l.Amount.Currency.Code];
        }
        foreach (var (kind, on, note, amount) in statement.Adjustments)
        {
            yield return [kind.ToString().ToLowerInvariant(), CsvDownload.Date(on), "", "", "", note, amount.ToMajorText(), amount.Currency.Code];
        }
        var f = statement.Payee.Figures;
        var cameBack = statement.Payee.State is RemittanceState.Refused or RemittanceState.Returned or RemittanceState.SetAside;
        foreach (var (kind, minor) in new[]
        {
            ("opening", f.Opening), ("earned in all", f.Earned), ("adjustments in all", f.Adjustments), ("recouped", -f.Recouped), ("withheld", -f.Withheld),
            ("transfer fee", -f.TransferFee), ("carried forward", f.Carried), (cameBack ? "payment that came back" : "paid", f.Paid),
        })
        {
            yield return [kind, CsvDownload.Date(statement.AsOf), "", "", "", kind.StartsWith('p') && (cameBack || statement.OnePerson is not null) ? Advice.Payment(statement) : "", new EvenSplit.Core.Money(minor, f.Currency).ToMajorText(), f.Currency.Code];
        }
    }
}
