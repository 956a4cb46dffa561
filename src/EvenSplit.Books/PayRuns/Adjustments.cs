using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>Adds signed amounts a payee will see with their note, and takes them back until a run has taken them.</summary>
public sealed class Adjustments(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    public IReadOnlyList<AdjustmentRecord> Of(string payee) =>
        db.Adjustments.AsNoTracking().Where(a => a.Payee == payee).OrderByDescending(a => a.On).ThenByDescending(a => a.Id).ToArray();

    /// <param name="amount">Major units, as typed; negative for a recharge.</param>
    /// <exception cref="RefusedException">The amount cannot be read, is 0, or has no note.</exception>
    public void Add(string payee, DateOnly on, string amount, string currency, AdjustmentKind kind, string note, string by)
    {
        if (cache.Get(db).Rules.FindPayee(new PayeeId(payee)) is null) throw new RefusedException($"There is no payee {payee}.");
        if (!Currency.TryOf(currency, out var known)) throw new RefusedException($"'{currency}' is not a currency code.", "Currency");
        if (!Money.TryParseMajor(amount.Trim().Replace('−', '-'), known, out var money, out var expected)) throw new RefusedException($"'{amount}': expected {expected}.", "Amount");
        if (money.Minor == 0) throw new RefusedException("An adjustment of nothing changes nothing; give an amount.", "Amount");
        if (string.IsNullOrWhiteSpace(note)) throw new RefusedException("Say what it is for; the payee will read it.", "Note");
        Add(Guid.CreateVersion7().ToString("N"), payee, on, money, kind, note.Trim(), by);
    }

    internal void Add(string reference, string payee, DateOnly on, Money amount, AdjustmentKind kind, string note, string by)
    {
        db.Adjustments.Add(new AdjustmentRecord
        {
            Reference = reference,
            Payee = payee,
            On = on,
            Amount = amount.Minor,
            Currency = amount.Currency.Code,
            Kind = kind,
            Note = note,
            By = by,
        });
        audit.Note(by, "adjust", $"{payee}: {amount}, {note}");
        db.SaveChanges();
    }

    /// <exception cref="RefusedException">A run has taken it.</exception>
    public void TakeBack(int id, string by)
    {
        var adjustment = db.Adjustments.Single(a => a.Id == id);
        if (adjustment.RunId is not null) throw new RefusedException("A locked run has taken this adjustment; post a correction instead.");
        db.Adjustments.Remove(adjustment);
        audit.Note(by, "take back an adjustment", $"{adjustment.Payee}: {adjustment.Note}");
        db.SaveChanges();
    }
}
