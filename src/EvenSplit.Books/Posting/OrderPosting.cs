using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Puts orders into the book and posts what they come to, inside the caller's transaction. What is owed now less what is posted is
/// what gets posted: new orders, refunds, corrections and recalculation are all the same difference. Nothing else moves the kept sums of sales.
/// </summary>
/// <param name="tracks">How far payees have come, where that was read before; null where it is to be read.</param>
/// <param name="numbers">Of entries, where the caller's transaction has more than one posting; null where this is the only one.</param>
/// <param name="alongside">Whether rows are still being written when it returns: who goes on looks to <see cref="BookDbContext.Alongside"/>.</param>
internal sealed class OrderPosting(BookDbContext db, OpenedBook book, DateOnly today, KeptTracks? tracks = null, EntryNumbers? numbers = null, bool alongside = false)
{
    /// <summary>So many other orders are looked at again with the change that touches them.</summary>
    private const int MostAtOnce = 200;

    private readonly EntryNumbers _numbers = numbers ?? new EntryNumbers(db);

    /// <summary>Keys of the orders that were put in or worked out again, those asked for and those they reached.</summary>
    public HashSet<long> WorkedOut { get; } = [];

    /// <summary>The keys of the entries that were posted; null where there were none.</summary>
    public (long First, long Last)? Posted { get; private set; }

    private KeptTracks Tracks => tracks ?? new KeptTracks(db, book.Progress);

    /// <summary>Posts orders the book does not hold yet.</summary>
    /// <param name="visitors">By order id, what the shop knows their visitors by.</param>
    public void PostNew(IReadOnlyList<Order> orders, IReadOnlyDictionary<string, string>? visitors = null)
    {
        var firstOrder = (db.Orders.Max(o => (long?)o.Id) ?? 0) + 1;
        var added = new HeldOrder[orders.Count];
        SideBySide.For(added.Length, i =>
        {
            var record = OrderFacts.ToRecord(orders[i], book.Time);
            record.Id = firstOrder + i;
            record.Visitor = visitors?.GetValueOrDefault(record.OrderId);
            foreach (var line in record.Lines) line.OrderId = record.Id;
            foreach (var code in record.Codes) code.OrderId = record.Id;
            foreach (var click in record.Clicks) click.OrderId = record.Id;
            added[i] = new HeldOrder(record, orders[i], [], new Dictionary<PostedKey, PostedAmount>(), [], null);
        });
        var outcomes = new OutcomesInTime(db, book, Tracks, alongside).WorkOut([], added);
        var shifted = new PricesHeldToPlan(db, book).Look(outcomes.Values);
        var keys = added.Select(o => o.Record.Id).ToHashSet();
        SideBySide.For(added.Length, i =>
        {
            var (record, outcome) = (added[i].Record, outcomes[added[i].Record.Id].Outcome);
            outcome.WriteFigures(record, book.Rules, KeptExceptions.Of(record, outcome).Length, isRefunded: false);
        });
        Write(added.Select(o => o.Record));
        OrderTexts.Add(db, firstOrder);
        Write(added.SelectMany(o => o.Record.Lines));
        Write(added.SelectMany(o => o.Record.Codes));
        Write(added.SelectMany(o => o.Record.Clicks));
        var (_, reattributed) = Post([.. outcomes.Values], keys, null);
        // An order that has come makes renewals that came before it follow it.
        RecalculateRenewalsOf([.. orders.Select(o => o.Id.Value).Union(reattributed)], but: keys);
        LookAgain(shifted);
    }

    /// <summary>Puts what a shop reports now in the place of what it reported before, and posts the differences.</summary>
    /// <param name="orders">By order key; each is in the book.</param>
    public void Correct(IReadOnlyDictionary<long, Order> orders)
    {
        var before = HeldOrder.Of(db, [.. orders.Keys]);
        var keys = orders.Keys.ToArray();
        foreach (var record in db.Orders.WithParts().Where(o => keys.Contains(o.Id)).ToArray())
        {
            db.OrderCodes.RemoveRange(record.Codes);
            db.SaveChanges();
            OrderFacts.Fill(record, orders[record.Id], book.Time);
        }
        db.SaveChanges();
        // What was counted is still to be taken off the month it was in.
        Recalculate([.. HeldOrder.Of(db, keys).Zip(before, (now, was) => now with { Counted = was.Counted })], null);
    }

    /// <summary>Works orders out again from the facts the book holds and posts the differences.</summary>
    /// <param name="newRefunds">Refunds that have just come in: what they post carries their own date; every other difference is dated today.</param>
    /// <returns>How many orders had anything to post or to correct.</returns>
    public int Recalculate(IReadOnlyCollection<long> orderKeys, IReadOnlySet<long>? newRefunds = null) =>
        orderKeys.Count == 0 ? 0 : Recalculate(HeldOrder.Of(db, orderKeys), newRefunds);

    /// <summary>The same of orders that have just been read.</summary>
    public int Recalculate(IReadOnlyList<HeldOrder> held) => held.Count == 0 ? 0 : Recalculate(held, null);

    /// <summary>Counts anew which exceptions of orders are open, after somebody has let some stand.</summary>
    public void CountExceptions(IReadOnlyCollection<long> orderKeys)
    {
        var exceptions = new KeptExceptions(db, orderKeys);
        var totals = new TotalsChange();
        foreach (var record in db.Orders.Where(o => orderKeys.Contains(o.Id)).ToArray())
        {
            var before = TotalsChange.Of(record);
            record.Exceptions = exceptions.LookAgain(record.Id);
            totals.Move(before, TotalsChange.Of(record));
        }
        db.SaveChanges();
        exceptions.Save();
        totals.Save(db);
    }

    /// <summary>Looks at other orders again: at once where they are few, else in the background, so that nobody waits for them.</summary>
    private void LookAgain(IReadOnlyCollection<long> orders)
    {
        if (orders.Count > MostAtOnce) AskedAgain.Ask(db, db.Orders.Where(o => orders.Contains(o.Id)));
        else Recalculate(orders);
    }

    private int Recalculate(IReadOnlyList<HeldOrder> held, IReadOnlySet<long>? newRefunds)
    {
        var outcomes = new OutcomesInTime(db, book, Tracks, alongside).WorkOut(held, []);
        var shifted = new PricesHeldToPlan(db, book).Look(outcomes.Values);
        var (changed, reattributed) = Post([.. outcomes.Values], new HashSet<long>(), newRefunds);
        RecalculateRenewalsOf(reattributed);
        LookAgain(shifted);
        return changed;
    }

    private (int Changed, IReadOnlyCollection<string> Reattributed) Post(
        IReadOnlyCollection<WorkedOut> outcomes, HashSet<long> added, IReadOnlySet<long>? newRefunds)
    {
        var keys = outcomes.Select(o => o.Held.Record.Id).ToArray();
        WorkedOut.UnionWith(keys);
        var held = keys.Where(id => !added.Contains(id)).ToArray();
        var exceptions = new KeptExceptions(db, held);
        var heldBack = HeldLines.Of(db, held);
        var totals = new TotalsChange();
        var (entries, rows) = (new List<EntryRecord>(), new List<(OrderRecord Record, RowChange Change)>());
        var redated = new Dictionary<long, DateOnly?>();
        var reattributed = new List<string>();
        var changed = 0;
        foreach (var found in Differences(outcomes, added, newRefunds, exceptions, heldBack))
        {
            var record = found.Held.Record;
            exceptions.Replace(record.Id, found.Exceptions);
            if (!added.Contains(record.Id)) rows.Add((record, found.Change));
            totals.Move(found.Held.Counted, TotalsChange.Of(record));
            entries.AddRange(found.Entries.New);
            foreach (var (entry, clearsOn) in found.Entries.Redated) redated.Add(entry, clearsOn);
            if (found.IsAttributedOtherwise) reattributed.Add(record.OrderId);
            if (found.IsChanged) changed++;
        }
        db.SaveChanges();
        BulkWriter<OrderRecord>.Updating(db, OrderOutcome.Amounts).WriteAll([.. rows.Where(r => r.Change == RowChange.Amounts).Select(r => r.Record)], alongside);
        BulkWriter<OrderRecord>.Updating(db, OrderOutcome.Columns).WriteAll([.. rows.Where(r => r.Change == RowChange.All).Select(r => r.Record)], alongside);
        var openSince = db.Takings.Max(t => (int?)t.Id) ?? 0;
        var sums = new KeptEntrySums(db);
        sums.Redate(redated, openSince);
        var next = _numbers.Take(entries.Count);
        foreach (var entry in entries) (entry.Id, entry.OpenSince) = (next++, openSince);
        if (entries.Count > 0) Posted = (Posted?.First ?? entries[0].Id, entries[^1].Id);
        BulkWriter<EntryRecord>.InsertingGuarded(db).WriteAll(entries, alongside);
        sums.Add(entries);
        sums.Save(alongside);
        exceptions.Save();
        totals.Save(db, alongside);
        return (changed, reattributed);
    }

    /// <summary>What each order has to post and what its row says now, found side by side. Rows in the book are not touched.</summary>
    private Found[] Differences(
        IReadOnlyCollection<WorkedOut> outcomes, HashSet<long> added, IReadOnlySet<long>? newRefunds, KeptExceptions exceptions,
        IReadOnlySet<(long Order, int Line, string Payee, string Agreement)> heldBack)
    {
        WorkedOut[] all = [.. outcomes];
        var found = new Found[all.Length];
        SideBySide.For(all.Length, i =>
        {
            var (order, outcome) = all[i];
            var record = order.Record;
            var isNew = added.Contains(record.Id);
            var raised = exceptions.Raised(record, outcome);
            var before = (record.Status, record.AttributedTo, record.House, record.Exceptions);
            var isNatural = isNew || (order.Posted.Count == 0 && record.Status != OrderStatus.Calculated);
            var change = isNew ? RowChange.None : outcome.WriteFigures(record, book.Rules, raised.Count(e => e.IsOpen), order.Refunds.Count > 0);
            var entries = EntryDifferences.Of(order, outcome, newRefunds, isNatural, heldBack, book.IsClosed, today);
            found[i] = new Found(
                order, raised, change, entries, IsAttributedOtherwise: (before.Status, before.AttributedTo) != (record.Status, record.AttributedTo),
                IsChanged: entries.New.Count > 0 || before != (record.Status, record.AttributedTo, record.House, record.Exceptions));
        });
        return found;
    }

    /// <param name="Change">How much of the row says something else; an order that has only come has its row already.</param>
    private sealed record Found(HeldOrder Held, OrderExceptionRecord[] Exceptions, RowChange Change, EntryDifferences Entries, bool IsAttributedOtherwise, bool IsChanged);

    /// <summary>A renewal has its origin's attribution: when that comes or changes, so does the renewal's.</summary>
    /// <param name="but">Orders that were worked out together with their origins just now.</param>
    private void RecalculateRenewalsOf(IReadOnlyCollection<string> origins, IReadOnlySet<long>? but = null)
    {
        if (origins.Count == 0) return;
        Recalculate([.. db.Orders.Where(o => o.Origin != null && origins.Contains(o.Origin)).Select(o => o.Id).AsEnumerable().Where(id => but?.Contains(id) != true)]);
    }

    private void Write<T>(IEnumerable<T> rows) where T : class
    {
        using var writer = BulkWriter<T>.Inserting(db);
        writer.Write(rows);
    }
}
