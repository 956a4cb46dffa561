using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>What goes out as one payment: a remittance, or several of a run that are paid through one payee.</summary>
internal sealed record OnePayment(IReadOnlyList<RemittanceRecord> Remittances)
{
    /// <summary>In the order in which their first remittances were made.</summary>
    public static List<OnePayment> Of(IEnumerable<RemittanceRecord> remittances) =>
        [.. remittances.OrderBy(r => r.Id).GroupBy(r => (r.RunId, r.Method, r.Currency, r.DetailsId, r.Through ?? r.Payee)).Select(g => new OnePayment([.. g]))];

    public RemittanceRecord First => Remittances[0];

    public Money Amount => new(Remittances.Sum(r => r.Paid), Currency.Of(First.Currency));

    /// <summary>Whose account or wallet it goes to.</summary>
    public string To => First.Through ?? First.Payee;

    /// <summary>The earliest day on which an invoice on it is due; null where there is none.</summary>
    public DateOnly? ExecuteOn => Remittances.Min(r => r.ExecuteOn);
}
