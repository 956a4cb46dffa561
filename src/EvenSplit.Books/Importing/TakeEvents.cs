using EvenSplit.Books.Keeping;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Books.SettingAside;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>
/// Takes events out of the inbox into the book, some hundred at a time. What they do and that they are taken stands in one transaction: stopped
/// anywhere, each is taken once. In a batch orders come before payments, payments before refunds; what comes before its order waits for it.
/// </summary>
public sealed class TakeEvents(BookDbContext db, BookCache cache, BookClock clock, ReadImport imports, UnknownBuyers unknown) : IUseCase
{
    private const int BatchSize = 200;

    /// <summary>Whether there is anything to take.</summary>
    public bool AnyWaiting => db.Inbox.Any(e => e.State == EventState.Waiting);

    /// <summary>Takes all there is.</summary>
    public void RunAll(CancellationToken stopping = default)
    {
        while (!stopping.IsCancellationRequested && TakeBatch(BatchSize))
        {
        }
    }

    /// <summary>Takes one event before all others, in the caller's transaction.</summary>
    /// <returns>What became of it.</returns>
    internal InboxEventRecord TakeNow(string source, string eventId)
    {
        var record = db.Inbox.Single(e => e.Source == source && e.EventId == eventId);
        Take([record]);
        db.SaveChanges();
        return record;
    }

    private bool TakeBatch(int size)
    {
        db.ChangeTracker.Clear();
        try
        {
            using var transaction = db.Database.BeginTransaction();
            var batch = db.Inbox.Where(e => e.State == EventState.Waiting).OrderBy(e => e.Id).Take(size).ToArray();
            if (batch.Length == 0) return false;
            Take(batch);
            db.SaveChanges();
            transaction.Commit();
            return true;
        }
        catch (Exception failure) when (failure is not OperationCanceledException && !ReadImport.MayPass(failure))
        {
            // One event must not hold up all others: by themselves they show which it is.
            if (size > 1) return TakeOneByOne(size);
            db.ChangeTracker.Clear();
            var first = db.Inbox.Where(e => e.State == EventState.Waiting).OrderBy(e => e.Id).First();
            (first.State, first.Fault) = (EventState.Failed, failure is OverflowException ? "An amount in it is beyond the largest there is." : "It could not be worked out: " + failure.Message);
            db.SaveChanges();
            return true;
        }
    }

    private bool TakeOneByOne(int count)
    {
        for (var i = 0; i < count; i++)
        {
            if (!TakeBatch(1)) return i > 0;
        }
        return true;
    }

    private void Take(InboxEventRecord[] batch)
    {
        var book = cache.Get(db);
        var posting = new OrderPosting(db, book, clock.Today);
        foreach (var record in batch) record.State = EventState.Taken;
        var events = new EventsOfTheirChannels(db).Only([.. batch.Select(r => (r, SalesEventJson.Read(r.Body)))]);
        var orders = Orders(events);
        Pay(events, orders);
        Take(ImportKind.Orders, book, posting, [.. orders.Values]);
        var refunds = events.Where(e => e.Event.Kind == SalesEventKind.Refund).Where(e => HasOrder(e.Record)).ToArray();
        Take(ImportKind.Refunds, book, posting, Groups(ImportKind.Refunds, refunds));
        Take(ImportKind.Clicks, book, posting, Groups(ImportKind.Clicks, [.. events.Where(e => e.Event.Kind == SalesEventKind.Click)]));
    }

    /// <summary>Orders by id, as they are reported last. One that was paid stays paid, even if an earlier report comes later.</summary>
    private Dictionary<string, (InboxEventRecord Record, IRowGroup Group)> Orders((InboxEventRecord Record, SalesEvent Event)[] events)
    {
        var last = events.Where(e => e.Event.Kind == SalesEventKind.Order).GroupBy(e => e.Event.Order).Select(g => g.Last()).ToArray();
        var ids = last.Select(e => e.Event.Order).ToArray();
        var paid = db.Orders.AsNoTracking().Where(o => ids.Contains(o.OrderId) && o.PaidAt != null).Select(o => new { o.OrderId, o.PaidAt }).ToDictionary(o => o.OrderId, o => o.PaidAt);
        return Groups(ImportKind.Orders, last).ToDictionary(g => g.Group.Id, g => g.Group is ReadOrder { Order: { PaidAt: null } order } read && paid.TryGetValue(g.Group.Id, out var at)
            ? (g.Record, read with { Order = order with { PaidAt = at } })
            : g);
    }

    private void Pay((InboxEventRecord Record, SalesEvent Event)[] events, Dictionary<string, (InboxEventRecord Record, IRowGroup Group)> orders)
    {
        foreach (var (record, payment) in events.Where(e => e.Event.Kind == SalesEventKind.Payment))
        {
            var row = new CsvRow(record.Id, payment.Rows[0]);
            var order = orders.TryGetValue(payment.Order, out var known) ? (known.Group as ReadOrder)?.Order : imports.Reader().HeldOrder(new OrderId(payment.Order));
            if (order is null)
            {
                (record.State, record.Fault) = (EventState.WaitsForOrder, $"The order {payment.Order} has not come yet.");
                continue;
            }
            var (paid, faults) = PaymentReport.Read(row, cache.Get(db).Time, order.Currency);
            if (paid is null)
            {
                (record.State, record.Fault) = (EventState.Failed, string.Join("; ", faults));
                continue;
            }
            order = paid.Of(order);
            orders[payment.Order] = known.Group is ReadOrder read ? (known.Record, read with { Order = order }) : (record, new ReadOrder(payment.Order, [row], order, []));
        }
    }

    private bool HasOrder(InboxEventRecord refund)
    {
        if (db.Orders.Any(o => o.OrderId == refund.Order)) return true;
        (refund.State, refund.Fault) = (EventState.WaitsForOrder, $"The order {refund.Order} has not come yet.");
        return false;
    }

    private (InboxEventRecord Record, IRowGroup Group)[] Groups(ImportKind kind, (InboxEventRecord Record, SalesEvent Event)[] events)
    {
        var reader = imports.Reader();
        return [.. events.Select(e => (e.Record, e.Event.Rows.Select(cells => new CsvRow(e.Record.Id, cells)).InGroups(kind, reader).First()))];
    }

    private void Take(ImportKind kind, OpenedBook book, OrderPosting posting, (InboxEventRecord Record, IRowGroup Group)[] groups)
    {
        if (groups.Length == 0) return;
        var import = Today(kind);
        var intake = new Intake(db, book, posting, import, unknown, isDecided: false);
        intake.Orders(groups.Select(g => g.Group).OfType<ReadOrder>());
        intake.Refunds(groups.Select(g => g.Group).OfType<ReadRefund>().DistinctBy(g => g.Id));
        intake.Clicks(groups.Select(g => g.Group).OfType<ReadClick>());
        new SetAside(db, import).Take(groups.Select(g => g.Group));
        import.Rows += groups.Length;
        foreach (var (record, group) in groups.Where(g => g.Group.Faults.Count > 0)) (record.State, record.Fault) = (EventState.Quarantined, string.Join("; ", group.Faults));
    }

    /// <summary>What came by events on one day stands among the files as one, so that its rows have somewhere to wait.</summary>
    private ImportRecord Today(ImportKind kind)
    {
        var today = clock.Today;
        var import = db.Imports.FirstOrDefault(i => i.Kind == kind && i.EventsOf == today);
        if (import is not null) return import;
        import = new ImportRecord { Kind = kind, FileName = $"events of {today.InWords()}", EventsOf = today, By = "the shop", At = clock.GetUtcNow(), State = ImportState.Done };
        db.Imports.Add(import);
        db.SaveChanges();
        return import;
    }
}
