using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>A doubt with the payment it is about.</summary>
public sealed record PaymentDoubtView(PaymentDoubtRecord Record, string PayeeId, string Payee, Money Paid, int RunId, DateOnly AsOf, string Reference);

/// <summary>
/// What a message says about a payment and nobody acts upon alone: that it did not arrive, where only an uploaded file says so, since what is owed again is paid
/// again; and that a payment has left the account which was refused before.
/// </summary>
public sealed class PaymentDoubts(BookDbContext db, BookCache cache, BookClock clock, OwedAgain owed, FourEyes fourEyes, AuditLog audit) : IUseCase
{
    public IReadOnlyList<PaymentDoubtView> Waiting()
    {
        var book = cache.Get(db);
        return [.. db.PaymentDoubts.AsNoTracking().Where(d => d.SettledBy == null).OrderBy(d => d.Id)
            .Join(db.Remittances, d => d.RemittanceId, r => r.Id, (d, r) => new { Doubt = d, Remittance = r })
            .Join(db.PayRuns, d => d.Remittance.RunId, r => r.Id, (d, run) => new { d.Doubt, d.Remittance, run.AsOf }).AsEnumerable()
            .Select(d => new PaymentDoubtView(
                d.Doubt, d.Remittance.Payee, book.PayeeName(d.Remittance.Payee), new Money(d.Remittance.Paid, Currency.Of(d.Remittance.Currency)), d.Remittance.RunId, d.AsOf, d.Remittance.EndToEnd ?? ""))];
    }

    /// <summary>Raises a doubt, once for each payment and kind while it waits; the caller saves.</summary>
    internal bool Raise(PaymentDoubtKind kind, RemittanceRecord remittance, string says, string fileName, string by)
    {
        if (db.PaymentDoubts.Local.Any(Same) || db.PaymentDoubts.Any(d => d.RemittanceId == remittance.Id && d.Kind == kind && d.SettledBy == null)) return false;
        db.PaymentDoubts.Add(new PaymentDoubtRecord { RemittanceId = remittance.Id, Kind = kind, Says = says, FileName = fileName, RaisedBy = by, RaisedAt = clock.GetUtcNow() });
        return true;

        bool Same(PaymentDoubtRecord d) => d.RemittanceId == remittance.Id && d.Kind == kind && d.SettledBy == null;
    }

    /// <summary>Takes a payment for made that was refused: what was owed again for it is stopped, or taken back from the next run where a run has it already.</summary>
    internal void PaidThoughRefused(RemittanceRecord remittance, PayRunRecord run, DateOnly on, string fileName, string by)
    {
        (remittance.State, remittance.PaidOn, remittance.Reference) = (RemittanceState.Confirmed, on, remittance.EndToEnd);
        var done = owed.Stop(remittance, run, by);
        Raise(PaymentDoubtKind.PaidThoughRefused, remittance, $"Refused before: {remittance.Why}. {done}", fileName, by);
    }

    /// <summary>Says that it is so. A payment that did not arrive is owed again from here on.</summary>
    /// <exception cref="RefusedException">It is settled already, whoever raised it says so, or the payment has become something else meanwhile.</exception>
    public void Uphold(int id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var doubt = Open(id);
        if (doubt.Kind != PaymentDoubtKind.PaidThoughRefused)
        {
            fourEyes.Demand("this answer", "say that the payment did not arrive", by, doubt.RaisedBy);
            var remittance = db.Remittances.Known(r => r.Id == doubt.RemittanceId);
            var state = doubt.Kind == PaymentDoubtKind.Returned ? RemittanceState.Returned : RemittanceState.Refused;
            if (remittance.State != RemittanceState.Sent && (state == RemittanceState.Refused || remittance.State != RemittanceState.Confirmed))
            {
                throw new RefusedException($"The payment is {remittance.State.ToString().ToLowerInvariant()} by now; say that this is not so.");
            }
            owed.CameBack(remittance, state, doubt.Says, null, by);
        }
        Settle(doubt, true, by);
        transaction.Commit();
    }

    /// <summary>Says that it is not so: the payment stays what it is.</summary>
    public void Dismiss(int id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var doubt = Open(id);
        if (doubt.Kind == PaymentDoubtKind.PaidThoughRefused) throw new RefusedException("The bank's books show it; say that you have seen to it.");
        Settle(doubt, false, by);
        transaction.Commit();
    }

    /// <summary>In words, what a run would pay a second time; null where there is nothing of the kind.</summary>
    internal string? PaidTwiceBy(int run)
    {
        var taken = db.Adjustments.AsNoTracking().Where(a => a.RunId == run && a.Kind == AdjustmentKind.Returned).Select(a => a.Reference).ToHashSet();
        return taken.Count == 0 ? null : db.PaymentDoubts.AsNoTracking().Where(d => d.Kind == PaymentDoubtKind.PaidThoughRefused).Join(db.Remittances, d => d.RemittanceId, r => r.Id, (_, r) => r).AsEnumerable()
            .Where(r => taken.Contains(OwedAgain.ReferenceOf(r.Id)) && !taken.Contains(OwedAgain.StoppedReferenceOf(r.Id)) && db.Remittances.Any(p => p.RunId == run && p.Payee == r.Payee && p.Paid > 0 && p.State == RemittanceState.Ready)).Select(r =>
                $"{cache.Get(db).PayeeName(r.Payee)} would get {new Money(r.Paid, Currency.Of(r.Currency)).InWords()} twice: the payment that was refused has left the account all the same. Unlock the run, or set the payment aside.").FirstOrDefault();
    }

    private void Settle(PaymentDoubtRecord doubt, bool isUpheld, string by)
    {
        (doubt.SettledBy, doubt.SettledAt, doubt.IsUpheld) = (by, clock.GetUtcNow(), isUpheld);
        var remittance = db.Remittances.AsNoTracking().Known(r => r.Id == doubt.RemittanceId);
        audit.Note(by, $"{(isUpheld ? "uphold" : "dismiss")} that a payment {(doubt.Kind switch { PaymentDoubtKind.Returned => "was returned", PaymentDoubtKind.Refused => "was refused", _ => "was made though refused" })}",
            string.Create(CultureInfo.InvariantCulture, $"{remittance.Payee}: {remittance.EndToEnd}"));
        db.SaveChanges();
    }

    private PaymentDoubtRecord Open(int id) => db.PaymentDoubts.SingleOrDefault(d => d.Id == id && d.SettledBy == null) ?? throw new RefusedException("This is settled already.");
}
