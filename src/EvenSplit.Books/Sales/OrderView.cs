using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Sales;

/// <summary>A posted entry of an order.</summary>
public sealed record OrderEntryView(
    long Id, string LineId, string Product, string PayeeId, string Payee, PayeeRole Role, string AgreementId, string Agreement, EntryPart Part,
    string? Refund, Money Amount, DateOnly PostedOn, DateOnly? ClearsOn, int? RunId, Trace? Trace, EntryHoldRecord? Hold);

/// <summary>What one payee earned at the sale in all, in minor units of the order's currency.</summary>
/// <param name="FirstEntry">An entry of it, whose trace explains; null where none is posted yet.</param>
public sealed record SaleEarning(string Payee, PayeeRole Role, long Amount, long? FirstEntry);

/// <summary>A line of the order's waterfall.</summary>
public sealed record OrderLineView(LineFigures Figures, string Product);

/// <param name="Withdrawn">Who has withdrawn it and why; null while it counts.</param>
public sealed record OrderRefundView(string Id, RefundKind Kind, DateOnly On, Money Goods, Money Tax, Money Shipping, string? Withdrawn);

/// <summary>An order opened: its waterfall, its entries with their traces, and what is exceptional about it.</summary>
/// <param name="Agrees">Whether what is posted equals what the facts come to by today's rules; if not, recalculation has still to post a difference.</param>
public sealed record OrderView(
    Order Order, OrderStatus Status, Currency Currency, string Channel, string? BroughtBy, string AttributionSentence, IReadOnlyList<CandidateWords> Candidates, OrderFigures? Figures, Ribbon? Ribbon,
    IReadOnlyList<SaleEarning> SaleEarnings, long Discount, IReadOnlyList<OrderLineView> Lines, IReadOnlyList<OrderEntryView> Entries, IReadOnlyList<OrderRefundView> Refunds,
    IReadOnlyList<CalculationException> Exceptions, IReadOnlyList<PriceFinding> OffPlan, bool Agrees)
{
    /// <summary>What was converted, and by which published rates.</summary>
    public IReadOnlyList<ConversionView> Conversions { get; init; } = [];
}

/// <summary>Opens an order by working it out again from the facts, and holds that against what is posted.</summary>
public sealed class OpenOrder(BookDbContext db, BookCache cache) : IUseCase
{
    public bool Exists(string orderId) => db.Orders.Any(o => o.OrderId == orderId);

    public OrderView? Find(string orderId)
    {
        var key = db.Orders.Where(o => o.OrderId == orderId).Select(o => (long?)o.Id).FirstOrDefault();
        if (key is null) return null;
        var book = cache.Get(db);
        var held = HeldOrder.Of(db, [key.Value])[0];
        var (record, order) = (held.Record, held.Order);
        var outcome = OrderOutcome.Explained(db, book, held);
        var traces = outcome.Ledger is { } ledger
            ? new TraceTeller(book.Rules, book.Naming()).Tell(ledger, ledger.SaleAmounts).ToDictionary(t => t.Key)
            : [];
        var allRefunds = db.AllRefunds.AsNoTracking().Include(r => r.Lines).Where(r => r.OrderId == record.Id).OrderBy(r => r.At).ToArray();
        var refundIds = allRefunds.ToDictionary(r => r.Id, r => r.RefundId);
        var currency = order.Currency;
        var entries = Entries(record, book, traces, refundIds);
        return new OrderView(
            order, record.Status, currency, book.ChannelName(record.Channel), record.AttributedTo is { } payee ? book.PayeeName(payee) : null,
            outcome.Ledger is null ? "" : new TraceTeller(book.Rules, book.Naming()).Attribution(outcome.Ledger),
            outcome.Ledger is null ? [] : new TraceTeller(book.Rules, book.Naming()).Candidates(outcome.Ledger),
            outcome.Ledger?.Figures,
            outcome.Ledger is null ? null : Ribbon.Of(currency, record.Charged, record.Rebate, record.Tax, record.ProcessingFee + record.ChannelFee,
                record.Affiliates, record.Collaborators, record.Vendors, record.House, record.ShippingKept),
            SaleEarnings(outcome.Ledger, book, entries),
            outcome.Ledger?.Figures.Lines.Sum(l => l.Discount) ?? 0,
            outcome.Ledger?.Figures.Lines.Select(l => new OrderLineView(l, book.ProductName(l.Product.Id.Value))).ToArray() ?? [],
            entries,
            allRefunds.Select(r => new OrderRefundView(
                r.RefundId, r.Kind, book.Time.DateOf(r.At), new Money(r.Lines.Sum(l => l.Goods), currency), new Money(r.Lines.Sum(l => l.Tax) + r.ShippingTax, currency), new Money(r.Shipping, currency),
                r.WithdrawnAt is { } at ? $"withdrawn by {r.WithdrawnBy} on {book.Time.DateOf(at).InWords()}: {r.WhyWithdrawn}" : null)).ToArray(),
            outcome.Exceptions,
            OffPlan(record.Id),
            Agrees(outcome, held))
        {
            Conversions = outcome.Ledger is null ? [] : OrderConversions.Of(book, outcome.Ledger),
        };
    }

    private static SaleEarning[] SaleEarnings(OrderLedger? ledger, OpenedBook book, OrderEntryView[] entries) => ledger is null
        ? []
        : ledger.SaleAmounts.GroupBy(a => a.Key.Payee).Select(g => new SaleEarning(
                book.PayeeName(g.Key.Value),
                book.Rules.Payee(g.Key).Role,
                g.Sum(a => ledger.InOrderCurrency(a.Amount) ?? 0),
                entries.FirstOrDefault(e => e.PayeeId == g.Key.Value && e.Refund is null)?.Id))
            .OrderBy(e => e.Role).ThenBy(e => e.Payee, StringComparer.Ordinal).ToArray();

    private PriceFinding[] OffPlan(long key) => db.OrderExceptions.AsNoTracking().Where(e => e.OrderId == key && e.Code == ExceptionCode.PriceOffPlan).OrderBy(e => e.Id).AsEnumerable()
        .Select(e => new PriceFinding(new LineId(e.LineId!), e.Price!.Value, e.Expected, e.Actual)).ToArray();

    private OrderEntryView[] Entries(
        OrderRecord record, OpenedBook book, Dictionary<ShareKey, Trace> traces, Dictionary<long, string> refundIds)
    {
        var lines = record.Lines.ToDictionary(l => l.Number);
        var holds = db.EntryHolds.AsNoTracking().Where(h => h.OrderId == record.Id && h.LetGoAt == null).ToArray();
        return db.Entries.AsNoTracking().Where(e => e.OrderId == record.Id).OrderBy(e => e.Id).AsEnumerable().Select(e => new OrderEntryView(
            e.Id, lines[e.LineNumber].LineId, book.ProductName(lines[e.LineNumber].Product), e.Payee, book.PayeeName(e.Payee),
            book.Rules.Payee(new PayeeId(e.Payee)).Role, e.Agreement, book.AgreementName(e.Agreement), e.Part,
            e.RefundId is { } refund ? refundIds.GetValueOrDefault(refund) : null,
            new Money(e.Amount, Currency.Of(e.Currency)), e.PostedOn, e.ClearsOn, e.RunId,
            lines[e.LineNumber].Position is { } position ? traces.GetValueOrDefault(new ShareKey(position, new PayeeId(e.Payee), new AgreementId(e.Agreement), e.Part)) : null,
            Array.Find(holds, h => lines[h.LineNumber].LineId == lines[e.LineNumber].LineId && h.Payee == e.Payee && h.Agreement == e.Agreement))).ToArray();
    }

    private static bool Agrees(OrderOutcome outcome, HeldOrder held)
    {
        var numbers = held.Record.LineNumbers();
        var keys = held.Refunds.ToDictionary(r => r.Refund.Id, r => r.Key);
        var due = outcome.Entries.ToDictionary(
            e => new PostedKey(
                numbers[e.Line.Value], e.Payee.Value, e.Agreement.Value, e.Part, e.Refund is { } refund ? keys[refund] : null, e.Amount.Currency.Code),
            e => e.Amount.Minor);
        return due.All(d => (held.Posted.GetValueOrDefault(d.Key) ?? PostedAmount.Nothing).Amount == d.Value)
            && held.Posted.All(p => due.GetValueOrDefault(p.Key) == p.Value.Amount);
    }
}
