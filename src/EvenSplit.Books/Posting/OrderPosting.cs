using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Puts orders into the book and posts what they come to, inside the caller's transaction. What is owed now less what is posted is
/// what gets posted: new orders, refunds, corrections and recalculation are all the same difference.
/// </summary>
internal sealed class OrderPosting(BookDbContext db, OpenedBook book, DateOnly today)
{
    /// <summary>Posts orders the book does not hold yet.</summary>
    public void PostNew(IReadOnlyList<Order> orders)
    {
        var origins = new OriginsInBook(db, book.Rules, orders);
        var nextOrder = (db.Orders.Max(o => (long?)o.Id) ?? 0) + 1;
        var nextEntry = (db.Entries.Max(e => (long?)e.Id) ?? 0) + 1;
        var nextException = (db.OrderExceptions.Max(e => (long?)e.Id) ?? 0) + 1;
        var totals = new TotalsChange();
        var records = new List<OrderRecord>(orders.Count);
        var entries = new List<EntryRecord>(orders.Count * 3);
        var exceptions = new List<OrderExceptionRecord>();
        foreach (var order in orders)
        {
            var outcome = OrderOutcome.WorkOut(book.Rules, order, [], origins.Of(order));
            var record = OrderFacts.ToRecord(order, book.Time);
            record.Id = nextOrder++;
            foreach (var line in record.Lines) line.OrderId = record.Id;
            outcome.WriteFigures(record, book.Rules, order);
            totals.Add(record);
            records.Add(record);
            foreach (var (entry, _) in outcome.Entries) entries.Add(ToRecord(nextEntry++, record, entry, null, entry.PostedOn));
            foreach (var exception in outcome.Exceptions) exceptions.Add(ToRecord(nextException++, record.Id, exception));
        }
        Write(records);
        Write(records.SelectMany(r => r.Lines));
        Write(entries);
        KeptEntrySums.Add(db, entries);
        Write(exceptions);
        totals.Save(db);
        RecalculateRenewalsOf(orders.Select(o => o.Id.Value).ToArray());
    }

    /// <summary>Works orders out again from the facts the book holds and posts the differences.</summary>
    /// <param name="newRefunds">Refunds that have just come in: what they post carries their own date; every other difference is dated today.</param>
    /// <returns>How many orders had anything to post or to correct.</returns>
    public int Recalculate(IReadOnlyCollection<long> orderKeys, IReadOnlySet<long>? newRefunds = null)
    {
        if (orderKeys.Count == 0) return 0;
        var held = new HeldOrders(db, orderKeys);
        var origins = new OriginsInBook(db, book.Rules, held.Orders.Select(o => o.Order).ToArray());
        var nextEntry = (db.Entries.Max(e => (long?)e.Id) ?? 0) + 1;
        var nextException = (db.OrderExceptions.Max(e => (long?)e.Id) ?? 0) + 1;
        var totals = new TotalsChange();
        var entries = new List<EntryRecord>();
        var exceptions = new List<OrderExceptionRecord>();
        var reattributed = new List<string>();
        var changed = 0;
        foreach (var (record, order) in held.Orders)
        {
            var before = (record.AttributedTo, record.House, record.Exceptions);
            var wasPosted = held.Posted(record.Id).Count > 0 || record.Status == OrderStatus.Calculated;
            totals.Subtract(record);
            var outcome = OrderOutcome.WorkOut(book.Rules, order, held.Refunds(record.Id).Select(r => r.Refund).ToArray(), origins.Of(order));
            outcome.WriteFigures(record, book.Rules, order);
            totals.Add(record);
            var differences = Differences(record, outcome, held, newRefunds, wasPosted, ref nextEntry);
            entries.AddRange(differences);
            foreach (var exception in outcome.Exceptions) exceptions.Add(ToRecord(nextException++, record.Id, exception));
            if (before.AttributedTo != record.AttributedTo) reattributed.Add(record.OrderId);
            if (differences.Count > 0 || before != (record.AttributedTo, record.House, record.Exceptions)) changed++;
        }
        db.SaveChanges();
        db.OrderExceptions.Where(e => orderKeys.Contains(e.OrderId)).ExecuteDelete();
        Write(entries);
        KeptEntrySums.Add(db, entries);
        Write(exceptions);
        totals.Save(db);
        RecalculateRenewalsOf(reattributed);
        return changed;
    }

    private List<EntryRecord> Differences(
        OrderRecord record, OrderOutcome outcome, HeldOrders held, IReadOnlySet<long>? newRefunds, bool wasPosted, ref long nextEntry)
    {
        var refundKeys = held.Refunds(record.Id).ToDictionary(r => r.Refund.Id, r => r.Key);
        var posted = held.Posted(record.Id);
        var differences = new List<EntryRecord>();
        var seen = new HashSet<PostedKey>();
        foreach (var (entry, refund) in outcome.Entries)
        {
            long? refundKey = refund is { } id ? refundKeys[id] : null;
            var natural = refundKey is { } key ? newRefunds?.Contains(key) == true : !wasPosted;
            var whole = ToRecord(0, record, entry, refundKey, natural ? entry.PostedOn : today);
            var slot = PostedKey.Of(whole);
            seen.Add(slot);
            whole.Amount -= posted.GetValueOrDefault(slot).Amount;
            if (whole.Amount == 0) continue;
            whole.Id = nextEntry++;
            differences.Add(whole);
        }
        foreach (var (slot, was) in posted)
        {
            if (was.Amount == 0 || seen.Contains(slot)) continue;
            differences.Add(slot.Reversing(nextEntry++, record.Id, was, today));
        }
        return differences;
    }

    /// <summary>A renewal has its origin's attribution: when that comes or changes, so does the renewal's.</summary>
    private void RecalculateRenewalsOf(IReadOnlyCollection<string> origins)
    {
        if (origins.Count == 0) return;
        var renewals = db.Orders.Where(o => o.Origin != null && origins.Contains(o.Origin) && !origins.Contains(o.OrderId))
            .Select(o => o.Id).ToArray();
        Recalculate(renewals);
    }

    private static EntryRecord ToRecord(long id, OrderRecord order, Entry entry, long? refund, DateOnly postedOn) => new()
    {
        Id = id,
        OrderId = order.Id,
        LinePosition = order.Lines.First(l => l.LineId == entry.Line.Value).Position,
        Payee = entry.Payee.Value,
        Agreement = entry.Agreement.Value,
        Part = entry.Part,
        RefundId = refund,
        Amount = entry.Amount.Minor,
        Currency = entry.Amount.Currency.Code,
        PostedOn = postedOn,
        Period = Period.Of(postedOn).Number,
        ClearsOn = entry.ClearsOn,
    };

    private static OrderExceptionRecord ToRecord(long id, long orderKey, CalculationException exception) => new()
    {
        Id = id,
        OrderId = orderKey,
        Code = exception.Code,
        LineId = exception.Line?.Value,
        Payee = exception.Payee?.Value,
    };

    private void Write<T>(IEnumerable<T> rows) where T : class
    {
        using var writer = new BulkWriter<T>(db);
        writer.Write(rows);
    }
}
