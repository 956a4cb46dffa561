using System.Globalization;
using EvenSplit.Books.Model;

namespace EvenSplit.Books.PayRuns;

/// <summary>
/// Owes a payment again that did not arrive: as an adjustment the next run takes, so that the sums of every run stay as the contract has them. The fee of
/// the transfer is given back with it.
/// </summary>
public sealed class OwedAgain(BookDbContext db, BookClock clock) : IUseCase
{
    /// <summary>Unique, so that a payment that came back is owed again once, whoever tells of it.</summary>
    internal static string ReferenceOf(int remittance) => string.Create(CultureInfo.InvariantCulture, $"owed-again-{remittance}");

    /// <summary>What takes it back that was owed again for a payment that was made after all.</summary>
    internal static string StoppedReferenceOf(int remittance) => ReferenceOf(remittance) + "-stopped";

    /// <summary>Notes that a payment was refused or returned and owes it again; nothing is sent to these details before somebody has looked. The caller saves.</summary>
    /// <param name="on">The day of it; null where that is not told.</param>
    internal void CameBack(RemittanceRecord remittance, RemittanceState state, string why, DateOnly? on, string by)
    {
        (remittance.State, remittance.Why, remittance.CameBackOn) = (state, why.Length > 0 ? why : "no reason given", on ?? clock.Today);
        Post(remittance, db.PayRuns.Find(remittance.RunId)!, by);
        if (remittance.DetailsId is { } details) db.PayoutDetails.Single(d => d.Id == details).CameBack = true;
    }

    /// <summary>Adds the adjustment, once for each remittance; the caller saves.</summary>
    internal void Post(RemittanceRecord remittance, PayRunRecord run, string by) => db.Adjustments.Add(Adjustment(
        remittance, ReferenceOf(remittance.Id), remittance.Paid + remittance.TransferFee,
        $"Payment of the run as of {InWords(run)} {(remittance.State == RemittanceState.SetAside ? "set aside" : "came back")}: {remittance.Why}", by));

    /// <summary>Stops what was owed again, since the payment was made after all. The caller saves.</summary>
    /// <returns>In words, what was done.</returns>
    internal string Stop(RemittanceRecord remittance, PayRunRecord run, string by)
    {
        var reference = ReferenceOf(remittance.Id);
        var adjustment = db.Adjustments.Local.FirstOrDefault(a => a.Reference == reference) ?? db.Adjustments.SingleOrDefault(a => a.Reference == reference);
        if (adjustment is null) return "Nothing was owed again.";
        if (adjustment.RunId is null)
        {
            db.Adjustments.Remove(adjustment);
            return "It is owed again no more; no run had taken it.";
        }
        db.Adjustments.Add(Adjustment(
            remittance, StoppedReferenceOf(remittance.Id), -adjustment.Amount, $"The payment of the run as of {InWords(run)}, owed again since it was refused, was made after all", by));
        return "A run had taken what was owed again already; the next one takes it back.";
    }

    private AdjustmentRecord Adjustment(RemittanceRecord remittance, string reference, long amount, string note, string by) => new()
    {
        Reference = reference,
        Payee = remittance.Payee,
        On = clock.Today,
        Amount = amount,
        Currency = remittance.Currency,
        Kind = AdjustmentKind.Returned,
        Note = note,
        By = by,
    };

    private static string InWords(PayRunRecord run) => run.AsOf.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
