using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>Puts one batch of read orders and refunds into the book and counts what happened, inside the caller's transaction.</summary>
internal sealed class Intake(BookDbContext db, OpenedBook book, OrderPosting posting, ImportRecord import)
{
    public void Orders(IEnumerable<ReadOrder> groups)
    {
        var read = groups.Where(g => g.Order is not null && g.Faults.Count == 0).ToArray();
        var good = read.ToDictionary(g => g.Id, g => g.Order!);
        if (good.Count == 0) return;
        var ids = good.Keys.ToArray();
        var held = db.Orders.AsNoTracking().Where(o => ids.Contains(o.OrderId)).Select(o => new { o.Id, o.OrderId, o.FactsHash }).ToDictionary(o => o.OrderId);
        var visitors = read.Where(g => g.Rows[0]["visitor"].Length > 0).ToDictionary(g => g.Id, g => g.Rows[0]["visitor"]);
        var clicks = new ClickLog(db, book);
        var added = good.Values.Where(o => !held.ContainsKey(o.Id.Value)).Select(o => clicks.WithClicks(o, visitors.GetValueOrDefault(o.Id.Value))).ToArray();
        if (added.Length > 0) posting.PostNew(added, [], visitors);
        TakeWaiting(added);
        var changed = held.Values.Where(h => h.FactsHash != OrderFacts.HashOf(good[h.OrderId])).Select(h => h.Id).ToArray();
        foreach (var record in db.Orders.WithParts().Where(o => changed.Contains(o.Id)).ToArray())
        {
            // The old figures leave the kept sums before the new facts move the order to another month.
            var totals = new TotalsChange();
            totals.Subtract(record);
            db.OrderLines.RemoveRange(record.Lines);
            db.OrderCodes.RemoveRange(record.Codes);
            db.SaveChanges();
            OrderFacts.Fill(record, good[record.OrderId], book.Time);
            totals.Add(record);
            db.SaveChanges();
            totals.Save(db);
        }
        posting.Recalculate(changed);
        import.Added += added.Length;
        import.Changed += changed.Length;
        import.Unchanged += held.Count - changed.Length;
    }

    /// <summary>Events that came before their order can be taken now.</summary>
    private void TakeWaiting(Order[] added)
    {
        var ids = added.Select(o => o.Id.Value).ToArray();
        if (ids.Length > 0) db.Inbox.Where(e => e.State == EventState.WaitsForOrder && ids.Contains(e.Order)).ExecuteUpdate(set => set.SetProperty(e => e.State, EventState.Waiting));
    }

    public void Clicks(IEnumerable<ReadClick> groups)
    {
        var good = groups.Where(g => g.Click is not null && g.Faults.Count == 0).Select(g => g.Click!).ToArray();
        if (good.Length == 0) return;
        var log = new ClickLog(db, book);
        var added = log.Add(good);
        import.Added += added.Count;
        import.Unchanged += good.Length - added.Count;
        posting.Recalculate(log.Attach(added));
    }

    public void Refunds(IEnumerable<ReadRefund> groups)
    {
        var good = groups.Where(g => g.Refund is not null && g.Faults.Count == 0).ToDictionary(g => g.Id);
        if (good.Count == 0) return;
        var ids = good.Keys.ToArray();
        var held = db.Refunds.AsNoTracking().Where(r => ids.Contains(r.RefundId)).ToDictionary(r => r.RefundId);
        var orderIds = good.Values.Select(g => g.Refund!.Order.Value).Distinct().ToArray();
        var orderKeys = db.Orders.Where(o => orderIds.Contains(o.OrderId)).Select(o => new { o.OrderId, o.Id }).ToDictionary(o => o.OrderId, o => o.Id);
        var added = new List<RefundRecord>();
        foreach (var group in good.Values)
        {
            var record = OrderFacts.ToRecord(group.Refund!, 0, orderKeys[group.Refund!.Order.Value]);
            if (!held.TryGetValue(group.Id, out var known)) added.Add(record);
            else if (known.FactsHash == record.FactsHash) import.Unchanged++;
            else group.Faults.Add(new RowFault(group.Rows[0].Line, "refund_id", group.Id, "a refund that is not in the book yet; this one is, with other figures, and its reversals are posted"));
        }
        db.Refunds.AddRange(added);
        db.SaveChanges();
        posting.Recalculate(added.Select(r => r.OrderId).Distinct().ToArray(), added.Select(r => r.Id).ToHashSet());
        import.Added += added.Count;
    }

    /// <summary>Sets aside every row of what could not be taken; the good rows of a bad order wait with it.</summary>
    public void Quarantine(IEnumerable<IRowGroup> groups)
    {
        foreach (var group in groups.Where(g => g.Faults.Count > 0))
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
                    Fault = own.Length > 0 ? string.Join("; ", own.Select(f => f.ToString())) : $"waits for row {group.Faults[0].Row} of the same {(import.Kind == ImportKind.Orders ? "order" : "refund")}",
                });
                import.Quarantined++;
            }
        }
    }
}
