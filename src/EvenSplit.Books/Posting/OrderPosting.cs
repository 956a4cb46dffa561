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
    /// <summary>Posts orders the book does not hold yet, with the refunds of them that have come with them.</summary>
    /// <param name="visitors">By order id, what the shop knows their visitors by.</param>
    public void PostNew(IReadOnlyList<Order> orders, IReadOnlyList<Refund> refunds, IReadOnlyDictionary<string, string>? visitors = null)
    {
        var nextRefund = (db.Refunds.Max(r => (long?)r.Id) ?? 0) + 1;
        var refunded = refunds.ToLookup(r => r.Order, r => (Key: nextRefund++, Refund: r));
        var nextOrder = (db.Orders.Max(o => (long?)o.Id) ?? 0) + 1;
        var added = orders.Select(order =>
        {
            var record = OrderFacts.ToRecord(order, book.Time);
            record.Id = nextOrder++;
            record.Visitor = visitors?.GetValueOrDefault(record.OrderId);
            foreach (var line in record.Lines) line.OrderId = record.Id;
            foreach (var code in record.Codes) code.OrderId = record.Id;
            foreach (var click in record.Clicks) click.OrderId = record.Id;
            return new HeldOrder(record, order, refunded[order.Id].ToArray(), new Dictionary<PostedKey, PostedAmount>());
        }).ToArray();
        var outcomes = new OutcomesInTime(db, book).WorkOut([], added);
        var shifted = new PricesHeldToPlan(db, book).Look(outcomes.Values);
        Write(added.Select(o => o.Record), o => outcomes[o.Id].Outcome.WriteFigures(o));
        Write(added.SelectMany(o => o.Record.Lines));
        Write(added.SelectMany(o => o.Record.Codes));
        Write(added.SelectMany(o => o.Record.Clicks));
        var refundRecords = added.SelectMany(o => o.Refunds.Select(r => OrderFacts.ToRecord(r.Refund, r.Key, o.Record.Id))).ToArray();
        Write(refundRecords);
        Write(refundRecords.SelectMany(r => r.Lines));
        Post([.. outcomes.Values], added.Select(o => o.Record.Id).ToHashSet(), null);
        RecalculateRenewalsOf(orders.Select(o => o.Id.Value).ToArray());
        Recalculate(shifted);
    }

    /// <summary>Works orders out again from the facts the book holds and posts the differences.</summary>
    /// <param name="newRefunds">Refunds that have just come in: what they post carries their own date; every other difference is dated today.</param>
    /// <returns>How many orders had anything to post or to correct.</returns>
    public int Recalculate(IReadOnlyCollection<long> orderKeys, IReadOnlySet<long>? newRefunds = null)
    {
        if (orderKeys.Count == 0) return 0;
        var outcomes = new OutcomesInTime(db, book).WorkOut(HeldOrder.Of(db, orderKeys), []);
        var shifted = new PricesHeldToPlan(db, book).Look(outcomes.Values);
        var accepted = db.AcceptedExceptions.AsNoTracking().Where(a => orderKeys.Contains(a.OrderId)).AsEnumerable().ToLookup(a => a.OrderId, a => (a.Code, a.LineId, a.Payee));
        foreach (var order in accepted) outcomes[order.Key].Outcome.Accepted = order.ToHashSet();
        var (changed, reattributed) = Post([.. outcomes.Values], new HashSet<long>(), newRefunds);
        RecalculateRenewalsOf(reattributed);
        Recalculate(shifted);
        return changed;
    }

    private (int Changed, IReadOnlyCollection<string> Reattributed) Post(
        IReadOnlyCollection<WorkedOut> outcomes, HashSet<long> added, IReadOnlySet<long>? newRefunds)
    {
        var nextEntry = (db.Entries.Max(e => (long?)e.Id) ?? 0) + 1;
        var nextException = (db.OrderExceptions.Max(e => (long?)e.Id) ?? 0) + 1;
        var totals = new TotalsChange();
        var entries = new List<EntryRecord>();
        var exceptions = new List<OrderExceptionRecord>();
        var reattributed = new List<string>();
        var redated = new List<(EntryRecord Entry, DateOnly? ClearsOn)>();
        var changed = 0;
        var ids = outcomes.Select(o => o.Held.Record.Id).Where(id => !added.Contains(id)).ToArray();
        var heldBack = db.EntryHolds.AsNoTracking().Where(h => h.LetGoAt == null && ids.Contains(h.OrderId))
            .Select(h => new { h.OrderId, h.LinePosition, h.Payee, h.Agreement }).AsEnumerable().Select(h => (h.OrderId, h.LinePosition, h.Payee, h.Agreement)).ToHashSet();
        foreach (var (held, outcome) in outcomes)
        {
            var record = held.Record;
            foreach (var exception in outcome.Exceptions) exceptions.Add(ToRecord(nextException++, record.Id, exception));
            foreach (var finding in outcome.OffPlan) exceptions.Add(ToRecord(nextException++, record.Id, finding));
            var isNew = added.Contains(record.Id);
            var before = (record.Status, record.AttributedTo, record.House, record.Exceptions);
            // Attribution and refunds apart, what was never calculated has its entries dated by itself.
            var natural = isNew || (held.Posted.Count == 0 && record.Status != OrderStatus.Calculated);
            if (!isNew)
            {
                totals.Subtract(record);
                outcome.WriteFigures(record);
            }
            totals.Add(record);
            var differences = Differences(held, outcome, newRefunds, natural, heldBack, redated, ref nextEntry);
            entries.AddRange(differences);
            if ((before.Status, before.AttributedTo) != (record.Status, record.AttributedTo)) reattributed.Add(record.OrderId);
            if (differences.Count > 0 || before != (record.Status, record.AttributedTo, record.House, record.Exceptions)) changed++;
        }
        db.SaveChanges();
        if (ids.Length > 0) db.OrderExceptions.Where(e => ids.Contains(e.OrderId)).ExecuteDelete();
        Redate(redated);
        Write(entries);
        KeptEntrySums.Add(db, entries);
        Write(exceptions);
        totals.Save(db);
        return (changed, reattributed);
    }

    private List<EntryRecord> Differences(
        HeldOrder held, OrderOutcome outcome, IReadOnlySet<long>? newRefunds, bool natural, HashSet<(long Order, int Line, string Payee, string Agreement)> heldBack,
        List<(EntryRecord Entry, DateOnly? ClearsOn)> redated, ref long nextEntry)
    {
        var refundKeys = held.Refunds.ToDictionary(r => r.Refund.Id, r => r.Key);
        var positions = held.Record.Lines.ToDictionary(l => l.LineId, l => l.Position);
        var differences = new List<EntryRecord>();
        var seen = new HashSet<PostedKey>();
        foreach (var entry in outcome.Entries)
        {
            long? refundKey = entry.Refund is { } id ? refundKeys[id] : null;
            var byItself = natural || (refundKey is { } key && newRefunds?.Contains(key) == true);
            var whole = ToRecord(held.Record.Id, positions[entry.Line.Value], entry, refundKey, byItself ? entry.PostedOn : today);
            // What is held back by hand clears on no day until it is let go.
            if (heldBack.Contains((whole.OrderId, whole.LinePosition, whole.Payee, whole.Agreement))) whole.ClearsOn = null;
            var slot = PostedKey.Of(whole);
            seen.Add(slot);
            var was = held.Posted.GetValueOrDefault(slot) ?? PostedAmount.Nothing;
            redated.AddRange(was.Open.Where(e => e.ClearsOn != whole.ClearsOn).Select(e => (e, whole.ClearsOn)));
            whole.Amount -= was.Amount;
            if (whole.Amount == 0) continue;
            whole.Id = nextEntry++;
            differences.Add(whole);
        }
        foreach (var (slot, was) in held.Posted)
        {
            if (was.Amount == 0 || seen.Contains(slot)) continue;
            differences.Add(slot.Reversing(nextEntry++, held.Record.Id, was, today));
        }
        return differences;
    }

    /// <summary>Moves entries that no run has taken to the day on which they clear now: an order was signed off, a hold has changed.</summary>
    private void Redate(IReadOnlyList<(EntryRecord Entry, DateOnly? ClearsOn)> redated)
    {
        if (redated.Count == 0) return;
        foreach (var sameDay in redated.GroupBy(r => r.ClearsOn, r => r.Entry.Id))
        {
            foreach (var ids in sameDay.Chunk(500)) db.Entries.Where(e => ids.Contains(e.Id)).ExecuteUpdate(set => set.SetProperty(e => e.ClearsOn, sameDay.Key));
        }
        KeptEntrySums.Move(db, redated);
    }

    /// <summary>A renewal has its origin's attribution: when that comes or changes, so does the renewal's.</summary>
    private void RecalculateRenewalsOf(IReadOnlyCollection<string> origins)
    {
        if (origins.Count == 0) return;
        var renewals = db.Orders.Where(o => o.Origin != null && origins.Contains(o.Origin) && !origins.Contains(o.OrderId))
            .Select(o => o.Id).ToArray();
        Recalculate(renewals);
    }

    private static EntryRecord ToRecord(long orderKey, int linePosition, Entry entry, long? refund, DateOnly postedOn) => new()
    {
        OrderId = orderKey,
        LinePosition = linePosition,
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

    private static OrderExceptionRecord ToRecord(long id, long orderKey, PriceFinding finding) => new()
    {
        Id = id,
        OrderId = orderKey,
        Code = ExceptionCode.PriceOffPlan,
        LineId = finding.Line.Value,
        Price = finding.Fault,
        Expected = finding.Expected,
        Actual = finding.Actual,
    };

    private void Write<T>(IEnumerable<T> rows, Action<T>? before = null) where T : class
    {
        using var writer = new BulkWriter<T>(db);
        writer.Write(before is null ? rows : rows.Select(row =>
        {
            before(row);
            return row;
        }));
    }
}
