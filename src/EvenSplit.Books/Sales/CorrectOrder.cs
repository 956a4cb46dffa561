using System.Globalization;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;

namespace EvenSplit.Books.Sales;

/// <summary>
/// Corrects what is known about one order after the event: what its fees were, that it is signed off, that it was a test. The order, its
/// renewals and whoever's ladder it stands on are worked out again, nothing else, and the differences are posted.
/// </summary>
public sealed class CorrectOrder(BookDbContext db, BookCache cache, BookClock clock, AuditLog audit) : IUseCase
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
            (order.IsTest, order.TestSince) = (true, TimeProvider.System.GetUtcNow());
        },
        by, "mark as test", orderId);

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
        using var transaction = db.Database.BeginTransaction();
        var order = db.Orders.FirstOrDefault(o => o.OrderId == orderId) ?? throw new RefusedException($"There is no order {orderId}.");
        correct(order);
        audit.Note(by, action, subject);
        db.SaveChanges();
        new OrderPosting(db, cache.Get(db), clock.Today).Recalculate([order.Id]);
        transaction.Commit();
    }
}
