using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>Works an order out with all its refunds and writes what it comes to onto its row.</summary>
internal sealed class OrderOutcome
{
    private OrderOutcome(OrderLedger? ledger, IReadOnlyList<(Entry Entry, RefundId? Refund)> entries, IReadOnlyList<CalculationException> exceptions) =>
        (Ledger, Entries, Exceptions) = (ledger, entries, exceptions);

    /// <summary>Null for an order that is unpaid or a test.</summary>
    public OrderLedger? Ledger { get; }
    /// <summary>Everything the order and its refunds post, from nothing.</summary>
    public IReadOnlyList<(Entry Entry, RefundId? Refund)> Entries { get; }
    public IReadOnlyList<CalculationException> Exceptions { get; }

    public static OrderOutcome WorkOut(
        Rulebook rules, Order order, IReadOnlyCollection<Refund> refunds, AttributionDecision? origin, bool explain = false)
    {
        if (order.IsTest) return new OrderOutcome(null, [], []);
        if (order.PaidAt is null)
        {
            var unpaid = new List<CalculationException>();
            OrderWaterfall.WorkOut(rules, order, attributed: false, unpaid);
            return new OrderOutcome(null, [], CalculationException.Listed(unpaid));
        }
        var ledger = new OrderLedger(rules, order, origin, NoProgress.Instance, explain);
        var entries = ledger.SaleEntries.Select(e => (e, (RefundId?)null)).ToList();
        foreach (var refund in refunds.OrderBy(r => ledger.TakesEffectAt(r).UtcTicks).ThenBy(r => r.Id))
        {
            entries.AddRange(ledger.Take(refund).Entries.Select(e => (e, (RefundId?)refund.Id)));
        }
        return new OrderOutcome(ledger, entries, ledger.Exceptions);
    }

    /// <summary>Sets the figures at the sale on the order's row.</summary>
    public void WriteFigures(OrderRecord record, Rulebook rules, Order order)
    {
        record.Status = order.IsTest ? OrderStatus.Test : Ledger is null ? OrderStatus.Unpaid : OrderStatus.Calculated;
        record.AttributedTo = Ledger?.Attribution.Payee?.Value;
        record.Via = Ledger?.Attribution.Via;
        record.Exceptions = Exceptions.Count;
        var figures = order.IsTest ? null : Ledger?.Figures ?? OrderWaterfall.WorkOut(rules, order, attributed: false, new List<CalculationException>());
        record.GoodsNet = figures?.GoodsNet ?? 0;
        record.Tax = figures?.Tax ?? 0;
        record.ShippingNet = figures?.ShippingNet ?? 0;
        record.Charged = figures?.Charged ?? 0;
        record.ProcessingFee = figures?.ProcessingFee ?? 0;
        record.ChannelFee = figures?.ChannelFee ?? 0;
        record.Rebate = figures?.Rebate ?? 0;
        record.Affiliates = Earned(PayeeRole.Affiliate);
        record.Collaborators = Earned(PayeeRole.Collaborator);
        record.Vendors = Earned(PayeeRole.Vendor);
        record.House = Ledger?.House ?? record.Charged + record.Rebate - record.Tax - record.ProcessingFee - record.ChannelFee;
        record.ShippingKept = record.ShippingNet - (Ledger?.ShippingPassed ?? 0);
    }

    private long Earned(PayeeRole role) => Ledger?.EarnedBy(role) ?? 0;

    /// <summary>Terms that ask how far a payee has come cannot be published in a book yet, so nothing may ask.</summary>
    private sealed class NoProgress : IProgressBefore
    {
        public static NoProgress Instance { get; } = new();

        public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window) =>
            throw new InvalidOperationException($"A term of {agreement.Id} asks for the progress of {payee}; publishing should have refused it.");
    }
}
