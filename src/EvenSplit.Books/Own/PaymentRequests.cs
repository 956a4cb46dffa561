using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>What a payee who is paid on request may ask for.</summary>
/// <param name="Amount">Cleared and carried, in the payout currency.</param>
/// <param name="Minimum">Below this nothing is paid.</param>
/// <param name="Fee">Taken off the payment; 0 where none is, or it is free this time.</param>
/// <param name="Refusal">Why they cannot ask now; null where they can.</param>
/// <param name="OpenSince">When they asked; null where they have not, or were paid since.</param>
public sealed record Requestable(Money Amount, Money Minimum, Money Fee, string? Refusal, DateTimeOffset? OpenSince);

/// <summary>A request that waits.</summary>
public sealed record WaitingRequest(int Id, string Payee, string Name, DateTimeOffset AskedAt);

/// <summary>Payees whose schedule is on request ask to be paid; the run that pays them answers it.</summary>
public sealed class PaymentRequests(BookDbContext db, BookCache cache, BookClock clock, PeopleList people, AuditLog audit) : IUseCase
{
    /// <returns>Null where they are paid by a schedule.</returns>
    public Requestable? Of(string payee)
    {
        var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        if (!PayoutSchedule.TryParse(record.Schedule, out var schedule) || schedule.Kind != ScheduleKind.OnRequest) return null;
        var known = cache.Get(db).Rules.Payee(new PayeeId(payee));
        var balance = people.BalanceOf(known);
        var (currency, amount) = (known.PayoutCurrency, balance.Owed.Where(m => m.Currency == known.PayoutCurrency).Sum(m => m.Minor));
        var firstOfYear = new DateOnly(clock.Today.Year, 1, 1);
        var paid = db.Remittances.Count(r => r.Payee == payee && r.Paid > 0 && db.PayRuns.Any(run => run.Id == r.RunId && run.AsOf >= firstOfYear));
        var fee = paid < known.FreeTransfers ? 0 : known.TransferFee;
        var open = db.PaymentRequests.AsNoTracking().FirstOrDefault(r => r.Payee == payee && r.RunId == null && r.WithdrawnAt == null);
        // What is in another currency is converted by the run, at its rates; whether it is enough is seen then.
        var hasOther = balance.Owed.Any(m => m.Currency != currency && m.Minor > 0);
        var refusal = open is not null ? "You have asked already."
            : amount - fee <= 0 && !hasOther ? "Nothing has cleared that could be paid."
            : amount - fee < known.Minimum && !hasOther ? $"Payments begin at {new Money(known.Minimum, currency).InWords()}."
            : null;
        return new Requestable(new Money(amount, currency), new Money(known.Minimum, currency), new Money(fee, currency), refusal, open?.AskedAt);
    }

    /// <exception cref="RefusedException">They are paid by a schedule, have asked already, or there is too little.</exception>
    public void Ask(string payee)
    {
        using var transaction = db.Database.BeginTransaction();
        var may = Of(payee) ?? throw new RefusedException("You are paid by a schedule, without asking.");
        if (may.Refusal is { } refusal) throw new RefusedException(refusal);
        db.PaymentRequests.Add(new PaymentRequestRecord { Payee = payee, AskedAt = clock.GetUtcNow() });
        audit.Note(cache.Get(db).PayeeName(payee), "ask for a payment", payee);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <exception cref="RefusedException">They have not asked.</exception>
    public void Withdraw(string payee)
    {
        var open = db.PaymentRequests.FirstOrDefault(r => r.Payee == payee && r.RunId == null && r.WithdrawnAt == null) ?? throw new RefusedException("You have not asked, or were paid meanwhile.");
        open.WithdrawnAt = clock.GetUtcNow();
        audit.Note(cache.Get(db).PayeeName(payee), "withdraw the request for a payment", payee);
        db.SaveChanges();
    }

    /// <summary>Those that wait, the oldest first.</summary>
    public IReadOnlyList<WaitingRequest> Waiting()
    {
        var book = cache.Get(db);
        return [.. db.PaymentRequests.AsNoTracking().Where(r => r.RunId == null && r.WithdrawnAt == null).OrderBy(r => r.Id).AsEnumerable().Select(r => new WaitingRequest(r.Id, r.Payee, book.PayeeName(r.Payee), r.AskedAt))];
    }
}
