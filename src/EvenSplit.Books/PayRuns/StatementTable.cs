using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.PayRuns;

/// <summary>A statement as a table: the entries and adjustments, then the summary down to what was paid, so that the column can be added up.</summary>
public static class StatementTable
{
    public static IReadOnlyList<string> Header { get; } = ["kind", "date", "order_id", "product", "agreement", "note", "amount", "currency"];

    /// <param name="outcome">What became of the payment, in words; beside a payment that came back or that one person alone released.</param>
    public static IEnumerable<IReadOnlyList<string>> Rows(Statement statement, string outcome)
    {
        foreach (var l in statement.Lines)
        {
            yield return [l.IsReversal ? "reversal" : "earning", Date(l.PostedOn), l.OrderId, l.Product, l.Agreement, "", l.Amount.ToMajorText(), l.Amount.Currency.Code];
        }
        foreach (var (kind, on, note, amount) in statement.Adjustments)
        {
            yield return [kind.ToString().ToLowerInvariant(), Date(on), "", "", "", note, amount.ToMajorText(), amount.Currency.Code];
        }
        var f = statement.Payee.Figures;
        var cameBack = statement.Payee.State is RemittanceState.Refused or RemittanceState.Returned or RemittanceState.SetAside;
        foreach (var (kind, minor) in new[]
        {
            ("opening", f.Opening), ("earned in all", f.Earned), ("adjustments in all", f.Adjustments), ("recouped", -f.Recouped), ("withheld", -f.Withheld),
            ("transfer fee", -f.TransferFee), ("carried forward", f.Carried), (cameBack ? "payment that came back" : "paid", f.Paid),
        })
        {
            yield return [kind, Date(statement.AsOf), "", "", "", kind.StartsWith('p') && (cameBack || statement.OnePerson is not null) ? outcome : "", new Money(minor, f.Currency).ToMajorText(), f.Currency.Code];
        }
    }

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
