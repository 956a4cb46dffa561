using System.Globalization;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Sales;

/// <summary>
/// Corrects what is known about one order after the event: what its fees were, that it is signed off, that it was a test. The order, its
/// renewals and whoever's ladder it stands on are worked out again, nothing else, and the differences are posted.
/// </summary>
public sealed class CorrectOrder(BookDbContext db, BookCache cache, BookClock clock, ShownFirst shown, AuditLog audit) : IUseCase
{
    /// <summary>Signs the order off now, so that what waits for it can clear.</summary>
    /// <exception cref="RefusedException">It is signed off already.</exception>
    public void SignOff(string orderId, string by) => Correct(
        orderId,
        order =>
        {
            if (order.SignedOffAt is { } at) throw new RefusedException($"This order was signed off on {cache.Get(db).Time.DateOf(at).InWords()} already.");
            order.SignedOffAt = clock.GetUtcNow();
        },
        by, "sign off", orderId);

    /// <summary>Marks the order as a test: it leaves every figure, and what it had earned is taken back.</summary>
    /// <exception cref="RefusedException">It is one already.</exception>
    public void MarkAsTest(string orderId, string by) => Correct(
        orderId,
        order =>
        {
            if (order.IsTest) throw new RefusedException("It is a test already.");
            // Kept, unlike what the shop calls a test, which goes after an hour: a mark can be taken off again.
            order.IsTest = true;
        },
        by, "mark as test", orderId);

    /// <summary>Takes the mark of a test off: the order counts again.</summary>
    /// <exception cref="RefusedException">It is no test.</exception>
    public void MarkAsNoTest(string orderId, string by) => Correct(
        orderId,
        order =>
        {
            if (!order.IsTest) throw new RefusedException("It is no test.");
            (order.IsTest, order.TestSince) = (false, null);
        },
        by, "mark as no test", orderId);

    /// <summary>Says of a refund that it never was: what it took back is given again. It stays to be seen, with the reason.</summary>
    /// <exception cref="RefusedException">No reason, or it is withdrawn already.</exception>
    public void WithdrawRefund(string orderId, string refundId, string reason, string by) => Correct(
        orderId,
        order =>
        {
            if (reason.Trim().Length == 0) throw new RefusedException("Say why; it stands beside the refund.", "Reason");
            var refund = db.AllRefunds.Known(r => r.OrderId == order.Id && r.RefundId == refundId);
            if (refund.WithdrawnAt is not null) throw new RefusedException($"{refund.WithdrawnBy} has withdrawn it already.");
            (refund.WithdrawnAt, refund.WithdrawnBy, refund.WhyWithdrawn) = (clock.GetUtcNow(), by, reason.Trim());
        },
        by, "withdraw refund", $"{refundId} of {orderId}: {reason.Trim()}");

    /// <summary>Puts a refund right: what it says now takes the place of what it said.</summary>
    internal void CorrectRefund(Refund refund, string by) => Correct(
        refund.Order.Value,
        order =>
        {
            var held = db.AllRefunds.Include(r => r.Lines).Known(r => r.OrderId == order.Id && r.RefundId == refund.Id.Value);
            var right = OrderFacts.ToRecord(refund, held.Id, order.Id);
            db.RemoveRange(held.Lines);
            db.SaveChanges();
            held.Lines.Clear();
            held.Lines.AddRange(right.Lines);
            (held.At, held.Kind, held.Shipping, held.ShippingTax, held.ProcessingFeeReturned, held.DisputeFee, held.FactsHash) = (right.At, right.Kind, right.Shipping, right.ShippingTax, right.ProcessingFeeReturned, right.DisputeFee, right.FactsHash);
            (held.WithdrawnAt, held.WithdrawnBy, held.WhyWithdrawn) = (null, "", "");
        },
        by, "correct refund", $"{refund.Id} of {refund.Order}");

    /// <summary>Puts the actual fees in the place of those that were known, or of the schedule's.</summary>
    /// <param name="processing">Major units of the order's currency, as typed; empty for the schedule's.</param>
    /// <param name="channel">Likewise.</param>
    /// <exception cref="RefusedException">An amount cannot be read.</exception>
    public void CorrectFees(string orderId, string processing, string channel, string by) => Correct(
        orderId,
        order =>
        {
            var fields = new FieldReader();
            var currency = Currency.Of(order.Currency);
            var (processingFee, channelFee) = (fields.Amount("ProcessingFee", processing, currency), fields.Amount("ChannelFee", channel, currency));
            if (fields.Faults.Count > 0) throw new RefusedException(fields.Faults[0].Message, fields.Faults[0].Field);
            (order.ActualProcessingFee, order.ActualChannelFee) = (processingFee, channelFee);
        },
        by, "correct fees", string.Create(CultureInfo.InvariantCulture, $"{orderId}: processing {processing}, channel {channel}"));

    private void Correct(string orderId, Action<OrderRecord> correct, string by, string action, string subject)
    {
        using var transaction = db.BeginUnlessBegun();
        var order = db.Orders.FirstOrDefault(o => o.OrderId == orderId) ?? throw new RefusedException($"There is no order {orderId}.");
        correct(order);
        audit.Note(by, action, subject);
        db.SaveChanges();
        new PostedAtOnce(db, cache.Get(db), clock.Today).PostSeen([order.Id], shown, $"{action}, {subject}", by, clock.GetUtcNow());
        transaction?.Commit();
    }
}
