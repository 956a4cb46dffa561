using System.Globalization;

namespace EvenSplit.Books.Ledger;

/// <summary>Entries as a table.</summary>
public static class EntryTable
{
    public static IReadOnlyList<string> Header { get; } = ["posted_on", "order_id", "product", "payee", "agreement", "part", "kind", "clears_on", "run", "amount", "currency"];

    public static IEnumerable<IReadOnlyList<string>> Rows(IEnumerable<EntryRow> entries) => entries.Select(e => (string[])
    [
        Date(e.PostedOn), e.OrderId, e.Product, e.PayeeId, e.Agreement, e.Part.ToString().ToLowerInvariant(), e.IsReversal ? "reversal" : "earning",
        e.ClearsOn is { } clears ? Date(clears) : "", e.RunId?.ToString(CultureInfo.InvariantCulture) ?? "", e.Amount.ToMajorText(), e.Amount.Currency.Code,
    ]);

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
