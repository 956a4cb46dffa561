using EvenSplit.Books.Keeping;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Books.SettingAside;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>Puts one batch of read orders and refunds into the book and counts what happened, inside the caller's transaction.</summary>
/// <param name="isDecided">Whether a person has looked at the rows and sent them again: what would put older values back is taken then.</param>
internal sealed class Intake(BookDbContext db, OpenedBook book, OrderPosting posting, ImportRecord import, UnknownBuyers unknown, bool isDecided)
{
    private const string Savepoint = "intake";

    public void Orders(IEnumerable<ReadOrder> groups)
    {
        var read = groups.Where(g => g.Order is not null && g.Faults.Count == 0).ToArray();
        new OriginLoops(db).Refuse(read);
        OneByOneIfNeeded([.. read.Where(g => g.Faults.Count == 0)], TakeOrders);
    }

    private void TakeOrders(IReadOnlyList<ReadOrder> read)
    {
        var asKnown = unknown.AsKnown();
        var good = read.ToDictionary(g => g.Id, g => asKnown(g.Order!));
        var ids = good.Keys.ToArray();
        var held = db.Orders.AsNoTracking().Where(o => ids.Contains(o.OrderId)).Select(o => new { o.Id, o.OrderId, o.FactsHash }).ToDictionary(o => o.OrderId);
        var visitors = read.Where(g => g.Rows[0]["visitor"].Length > 0).ToDictionary(g => g.Id, g => g.Rows[0]["visitor"]);
        var added = new ClickLog(db, book).WithClicks([.. good.Values.Where(o => !held.ContainsKey(o.Id.Value))], visitors);
        if (added.Length > 0) posting.PostNew(added, visitors);
        TakeWaiting(added);
        var changed = held.Values.Where(h => h.FactsHash != OrderFacts.HashOf(good[h.OrderId])).ToDictionary(h => h.Id, h => good[h.OrderId]);
        foreach (var refused in WithoutRefundedLines(changed, read)) changed.Remove(refused);
        foreach (var refused in OlderValues(changed, read)) changed.Remove(refused);
        Remember(held.Values.Where(h => changed.ContainsKey(h.Id)).Select(h => (h.Id, h.FactsHash)));
        posting.Correct(changed);
        import.Added += added.Length;
        import.Changed += changed.Count;
        import.Unchanged += held.Values.Count(h => !changed.ContainsKey(h.Id) && read.First(g => g.Id == h.OrderId).Faults.Count == 0);
    }

    /// <summary>A file that says of an order what it said before it was changed waits for a decision. What a shop or a person reports is the latest there is.</summary>
    /// <returns>The keys of such orders; they are at fault.</returns>
    private List<long> OlderValues(Dictionary<long, Order> changed, IReadOnlyList<ReadOrder> read)
    {
        if (changed.Count == 0 || isDecided || import.EventsOf is not null) return [];
        var keys = changed.Keys.ToArray();
        var older = db.EarlierFacts.AsNoTracking().Where(f => keys.Contains(f.OrderId)).AsEnumerable().Where(f => OrderFacts.HashOf(changed[f.OrderId]) == f.FactsHash).ToArray();
        foreach (var facts in older)
        {
            var group = read.First(g => g.Id == changed[facts.OrderId].Id.Value);
            group.Faults.Add(new RowFault(group.Rows[0].Line, "", "", $"this is what the order said before it was changed on {book.Local(facts.ReplacedAt)}: send it again if the older values are right, or discard it"));
        }
        return [.. older.Select(f => f.OrderId)];
    }

    private void Remember(IEnumerable<(long Order, long FactsHash)> replaced)
    {
        var now = TimeProvider.System.GetUtcNow().UtcTicks;
        foreach (var (order, hash) in replaced) db.Database.ExecuteSql($"INSERT INTO EarlierFacts (OrderId, FactsHash, ReplacedAt) VALUES ({order}, {hash}, {now}) ON CONFLICT (OrderId, FactsHash) DO UPDATE SET ReplacedAt = {now}");
    }

    /// <summary>A correction must leave every line that a refund names.</summary>
    /// <returns>The keys of orders whose correction does not; it is at fault.</returns>
    private List<long> WithoutRefundedLines(Dictionary<long, Order> changed, IReadOnlyList<ReadOrder> read)
    {
        var refused = new List<long>();
        if (changed.Count == 0) return refused;
        var keys = changed.Keys.ToArray();
        foreach (var refunds in db.Refunds.AsNoTracking().Include(r => r.Lines).Where(r => keys.Contains(r.OrderId)).AsEnumerable().GroupBy(r => r.OrderId))
        {
            var order = changed[refunds.Key];
            if (RefundCheck.LinesMissing(order, refunds.Select(r => OrderFacts.ToRefund(r, order.Id))).ToArray() is not [var missing, ..]) continue;
            var group = read.First(g => g.Id == order.Id.Value);
            group.Faults.Add(new RowFault(group.Rows[0].Line, "line_id", group.Rows[0]["line_id"], $"line {missing.Line} among the order's lines: refund {missing.Refund} gives it back"));
            refused.Add(refunds.Key);
        }
        return refused;
    }

    /// <summary>
    /// Takes a batch at once. Where something of it cannot be worked out, each is taken by itself, and what fails waits in quarantine with its reason:
    /// it keeps nobody else out.
    /// </summary>
    private void OneByOneIfNeeded<T>(IReadOnlyList<T> groups, Action<IReadOnlyList<T>> take) where T : IRowGroup
    {
        if (groups.Count == 0) return;
        // What was noted so far stands, whatever becomes of the batch.
        db.SaveChanges();
        var transaction = db.Database.CurrentTransaction!;
        transaction.CreateSavepoint(Savepoint);
        try
        {
            take(groups);
            transaction.ReleaseSavepoint(Savepoint);
            return;
        }
        catch (Exception failure) when (failure is not OperationCanceledException && !ReadImport.MayPass(failure))
        {
            transaction.RollbackToSavepoint(Savepoint);
            foreach (var entry in db.ChangeTracker.Entries().Where(e => e.Entity is not (ImportRecord or InboxEventRecord or QuarantinedRowRecord)).ToArray()) entry.State = EntityState.Detached;
            if (groups.Count == 1) groups[0].Faults.Add(new RowFault(groups[0].Rows[0].Line, "", "", WhyNot.WorkedOut(failure)));
        }
        if (groups.Count > 1) foreach (var group in groups) OneByOneIfNeeded([group], take);
    }

    /// <summary>Events that came before their order can be taken now.</summary>
    private void TakeWaiting(Order[] added)
    {
        var ids = added.Select(o => o.Id.Value).ToArray();
        if (ids.Length > 0) db.Inbox.Where(e => e.State == EventState.WaitsForOrder && ids.Contains(e.Order)).ExecuteUpdate(set => set.SetProperty(e => e.State, EventState.Waiting));
    }

    public void Clicks(IEnumerable<ReadClick> groups) => OneByOneIfNeeded([.. groups.Where(g => g.Click is not null && g.Faults.Count == 0)], TakeClicks);

    private void TakeClicks(IReadOnlyList<ReadClick> groups)
    {
        var good = groups.Select(g => g.Click!).ToArray();
        var log = new ClickLog(db, book);
        var added = log.Add(good);
        import.Added += added.Count;
        import.Unchanged += good.Length - added.Count;
        posting.Recalculate(log.Attach(added));
    }

    public void Refunds(IEnumerable<ReadRefund> groups) => OneByOneIfNeeded([.. groups.Where(g => g.Refund is not null && g.Faults.Count == 0)], TakeRefunds);

    private void TakeRefunds(IReadOnlyList<ReadRefund> groups)
    {
        var good = groups.ToDictionary(g => g.Id);
        var ids = good.Keys.ToArray();
        var held = db.AllRefunds.AsNoTracking().Where(r => ids.Contains(r.RefundId)).ToDictionary(r => r.RefundId);
        var orderIds = good.Values.Select(g => g.Refund!.Order.Value).Distinct().ToArray();
        var orderKeys = db.Orders.Where(o => orderIds.Contains(o.OrderId)).Select(o => new { o.OrderId, o.Id }).ToDictionary(o => o.OrderId, o => o.Id);
        var added = new List<RefundRecord>();
        foreach (var group in good.Values)
        {
            var record = OrderFacts.ToRecord(group.Refund!, 0, orderKeys[group.Refund!.Order.Value]);
            if (!held.TryGetValue(group.Id, out var known)) added.Add(record);
            else if (known.WithdrawnAt is { } withdrawnAt) group.Faults.Add(new RowFault(group.Rows[0].Line, "", "", $"this refund was withdrawn on {book.Local(withdrawnAt)} by {known.WithdrawnBy}: {known.WhyWithdrawn}. If it is right after all, correct it on the page of its order"));
            else if (known.FactsHash == record.FactsHash) import.Unchanged++;
            else group.Faults.Add(new RowFault(group.Rows[0].Line, "refund_id", group.Id, "a refund that is not in the book yet; this one is, with other figures, and its reversals are posted: it is corrected on the page of its order"));
        }
        db.AllRefunds.AddRange(added);
        db.SaveChanges();
        posting.Recalculate(added.Select(r => r.OrderId).Distinct().ToArray(), added.Select(r => r.Id).ToHashSet());
        import.Added += added.Count;
    }
}
