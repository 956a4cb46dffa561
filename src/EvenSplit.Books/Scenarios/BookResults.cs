using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Scenarios;

/// <summary>
/// What the book holds, as the result of a calculation (contract, section 10). An amount that was corrected after it was posted is told as
/// one entry, of what it has come to, dated by its event: so a book that took its facts in any order tells what they come to.
/// </summary>
public sealed class BookResults(BookDbContext db, BookCache cache) : IUseCase
{
    private sealed record Held(OrderRecord Record, Order Order, IReadOnlyDictionary<long, Refund> Refunds);

    public BookResult Read()
    {
        var book = cache.Get(db);
        var refunds = db.Refunds.AsNoTracking().Include(r => r.Lines).AsEnumerable().ToLookup(r => r.OrderId);
        var orders = db.Orders.AsNoTracking().WithParts().OrderBy(o => o.Id).AsEnumerable().Select(record =>
        {
            var order = OrderFacts.ToOrder(record);
            return new Held(record, order, refunds[record.Id].ToDictionary(r => r.Id, r => OrderFacts.ToRefund(r, order.Id)));
        }).ToArray();
        var runs = Runs();
        return new BookResult([.. orders.Select(o => ResultOf(book, o))], Entries(book, orders), runs, Exceptions(orders, runs));
    }

    private static OrderResult ResultOf(OpenedBook book, Held held)
    {
        var (record, order) = (held.Record, held.Order);
        if (record.Status == OrderStatus.Test) return new OrderResult(order, OrderStatus.Test, AttributionDecision.Nobody, null, 0, 0);
        // The lines are not kept, since they follow from the facts; the totals are, and are told as kept.
        var figures = OrderWaterfall.WorkOut(book.Rules, order, record.AttributedTo is not null, new List<CalculationException>()) with
        {
            Charged = record.Charged,
            Tax = record.Tax,
            ProcessingFee = record.ProcessingFee,
            ChannelFee = record.ChannelFee,
            Rebate = record.Rebate,
        };
        var attribution = record.AttributedTo is { } payee ? new AttributionDecision(new PayeeId(payee), record.Via, []) : AttributionDecision.Nobody;
        return new OrderResult(order, record.Status, attribution, figures, record.Affiliates + record.Collaborators + record.Vendors, record.House);
    }

    private List<Entry> Entries(OpenedBook book, Held[] orders)
    {
        var posted = db.Entries.AsNoTracking().AsEnumerable().ToLookup(e => e.OrderId);
        var entries = new List<(BookEvents.Moment Moment, Entry Entry)>();
        foreach (var held in orders)
        {
            var lines = held.Record.Lines.ToDictionary(l => l.Number, l => l.LineId);
            foreach (var slot in posted[held.Record.Id].GroupBy(PostedKey.Of))
            {
                var amount = slot.Sum(e => e.Amount);
                if (amount == 0) continue;
                var key = slot.Key;
                var refund = key.Refund is { } id ? held.Refunds[id] : null;
                var moment = refund is null ? BookEvents.Moment.Of(held.Order) : BookEvents.Moment.Of(refund, held.Order);
                entries.Add((moment, new Entry(
                    held.Order.Id, new LineId(lines[key.LineNumber]), new PayeeId(key.Payee), new AgreementId(key.Agreement), key.Part,
                    refund?.Id, new Money(amount, Currency.Of(key.Currency)), book.Time.DateOf(new DateTimeOffset(moment.UtcTicks, TimeSpan.Zero)),
                    slot.OrderByDescending(e => e.Id).First().ClearsOn)));
            }
        }
        return entries.OrderBy(e => e.Moment).ThenBy(e => e.Entry.Line).ThenBy(e => e.Entry.Payee).ThenBy(e => e.Entry.Agreement).ThenBy(e => e.Entry.Part)
            .Select(e => e.Entry).ToList();
    }

    private RunResult[] Runs()
    {
        var positions = db.Payees.AsNoTracking().ToDictionary(p => p.Id, p => p.Position);
        return db.PayRuns.AsNoTracking().Include(r => r.Remittances).Where(r => r.State != RunState.Gathering).AsEnumerable()
            .Select(run => new RunResult(
                new RunId(run.Reference), run.AsOf,
                run.Remittances.OrderBy(r => positions[r.Payee]).Select(r => PayRunDesk.ToRow(r).Figures).ToArray()))
            .OrderBy(r => r.AsOf).ThenBy(r => r.Id).ToArray();
    }

    private CalculationException[] Exceptions(Held[] orders, RunResult[] runs)
    {
        var ids = orders.ToDictionary(o => o.Record.Id, o => o.Order.Id);
        var ofOrders = db.OrderExceptions.AsNoTracking().Where(e => e.Code < ExceptionCode.PriceOffPlan).AsEnumerable().Select(e => new CalculationException(
            e.Code, ids[e.OrderId], e.LineId is { } line ? new LineId(line) : null, e.Payee is { } payee ? new PayeeId(payee) : null));
        var ofRuns = runs.SelectMany(r => r.Payees).Where(p => p.Reason == RemittanceReason.RateMissing)
            .Select(p => new CalculationException(ExceptionCode.RateMissing, null, null, p.Payee));
        return CalculationException.Listed(ofOrders.Concat(ofRuns));
    }
}
