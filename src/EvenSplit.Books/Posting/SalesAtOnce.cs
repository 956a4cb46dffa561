using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Puts all sales into a book that has none: worked out at once as calc does, written table by table. The book is the same as if they had come in one by
/// one. Committed in portions, so that the journal stays small: what is stopped on the way is no book.
/// </summary>
internal sealed class SalesAtOnce(BookDbContext db, OpenedBook book)
{
    private const int Portion = 50_000;

    private readonly Dictionary<string, int> _places = [];
    private readonly List<OrderExceptionRecord> _exceptions = [];
    private readonly List<ProgressEventRecord> _events = [];
    private readonly Dictionary<(string Payee, string Agreement, string Currency, DateOnly On), ProgressSpan> _days = [];
    private readonly HashSet<string> _refunded = [];
    private OrderRecord[] _records = [];

    /// <exception cref="InvalidOperationException">The book has orders already.</exception>
    public void Post(IReadOnlyList<Order> orders, IReadOnlyList<Refund> refunds)
    {
        if (db.Orders.Any()) throw new InvalidOperationException("Sales are taken at once into a book that has none.");
        if (orders.Count == 0) return;
        _records = new OrderRecord[orders.Count];
        SideBySide.For(orders.Count, i => _records[i] = ToRecord(orders[i], i + 1));
        for (var i = 0; i < orders.Count; i++) _places.Add(orders[i].Id.Value, i);
        var refundKeys = new Dictionary<string, long>(refunds.Count);
        foreach (var refund in refunds) refundKeys.Add(refund.Id.Value, refundKeys.Count + 1);
        foreach (var refund in refunds) _refunded.Add(refund.Order.Value);
        var watch = new BookWatch { Tracks = book.Progress, OnLedger = l => Note(OrderOutcome.Of(book.Rules, l)), OnEvent = Follow };
        var result = WholeBook.WorkOut(new Facts(book.Rules, orders, refunds, [], []), watch);
        foreach (var order in orders.Where(o => o.IsTest || o.PaidAt is null)) Note(OrderOutcome.WorkOut(book, order, [], null, new NothingSoFar()));
        var counted = HoldToPlans(orders);
        using var indexes = new IndexesLater(db, "Orders", "OrderLines", "OrderCodes", "OrderClicks", "Refunds", "RefundLines", "Entries", "OrderExceptions", "ProgressEvents", "CountedSales");
        Write(_records);
        OrderTexts.Add(db, 1);
        Write(_records.SelectMany(r => r.Lines));
        Write(_records.SelectMany(r => r.Codes));
        Write(_records.SelectMany(r => r.Clicks));
        Write(refunds.Select(r => OrderFacts.ToRecord(r, refundKeys[r.Id.Value], Key(r.Order))));
        Write(refunds.SelectMany(r => OrderFacts.ToRecord(r, refundKeys[r.Id.Value], Key(r.Order)).Lines));
        for (var i = 0; i < _exceptions.Count; i++) _exceptions[i].Id = i + 1;
        Write(_exceptions);
        Write(_events);
        Write(_days.Select(d => new ProgressDayRecord { Payee = d.Key.Payee, Agreement = d.Key.Agreement, Currency = d.Key.Currency, On = d.Key.On, Span = d.Value }));
        Write(counted);
        var days = counted.GroupBy(s => (s.Product, On: CountedProduct.DayOf(s.PlacedAt)));
        Write(days.Select(day => new CountedDayRecord { Product = day.Key.Product, On = day.Key.On, Quantity = day.Sum(s => s.Quantity) }));
        WriteEntries(result.Entries, refundKeys);
        var totals = new TotalsChange();
        foreach (var record in _records) totals.Move(null, TotalsChange.Of(record));
        using var transaction = db.Database.BeginTransaction();
        totals.Save(db);
        transaction.Commit();
    }

    private long Key(OrderId order) => _records[_places[order.Value]].Id;

    private OrderRecord ToRecord(Order order, long key)
    {
        var record = OrderFacts.ToRecord(order, book.Time);
        record.Id = key;
        foreach (var line in record.Lines) line.OrderId = key;
        foreach (var code in record.Codes) code.OrderId = key;
        foreach (var click in record.Clicks) click.OrderId = key;
        return record;
    }

    private void Note(OrderOutcome outcome)
    {
        var record = _records[_places[outcome.Order.Id.Value]];
        var raised = KeptExceptions.Of(record, outcome);
        outcome.WriteFigures(record, book.Rules, raised.Length, _refunded.Contains(record.OrderId));
        _exceptions.AddRange(raised);
    }

    private void Follow(SettledEvent settled)
    {
        foreach (var change in settled.Changes)
        {
            var (payee, agreement, currency) = (change.Track.Key.Payee.Value, change.Track.Key.Agreement?.Value ?? "", change.Track.Currency.Code);
            _events.Add(new ProgressEventRecord
            {
                Payee = payee,
                Agreement = agreement,
                Currency = currency,
                At = settled.Moment.UtcTicks,
                IsRefund = settled.Moment.IsRefund,
                EventId = settled.Moment.Id,
                OrderId = Key(settled.Order),
                On = settled.On,
                Sales = change.Figures.Sales,
                Orders = change.Figures.Orders,
                Earned = change.Figures.Earned,
            });
            var day = (payee, agreement, currency, settled.On);
            _days[day] = _days.GetValueOrDefault(day).Then(ProgressSpan.Of(change.Figures));
        }
    }

    /// <summary>Raises what is off the plans of products.</summary>
    /// <returns>The sales that limits and steps count.</returns>
    private List<CountedSaleRecord> HoldToPlans(IReadOnlyList<Order> orders)
    {
        var sales = new List<CountedSaleRecord>();
        if (book.Plans.Count == 0) return sales;
        var sold = new Dictionary<string, long>();
        foreach (var place in Enumerable.Range(0, orders.Count).OrderBy(i => _records[i].PlacedAt).ThenBy(i => i))
        {
            var (order, record) = (orders[place], _records[place]);
            if (record.Status != OrderStatus.Calculated) continue;
            var numbers = record.LineNumbers();
            foreach (var line in order.Lines)
            {
                if (!book.Plans.TryGetValue(line.Product, out var plan)) continue;
                var before = sold.GetValueOrDefault(line.Product.Value);
                var findings = PriceAudit.Look(plan, order, line, () => before).ToArray();
                _exceptions.AddRange(findings.Select(f => KeptExceptions.OffPlan(record, f)));
                record.Exceptions += findings.Length;
                if (plan.Pricing is not { CountsSales: true } || !PriceAudit.CountsAsSale(line)) continue;
                sales.Add(new CountedSaleRecord { Product = line.Product.Value, PlacedAt = record.PlacedAt, OrderId = record.Id, LineNumber = numbers[line.Id.Value], Quantity = line.Quantity });
                sold[line.Product.Value] = before + line.Quantity;
            }
        }
        return sales;
    }

    private void WriteEntries(IReadOnlyList<Entry> entries, Dictionary<string, long> refundKeys)
    {
        var next = 1L;
        var sums = new KeptEntrySums(db);
        // Rows are made of one portion while the one before it is written.
        Task<EntryRecord[]>? ahead = null;
        foreach (var portion in entries.Chunk(Portion))
        {
            var rows = ahead?.GetAwaiter().GetResult();
            ahead = Task.Run(() => Rows(portion));
            if (rows is not null) Write(rows, BulkWriter<EntryRecord>.InsertingGuarded);
        }
        if (ahead is not null) Write(ahead.GetAwaiter().GetResult(), BulkWriter<EntryRecord>.InsertingGuarded);
        using var transaction = db.Database.BeginTransaction();
        sums.Save(alongside: false);
        transaction.Commit();

        EntryRecord[] Rows(Entry[] portion)
        {
            var rows = new EntryRecord[portion.Length];
            for (var i = 0; i < rows.Length; i++)
            {
                var (entry, record) = (portion[i], _records[_places[portion[i].Order.Value]]);
                var line = record.Lines.First(l => l.LineId == entry.Line.Value);
                rows[i] = EntryDifferences.ToRecord(record.Id, line.Number, entry, entry.Refund is { } refund ? refundKeys[refund.Value] : null, entry.PostedOn);
                rows[i].Id = next++;
            }
            sums.Add(rows);
            return rows;
        }
    }

    private void Write<T>(IEnumerable<T> rows) where T : class => Write(rows, BulkWriter<T>.Inserting);

    private void Write<T>(IEnumerable<T> rows, Func<BookDbContext, BulkWriter<T>> inserting) where T : class
    {
        foreach (var portion in rows.Chunk(Portion))
        {
            using var transaction = db.Database.BeginTransaction();
            using (var writer = inserting(db)) writer.Write(portion);
            transaction.Commit();
        }
    }
}
