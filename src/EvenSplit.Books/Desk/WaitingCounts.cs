using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;

namespace EvenSplit.Books.Desk;

/// <summary>What may wait for somebody, each counted as the page it stands on counts it.</summary>
public enum Waiting { Quarantine, Exceptions, Targets, Details, SignOff, Held, Adjustments, Doubts, Findings, Applications, Questions, TaxForms }

/// <summary>Counts what waits, for the words beside which it stands.</summary>
public sealed class WaitingCounts(BookDbContext db, Benches benches) : IUseCase
{
    /// <param name="period">Of which exceptions and findings count; the others wait whatever the month.</param>
    public int Of(Waiting what, Period period) => what switch
    {
        Waiting.Quarantine => db.Quarantine.Count(q => q.State == QuarantineState.Waiting),
        Waiting.Exceptions => db.OrderExceptions.Count(e => e.Period == period.Number && e.IsOpen),
        Waiting.Targets => db.TargetsReached.Count(r => r.State == ReachedState.Proposed),
        Waiting.Details => db.PayoutDetails.Count(d => d.ConfirmedBy == null && d.RefusedBy == null),
        // The kept sums say at once where nothing waits at all.
        Waiting.SignOff => db.OpenSums.Any(s => s.ClearsOn == DateOnly.MaxValue && s.Amount != 0)
            ? db.Entries.Where(e => e.RunId == null && e.ClearsOn == null && db.OpenSums.Any(s => s.Payee == e.Payee && s.ClearsOn == DateOnly.MaxValue && s.Amount != 0))
                .Join(db.Orders.Where(o => o.SignedOffAt == null), e => e.OrderId, o => o.Id, (e, o) => o.Id).Distinct().Count()
            : 0,
        Waiting.Held => db.EntryHolds.Count(h => h.LetGoAt == null),
        Waiting.Applications => db.Applications.Count(a => a.State == ApplicationState.Waiting),
        Waiting.Questions => db.PayeeQuestions.Count(q => q.AnsweredAt == null),
        Waiting.TaxForms => db.TaxForms.Count(f => f.CheckedAt == null),
        Waiting.Findings => benches.Open(period),
        Waiting.Adjustments => db.Adjustments.Count(a => a.RunId == null),
        _ => db.PaymentDoubts.Count(d => d.SettledBy == null),
    };
}
