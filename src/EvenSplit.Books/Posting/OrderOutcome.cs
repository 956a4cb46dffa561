using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>What one payment or refund of an order adds to the tracks that are asked for.</summary>
internal sealed record OrderEvent(BookEvents.Moment Moment, DateOnly On, IReadOnlyList<ProgressChange> Changes);

/// <summary>How much of an order's row its figures have changed: nothing, amounts alone, or what lists find it by as well.</summary>
internal enum RowChange
{
    None,
    Amounts,
    All,
}

/// <summary>Works an order out with all its refunds and writes what it comes to onto its row.</summary>
internal sealed class OrderOutcome
{
    /// <summary>The columns of an order's row that <see cref="WriteFigures"/> sets and no list is found by: writing them moves no index.</summary>
    public static IReadOnlyList<string> Amounts { get; } =
    [
        nameof(OrderRecord.Via), nameof(OrderRecord.GoodsNet), nameof(OrderRecord.Tax), nameof(OrderRecord.ShippingNet), nameof(OrderRecord.Charged), nameof(OrderRecord.ProcessingFee),
        nameof(OrderRecord.ChannelFee), nameof(OrderRecord.Rebate), nameof(OrderRecord.Affiliates), nameof(OrderRecord.Collaborators), nameof(OrderRecord.Vendors), nameof(OrderRecord.House),
        nameof(OrderRecord.ShippingKept),
    ];

    /// <summary>All columns of an order's row that <see cref="WriteFigures"/> sets.</summary>
    public static IReadOnlyList<string> Columns { get; } =
    [
        .. Amounts, nameof(OrderRecord.Status), nameof(OrderRecord.AttributedTo), nameof(OrderRecord.Exceptions), nameof(OrderRecord.IsRefunded), nameof(OrderRecord.IsContested),
    ];

    private OrderOutcome(Order order) => Order = order;

    public Order Order { get; }
    /// <summary>Null for an order that is unpaid or a test.</summary>
    public OrderLedger? Ledger { get; private init; }
    /// <summary>Null for a test.</summary>
    public OrderFigures? Figures { get; private init; }
    /// <summary>Everything the order and its refunds post, from nothing.</summary>
    public IReadOnlyList<Entry> Entries { get; private init; } = [];
    public IReadOnlyList<OrderEvent> Events { get; private init; } = [];
    public IReadOnlyList<CalculationException> Exceptions { get; private init; } = [];
    /// <summary>Whom codes on it belong to that could not earn by them.</summary>
    public IReadOnlyList<PayeeId> CodesWithoutEffect { get; private init; } = [];
    /// <summary>What is off the plans of its products; the price audit fills it in.</summary>
    public IReadOnlyList<PriceFinding> OffPlan { get; set; } = [];

    public static OrderOutcome WorkOut(
        OpenedBook book, Order order, IEnumerable<Refund> refunds, AttributionDecision? origin, IProgressBefore progress,
        bool explain = false)
    {
        if (order.IsTest) return new OrderOutcome(order);
        if (order.PaidAt is not { } paidAt) return Unpaid(book.Rules, order);
        var ledger = new OrderLedger(book.Rules, order, origin, progress, explain);
        var entries = ledger.SaleEntries.ToList();
        var events = new List<OrderEvent> { new(BookEvents.Moment.Of(order), ledger.PaidOn, Changes(c => book.Progress.OfSale(ledger, c))) };
        foreach (var refund in refunds.OrderBy(r => BookEvents.Moment.Of(r, order)))
        {
            var taken = ledger.Take(refund);
            entries.AddRange(taken.Entries);
            events.Add(new OrderEvent(BookEvents.Moment.Of(refund, order), book.Time.DateOf(refund.TakesEffectAt(paidAt)), Changes(c => book.Progress.OfRefund(ledger, taken, c))));
        }
        return new OrderOutcome(order) { Ledger = ledger, Figures = ledger.Figures, Entries = entries, Events = events, Exceptions = ledger.Exceptions, CodesWithoutEffect = [.. Attributor.CodesWithoutEffect(book.Rules, order)] };
    }

    /// <summary>Works out one order as the book holds it, with traces.</summary>
    public static OrderOutcome Explained(BookDbContext db, OpenedBook book, HeldOrder held)
    {
        var progress = held.Order.PaidAt is null ? (IProgressBefore)new NothingSoFar() : new ProgressSweep(db, new KeptTracks(db, book.Progress)).Before(held.Order);
        return WorkOut(book, held.Order, held.Refunds.Select(r => r.Refund), new OriginsInBook(db, book.Rules, [held.Order]).Of(held.Order), progress, explain: true);
    }

    /// <summary>What a ledger has come to that was worked out with the whole book; what it posted is known there.</summary>
    public static OrderOutcome Of(Rulebook rules, OrderLedger ledger) =>
        new(ledger.Order) { Ledger = ledger, Figures = ledger.Figures, Exceptions = ledger.Exceptions, CodesWithoutEffect = [.. Attributor.CodesWithoutEffect(rules, ledger.Order)] };

    /// <summary>Sets the figures at the sale on the order's row.</summary>
    /// <param name="rules">Say whose its codes are.</param>
    /// <param name="openExceptions">How many of its exceptions nobody has let stand.</param>
    /// <param name="isRefunded">Whether there is a refund of it.</param>
    /// <returns>How much of the row is otherwise than it was.</returns>
    public RowChange WriteFigures(OrderRecord record, Rulebook rules, int openExceptions, bool isRefunded)
    {
        var (wasFoundBy, amounts) = (FoundBy(record), AmountsOf(record));
        record.Status = Order.IsTest ? OrderStatus.Test : Ledger is null ? OrderStatus.Unpaid : OrderStatus.Calculated;
        record.AttributedTo = Ledger?.Attribution.Payee?.Value;
        record.Via = Ledger?.Attribution.Via;
        record.Exceptions = openExceptions;
        record.IsRefunded = isRefunded;
        var placedOn = rules.Policy.Time.DateOf(Order.PlacedAt);
        record.IsContested = !Order.IsTest && Order.Clicks.Count > 0 && Order.Codes.Any(code => rules.FindPayeeByCode(code, placedOn) is { } owner && Order.Clicks.Any(click => click.Payee != owner.Id));
        record.GoodsNet = Figures?.GoodsNet ?? 0;
        record.Tax = Figures?.Tax ?? 0;
        record.ShippingNet = Figures?.ShippingNet ?? 0;
        record.Charged = Figures?.Charged ?? 0;
        record.ProcessingFee = Figures?.ProcessingFee ?? 0;
        record.ChannelFee = Figures?.ChannelFee ?? 0;
        record.Rebate = Figures?.Rebate ?? 0;
        record.Affiliates = Ledger?.EarnedBy(PayeeRole.Affiliate) ?? 0;
        record.Collaborators = Ledger?.EarnedBy(PayeeRole.Collaborator) ?? 0;
        record.Vendors = Ledger?.EarnedBy(PayeeRole.Vendor) ?? 0;
        record.House = Ledger?.House ?? record.Charged + record.Rebate - record.Tax - record.ProcessingFee - record.ChannelFee;
        record.ShippingKept = record.ShippingNet - (Ledger?.ShippingPassed ?? 0);
        return wasFoundBy != FoundBy(record) ? RowChange.All : amounts != AmountsOf(record) ? RowChange.Amounts : RowChange.None;
    }

    private static (OrderStatus, string?, int, bool, bool) FoundBy(OrderRecord o) => (o.Status, o.AttributedTo, o.Exceptions, o.IsRefunded, o.IsContested);

    private static (AttributionVia?, long, long, long, long, long, long, long, long, long, long, long, long) AmountsOf(OrderRecord o) =>
        (o.Via, o.GoodsNet, o.Tax, o.ShippingNet, o.Charged, o.ProcessingFee, o.ChannelFee, o.Rebate, o.Affiliates, o.Collaborators, o.Vendors, o.House, o.ShippingKept);

    private static List<ProgressChange> Changes(Action<List<ProgressChange>> collect)
    {
        var changes = new List<ProgressChange>();
        collect(changes);
        return changes;
    }

    private static OrderOutcome Unpaid(Rulebook rules, Order order)
    {
        var exceptions = new List<CalculationException>();
        var figures = OrderWaterfall.WorkOut(rules, order, attributed: false, exceptions);
        return new OrderOutcome(order) { Figures = figures, Exceptions = CalculationException.Listed(exceptions) };
    }
}
