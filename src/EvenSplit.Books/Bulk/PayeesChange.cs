using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;

namespace EvenSplit.Books.Bulk;

/// <summary>Applies a file of payees within the change that its caller has begun, and puts things back as they were.</summary>
public sealed class PayeesChange(BookDbContext db, PayeesFile file, PayeeDesk desk, AgreementDesk agreements, PayoutDetails details) : IUseCase
{
    /// <summary>What a file of payees has made.</summary>
    /// <param name="Changed">How they were before, by id.</param>
    private sealed record PayeesMade(IReadOnlyList<string> Added, IReadOnlyDictionary<string, PayeeDraft> Changed, IReadOnlyList<int> Memberships, IReadOnlyList<int> Details);

    internal BulkDifferences Compare(Stream content)
    {
        var (rows, faults, extra) = file.Read(content);
        var differences = rows.Select(r => new BulkDifference(r.Was is null ? DifferenceKind.Added : DifferenceKind.Changed, r.Becomes.Name, file.Parts(r))).Where(d => d.Parts.Count > 0).ToArray();
        return new BulkDifferences(differences, rows.Count - differences.Length, faults, extra);
    }

    /// <returns>What was made, to be undone by.</returns>
    internal string Apply(Stream content, string by)
    {
        var (added, changed) = (new List<string>(), new Dictionary<string, PayeeDraft>());
        var (lastMembership, lastDetails) = (db.Memberships.Max(m => (int?)m.Id) ?? 0, db.PayoutDetails.Max(d => (int?)d.Id) ?? 0);
        foreach (var row in file.Read(content).Rows.Where(r => file.Parts(r).Count > 0))
        {
            var id = row.Id;
            if (row.Was is null || row.Was != row.Becomes)
            {
                (id, var faults) = desk.Save(row.Id, row.Becomes, by, row.Wanted, isPutOnDefault: row.Joins.Count == 0);
                if (faults is [var fault, ..]) throw new RefusedException($"Row {row.Line}, {row.Becomes.Name}: {fault.Message}");
                if (row.Was is null) added.Add(id!);
                else changed.Add(id!, row.Was);
            }
            foreach (var agreement in row.Joins) agreements.Join(agreement, id!, file.JoinsOn(row), by);
            if (row.Details is { } account) details.Enter(id!, account, row.Becomes.PayoutCurrency, by);
        }
        db.SaveChanges();
        return JsonSerializer.Serialize(new PayeesMade(added, changed, [.. db.Memberships.Where(m => m.Id > lastMembership && !added.Contains(m.PayeeId)).Select(m => m.Id)], [.. db.PayoutDetails.Where(d => d.Id > lastDetails).Select(d => d.Id)]));
    }

    /// <exception cref="RefusedException">Somebody it added has earned, been paid or been named since.</exception>
    internal void Undo(string made, string by)
    {
        var before = JsonSerializer.Deserialize<PayeesMade>(made)!;
        foreach (var id in before.Details.Where(d => db.PayoutDetails.Any(o => o.Id == d && o.ConfirmedBy == null && o.RefusedBy == null))) details.Withdraw(id, by);
        db.Memberships.RemoveRange(db.Memberships.Where(m => before.Memberships.Contains(m.Id)));
        foreach (var id in before.Added) desk.Remove(id, by);
        foreach (var (id, draft) in before.Changed.Where(c => !before.Added.Contains(c.Key)))
        {
            var (_, faults) = desk.Save(id, draft, by);
            if (faults is [var fault, ..]) throw new RefusedException($"{draft.Name} cannot be put back: {fault.Message}");
        }
        db.SaveChanges();
    }
}
