using EvenSplit.Books.Balances;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>What a payee is owed today in one currency, by how long ago it cleared.</summary>
/// <param name="Ages">Cleared up to 30, 60 and 90 days ago, and before that; what runs carried is as old as the last payment, or as the first run that carried.</param>
/// <param name="HasLeft">Whether they are no longer active.</param>
public sealed record OwedRow(string PayeeId, string Payee, Currency Currency, IReadOnlyList<long> Ages, bool HasLeft, bool CanBeWrittenOff)
{
    public long Sum => Ages.Sum();
}

/// <summary>Money left in balances: how old it is, whose is below nothing, and what two persons give up.</summary>
public sealed class OwedBalances(BookDbContext db, BookCache cache, BookClock clock, FourEyes fourEyes, AuditLog audit) : IUseCase
{
    public IReadOnlyList<OwedRow> Find()
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var ages = Cleared(today);
        void Add(string payee, string currency, DateOnly since, long amount)
        {
            if (!ages.TryGetValue((payee, currency), out var of)) ages[(payee, currency)] = of = new long[Ageing.Bounds.Count + 1];
            of[Ageing.Of(since, today)] += amount;
        }
        foreach (var a in db.Adjustments.AsNoTracking().Where(a => a.RunId == null && a.On <= today)) Add(a.Payee, a.Currency, a.On, a.Amount);
        var since = CarriedSince();
        foreach (var (payee, carried) in Standings.Carried(db).Where(c => c.Value != 0)) Add(payee, book.Rules.Payee(new PayeeId(payee)).PayoutCurrency.Code, since.GetValueOrDefault(payee, today), carried);
        var proposed = Waiting().Select(w => w.Payee).ToHashSet();
        return [.. ages.Where(a => a.Value.Any(v => v != 0)).Select(a =>
        {
            var payee = book.Rules.Payee(new PayeeId(a.Key.Payee));
            return new OwedRow(
                a.Key.Payee, book.PayeeName(a.Key.Payee), Currency.Of(a.Key.Currency), a.Value, !payee.IsActiveOn(today),
                a.Key.Currency == payee.PayoutCurrency.Code && !proposed.Contains(a.Key.Payee));
        }).OrderBy(r => r.Currency.Code, StringComparer.Ordinal).ThenBy(r => r.Payee, StringComparer.Ordinal)];
    }

    /// <summary>What entries have cleared and no run has taken, by age; added up where it is kept.</summary>
    private Dictionary<(string Payee, string Currency), long[]> Cleared(DateOnly today)
    {
        var (first, second, third) = (Ageing.FirstDay(0, today), Ageing.FirstDay(1, today), Ageing.FirstDay(2, today));
        return db.OpenSums.Where(s => s.ClearsOn <= today).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new
        {
            g.Key,
            First = g.Sum(s => s.ClearsOn >= first ? s.Amount : 0),
            Second = g.Sum(s => s.ClearsOn >= second && s.ClearsOn < first ? s.Amount : 0),
            Third = g.Sum(s => s.ClearsOn >= third && s.ClearsOn < second ? s.Amount : 0),
            Older = g.Sum(s => s.ClearsOn < third ? s.Amount : 0),
        }).ToDictionary(s => (s.Key.Payee, s.Key.Currency), s => (long[])[s.First, s.Second, s.Third, s.Older]);
    }

    /// <summary>By payee, the as-of date of the first run since the last payment.</summary>
    private Dictionary<string, DateOnly> CarriedSince() => db.Remittances
        .Where(r => r.Id > (db.Remittances.Where(o => o.Payee == r.Payee && o.Paid > 0).Max(o => (int?)o.Id) ?? 0))
        .Join(db.PayRuns, r => r.RunId, r => r.Id, (r, run) => new { r.Payee, run.AsOf })
        .GroupBy(r => r.Payee).Select(g => new { g.Key, AsOf = g.Min(r => r.AsOf) }).ToDictionary(r => r.Key, r => r.AsOf);

    public IReadOnlyList<WriteOffRecord> Waiting() => db.WriteOffs.AsNoTracking().Where(w => w.ConfirmedBy == null && w.RefusedBy == null).OrderBy(w => w.Id).ToArray();

    /// <summary>Proposes to give up what a payee's balance is today in the currency they are paid in, be it above or below nothing.</summary>
    /// <exception cref="RefusedException">There is no such balance, it is proposed already, or no reason is given.</exception>
    public void Propose(string payee, string reason, string by)
    {
        if (Find().FirstOrDefault(r => r.PayeeId == payee && r.Currency == cache.Get(db).Rules.Payee(new PayeeId(payee)).PayoutCurrency) is not { Sum: not 0 } row) throw new RefusedException("There is no balance to give up.");
        if (!row.CanBeWrittenOff) throw new RefusedException("That is proposed already and waits for its second person.");
        if (string.IsNullOrWhiteSpace(reason)) throw new RefusedException("Say why; whoever confirms reads it, and the payee may.", "Reason");
        db.WriteOffs.Add(new WriteOffRecord { Payee = payee, Amount = -row.Sum, Currency = row.Currency.Code, Reason = reason.Trim(), ProposedBy = by, ProposedAt = clock.GetUtcNow() });
        audit.Note(by, "propose a write-off", $"{payee}: {new Money(row.Sum, row.Currency)}, {reason.Trim()}");
        db.SaveChanges();
    }

    /// <summary>Posts it; the next run takes it.</summary>
    /// <exception cref="RefusedException">It is dealt with already, whoever proposed it confirms, or the balance is not what it was when it was proposed.</exception>
    public void Confirm(int id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var writeOff = Open(id);
        fourEyes.Demand("this write-off", "confirm it", by, writeOff.ProposedBy);
        var currency = Currency.Of(writeOff.Currency);
        var balance = Find().FirstOrDefault(r => r.PayeeId == writeOff.Payee && r.Currency == currency)?.Sum ?? 0;
        if (balance != -writeOff.Amount)
        {
            throw new RefusedException($"The balance was {new Money(-writeOff.Amount, currency).InWords()} when this was proposed and is {new Money(balance, currency).InWords()} now. Refuse it, and propose what is left.");
        }
        writeOff.ConfirmedBy = by;
        db.Adjustments.Add(new AdjustmentRecord
        {
            Reference = $"write-off-{writeOff.Id}",
            Payee = writeOff.Payee,
            On = clock.Today,
            Amount = writeOff.Amount,
            Currency = writeOff.Currency,
            Kind = AdjustmentKind.WriteOff,
            Note = "Written off: " + writeOff.Reason,
            By = by,
        });
        audit.Note(by, "confirm a write-off", $"{writeOff.Payee}: {new Money(-writeOff.Amount, currency)}");
        db.SaveChanges();
        transaction.Commit();
    }

    public void Refuse(int id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var writeOff = Open(id);
        writeOff.RefusedBy = by;
        audit.Note(by, "refuse a write-off", writeOff.Payee);
        db.SaveChanges();
        transaction.Commit();
    }

    private WriteOffRecord Open(int id) => db.WriteOffs.SingleOrDefault(w => w.Id == id && w.ConfirmedBy == null && w.RefusedBy == null) ?? throw new RefusedException("This is dealt with already.");
}
