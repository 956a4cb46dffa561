using System.Globalization;
using EvenSplit.Books.Model;

namespace EvenSplit.Books.PayRuns;

/// <summary>
/// Owes a payment again that did not arrive: as an adjustment the next run takes, so that the sums of every run stay as the contract has them. The fee of
/// the transfer is given back with it.
/// </summary>
public sealed class OwedAgain(BookDbContext db, BookClock clock) : IUseCase
{
    /// <summary>Adds the adjustment, once for each remittance; the caller saves.</summary>
    internal void Post(RemittanceRecord remittance, PayRunRecord run, string by) => db.Adjustments.Add(new AdjustmentRecord
    {
        // Unique, so that a payment that came back is owed again once, whoever tells of it.
        Reference = string.Create(CultureInfo.InvariantCulture, $"owed-again-{remittance.Id}"),
        Payee = remittance.Payee,
        On = clock.Today,
        Amount = remittance.Paid + remittance.TransferFee,
        Currency = remittance.Currency,
        Kind = AdjustmentKind.Returned,
        Note = string.Create(CultureInfo.InvariantCulture, $"Payment of the run as of {run.AsOf:d MMM yyyy} {(remittance.State == RemittanceState.SetAside ? "set aside" : "came back")}: {remittance.Why}"),
        By = by,
    });
}
