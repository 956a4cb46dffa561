using System.Text.Json;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.SettingAside;

/// <summary>Puts rows that could not be taken into quarantine, inside the caller's transaction.</summary>
internal sealed class SetAside(BookDbContext db, ImportRecord import)
{
    /// <summary>What waited of the same orders or refunds waits no longer: it has come in again, right or with another reason.</summary>
    private void Replace(string[] ids)
    {
        var waiting = db.Quarantine.Where(q => q.State == QuarantineState.Waiting && q.ImportId != import.Id && ids.Contains(q.Group) && db.Imports.Any(i => i.Id == q.ImportId && i.Kind == import.Kind)).ToArray();
        foreach (var row in waiting) row.State = QuarantineState.Replaced;
        foreach (var (file, count) in waiting.CountBy(r => r.ImportId)) db.Imports.Where(i => i.Id == file).ExecuteUpdate(set => set.SetProperty(i => i.Quarantined, i => i.Quarantined - count));
    }

    /// <summary>Sets aside every row of what could not be taken; the good rows of a bad order wait with it.</summary>
    public void Take(IEnumerable<IRowGroup> groups)
    {
        var all = groups.ToArray();
        Replace([.. all.Select(g => g.Id).Where(id => id.Length > 0).Distinct()]);
        foreach (var group in all.Where(g => g.Faults.Count > 0))
        {
            var faults = group.Faults.ToLookup(f => f.Row);
            foreach (var row in group.Rows)
            {
                var own = faults[row.Line].ToArray();
                db.Quarantine.Add(new QuarantinedRowRecord
                {
                    ImportId = import.Id,
                    Row = row.Line,
                    Group = group.Id,
                    Cells = JsonSerializer.Serialize(row.Cells),
                    Columns = string.Join(' ', own.Select(f => f.Column)),
                    // Only where that alone is in its way.
                    WaitsForOrder = own is [{ WaitsFor: { } order }] && group.Faults.Count == 1 ? order.Value : null,
                    Fault = own.Length > 0 ? string.Join("; ", own.Select(f => f.ToString())) : $"waits for row {group.Faults[0].Row} of the same {(import.Kind == ImportKind.Orders ? "order" : "refund")}",
                });
                import.Quarantined++;
            }
        }
    }
}
