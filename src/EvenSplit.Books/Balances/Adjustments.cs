using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Balances;

/// <summary>What a payee would get by a file of adjustments, in one currency.</summary>
public sealed record PayeeAhead(string Payee, int Count, Money Sum);

/// <summary>What a file of adjustments would add.</summary>
/// <param name="Payees">The largest first.</param>
/// <param name="Known">Rows that are in the book already, and are not added again.</param>
public sealed record AdjustmentsAhead(IReadOnlyList<PayeeAhead> Payees, int Known)
{
    /// <summary>A sum for each currency.</summary>
    public IReadOnlyList<Money> InAll => [.. Payees.GroupBy(p => p.Sum.Currency).OrderBy(g => g.Key.Code, StringComparer.Ordinal).Select(g => new Money(g.Sum(p => p.Sum.Minor), g.Key))];
}

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

    /// <summary>The same to many payees, each in the currency they are paid in, all or none.</summary>
    /// <param name="amount">Major units, the same figure for each.</param>
    /// <exception cref="RefusedException">As for one.</exception>
    public void AddToMany(IReadOnlyCollection<string> payees, DateOnly on, string amount, AdjustmentKind kind, string note, string by)
    {
        if (payees.Count == 0) throw new RefusedException("Choose at least one payee.", "Payees");
        var rules = cache.Get(db).Rules;
        using var transaction = db.BeginUnlessBegun();
        foreach (var payee in payees) Add(payee, on, amount, rules.FindPayee(new PayeeId(payee))?.PayoutCurrency.Code ?? "", kind, note, by);
        transaction?.Commit();
    }

    /// <summary>Reads adjustments.csv and adds every row of it, or names each fault and adds none. The same file twice adds nothing the second time.</summary>
    /// <exception cref="RefusedException">No such file.</exception>
    public (int Added, int Known, IReadOnlyList<RowFault> Faults) AddFile(Stream file, string by)
    {
        var (adjustments, faults) = Read(file);
        if (faults.Count > 0) return (0, 0, faults);
        using var transaction = db.BeginUnlessBegun();
        var added = New(adjustments);
        foreach (var a in added) Add(a.Reference, a.Payee.Value, a.On, a.Amount, Enum.Parse<AdjustmentKind>(a.Kind, ignoreCase: true), a.Note, by);
        transaction?.Commit();
        return (added.Length, adjustments.Count - added.Length, []);
    }

    /// <summary>What a file would add, by payee; nothing where it has faults.</summary>
    /// <exception cref="RefusedException">No such file.</exception>
    public AdjustmentsAhead Ahead(Stream file)
    {
        var (adjustments, faults) = Read(file);
        if (faults.Count > 0) return new AdjustmentsAhead([], 0);
        var added = New(adjustments);
        return new AdjustmentsAhead(
            [
                .. added.GroupBy(a => (a.Payee, a.Amount.Currency))
                    .Select(g => new PayeeAhead(g.Key.Payee.Value, g.Count(), new Money(g.Sum(a => a.Amount.Minor), g.Key.Currency)))
                    .OrderByDescending(p => Math.Abs(p.Sum.Minor)).ThenBy(p => p.Payee, StringComparer.Ordinal),
            ],
            adjustments.Count - added.Length);
    }

    private (IReadOnlyList<FiledAdjustment> Adjustments, IReadOnlyList<RowFault> Faults) Read(Stream file)
    {
        try
        {
            using var table = new CsvTable(file, AdjustmentsCsv.Columns);
            return AdjustmentsCsv.Read(table.Rows(), cache.Get(db).Rules);
        }
        catch (CsvFileException unreadable)
        {
            throw new RefusedException(unreadable.Message, "File");
        }
    }

    /// <summary>Those that are not in the book, each once.</summary>
    private FiledAdjustment[] New(IReadOnlyList<FiledAdjustment> adjustments)
    {
        var known = db.Adjustments.Select(a => a.Reference).ToHashSet();
        return [.. adjustments.Where(a => known.Add(a.Reference))];
    }

    /// <summary>Adjustments no run has taken yet, the latest first.</summary>
    public IReadOnlyList<AdjustmentRecord> Open() => db.Adjustments.AsNoTracking().Where(a => a.RunId == null).OrderByDescending(a => a.Id).Take(500).ToArray();

    internal void Add(string reference, string payee, DateOnly on, Money amount, AdjustmentKind kind, string note, string by)
    {
        cache.Get(db).DemandOpen(on, "On");
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
        var adjustment = db.Adjustments.Known(a => a.Id == id);
        if (adjustment.Kind is AdjustmentKind.Returned or AdjustmentKind.WriteOff) throw new RefusedException("This was posted by the book, for a payment that came back or a balance that two persons gave up; post a correction instead.");
        cache.Get(db).DemandOpen(adjustment.On);
        if (adjustment.RunId is not null) throw new RefusedException("A locked run has taken this adjustment; post a correction instead.");
        db.Adjustments.Remove(adjustment);
        audit.Note(by, "take back an adjustment", $"{adjustment.Payee}: {adjustment.Note}");
        db.SaveChanges();
    }
}
