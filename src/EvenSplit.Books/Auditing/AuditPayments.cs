using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Auditing;

/// <summary>What the pay runs of some days issued, accounts masked, and what each payee was told, as files by name.</summary>
public sealed class AuditPayments(BookDbContext db, Sealed @sealed, Statements statements) : IUseCase
{
    public IEnumerable<(string Name, string Content)> Of(DateOnly first, DateOnly last)
    {
        var runs = db.PayRuns.AsNoTracking().Where(r => r.State != RunState.Gathering && r.AsOf >= first && r.AsOf <= last).OrderBy(r => r.Id).Select(r => r.Id).ToArray();
        foreach (var file in db.PaymentFiles.AsNoTracking().Where(f => runs.Contains(f.RunId)).OrderBy(f => f.Id).AsEnumerable())
        {
            yield return ($"payment-files/{file.FileName}", Masked(file.Method, @sealed.OpenText(file.Protected)));
        }
        foreach (var run in runs)
        {
            foreach (var payee in db.Remittances.AsNoTracking().Where(r => r.RunId == run).OrderBy(r => r.Id).Select(r => r.Payee).ToArray())
            {
                if (statements.Find(run, payee) is { Payee.HasFigures: true } statement) yield return ($"statements/{run}-{payee}.csv", Table(statement));
            }
        }
    }

    private static string Masked(PayoutMethod method, string content) => method switch
    {
        PayoutMethod.Bank => MaskedPayments.Order(content),
        PayoutMethod.Wallet => MaskedPayments.Wallet(content),
        // Store credit and lists to pay by hand name the payee only.
        _ => content,
    };

    private static string Table(Statement statement)
    {
        using var text = new StringWriter();
        CsvOutput.Write(text, StatementTable.Header, StatementTable.Rows(statement, statement.Payee.Why ?? ""));
        return text.ToString();
    }
}
