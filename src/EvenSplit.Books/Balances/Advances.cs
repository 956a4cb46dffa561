using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Balances;

/// <summary>An advance with what is left of it, minor units of the payout currency.</summary>
public sealed record AdvanceView(int Id, DateOnly On, string Note, long Amount, long Left);

/// <summary>Money paid ahead, to be taken back out of earnings.</summary>
public sealed class Advances(BookDbContext db, BookCache cache, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    public IReadOnlyList<AdvanceView> Of(string payee)
    {
        var recouped = db.Recoupments.Where(r => db.Advances.Any(a => a.Id == r.AdvanceId && a.PayeeId == payee)).GroupBy(r => r.AdvanceId)
            .Select(g => new { g.Key, Sum = g.Sum(r => r.Amount) }).ToDictionary(g => g.Key, g => g.Sum);
        return [.. db.Advances.AsNoTracking().Where(a => a.PayeeId == payee).OrderBy(a => a.On).ThenBy(a => a.Id).AsEnumerable()
            .Select(a => new AdvanceView(a.Id, a.On, a.Note, a.Amount, a.Amount - recouped.GetValueOrDefault(a.Id)))];
    }

    /// <param name="amount">Major units of the payout currency, as typed.</param>
    /// <returns>The fields at fault; none where it is kept.</returns>
    public IReadOnlyList<FieldFault> Add(string payee, DateOnly? on, string amount, string note, string by)
    {
        var known = cache.Get(db).Rules.FindPayee(new PayeeId(payee)) ?? throw new RefusedException($"There is no payee {payee}.");
        var fields = new FieldReader();
        if (on is null) fields.Refuse("AdvanceOn", "Give the day it was paid.");
        var minor = fields.Amount("AdvanceAmount", amount, known.PayoutCurrency);
        if (minor is null or 0 && fields.Faults.All(f => f.Field != "AdvanceAmount")) fields.Refuse("AdvanceAmount", "Give the amount that was paid ahead.");
        var says = fields.Required("AdvanceNote", note, "Say what it is for.");
        if (fields.Faults.Count > 0) return fields.Faults;
        using var change = rulesChange.Begin();
        var number = db.Advances.Count(a => a.PayeeId == payee) + 1;
        db.Advances.Add(new AdvanceRecord { PayeeId = payee, Reference = $"{number}", On = on!.Value, Amount = minor!.Value, Note = says });
        audit.Note(by, "add an advance", $"{payee}: {new Money(minor.Value, known.PayoutCurrency)}, {says}");
        change.Commit();
        return [];
    }

    /// <summary>Takes an advance away that was never paid, until a run has taken any of it back.</summary>
    /// <exception cref="RefusedException">A run has.</exception>
    public void TakeAway(int id, string by)
    {
        var advance = db.Advances.Known(a => a.Id == id);
        if (db.Recoupments.Any(r => r.AdvanceId == id)) throw new RefusedException("A locked run has taken some of this advance back out of earnings; post a correction instead.");
        using var change = rulesChange.Begin();
        db.Advances.Remove(advance);
        audit.Note(by, "take away an advance", $"{advance.PayeeId}: {advance.Note}");
        change.Commit();
    }
}
