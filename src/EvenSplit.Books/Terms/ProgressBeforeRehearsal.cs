using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>
/// What orders paid before the first day rehearsed have added to the tracks that the draft asks for. Tracks that the book keeps are read from their
/// days; one that only the draft asks for is counted from the orders it is made of, which the draft does not change.
/// </summary>
/// <param name="drafted">The book under the draft.</param>
/// <param name="from">The first day rehearsed, in the book's zone.</param>
internal sealed class ProgressBeforeRehearsal(BookDbContext db, IDbContextFactory<BookDbContext> books, OpenedBook book, OpenedBook drafted, DateOnly from)
{
    private readonly ProgressTracks _asked = drafted.Progress;

    public EarlierProgress Read(CancellationToken stopping)
    {
        var kept = _asked.All.Where(t => book.Progress.Find(t.Key, t.Currency) is not null).ToHashSet();
        var before = kept.ToDictionary(t => t, t => db.StateBefore(t.Key, t.Currency, from));
        var events = RefundsSince().ToList();
        foreach (var happened in OfOtherTracks([.. _asked.All.Where(t => !kept.Contains(t))], stopping).OrderBy(e => e.Moment))
        {
            if (happened.On >= from) events.Add(happened);
            else foreach (var change in happened.Changes) before[change.Track] = before.GetValueOrDefault(change.Track).After(happened.On, change.Figures);
        }
        return new EarlierProgress(_asked, before, [.. events.OrderBy(e => e.Moment)]);
    }

    /// <summary>What refunds since took off tracks that are kept, where their orders were paid before.</summary>
    private IEnumerable<EarlierEvent> RefundsSince()
    {
        var (sinceDay, beforeDay) = (Touched.Earliest(from), Touched.Latest(from));
        var refunds = from refund in db.Refunds
                      where refund.At >= sinceDay
                      join order in db.Orders on refund.OrderId equals order.Id
                      where order.PaidAt < beforeDay
                      join one in db.ProgressEvents on new { refund.OrderId, IsRefund = true, Id = refund.RefundId } equals new { one.OrderId, one.IsRefund, Id = one.EventId }
                      where one.On >= @from
                      select new { order.PaidAt, Event = one };
        foreach (var (paidAt, one) in refunds.AsNoTracking().AsEnumerable().Select(r => (r.PaidAt, r.Event)))
        {
            if (drafted.Time.DateOf(paidAt!.Value) >= from) continue;
            var key = new TrackKey(new PayeeId(one.Payee), one.Agreement.Length == 0 ? null : new AgreementId(one.Agreement));
            if (_asked.Find(key, Currency.Of(one.Currency)) is not { } track) continue;
            yield return new EarlierEvent(new BookEvents.Moment(one.At, true, one.EventId), one.On, [new ProgressChange(track, new ProgressFigures(one.Sales, one.Orders, one.Earned))]);
        }
    }

    private List<EarlierEvent> OfOtherTracks(HashSet<ProgressTrack> tracks, CancellationToken stopping)
    {
        var events = new List<EarlierEvent>();
        if (tracks.Count == 0) return events;
        var touched = TouchedOrders.Together(tracks.Select(t => RulesDifference.OfTrack(drafted.Rules, t.Key)));
        var keys = touched.SelectMany(t => db.TouchedBy(t with { ConvertedBefore = from }).Select(o => o.Id)).Distinct().Order().ToArray();
        var sweep = new ProgressSweep(db, new KeptTracks(db, book.Progress));
        foreach (var batch in new OrdersWithRefunds(books).InBatches(keys))
        {
            stopping.ThrowIfCancellationRequested();
            var orders = batch.Where(o => o.Order.PaidAt is { } paidAt && drafted.Time.DateOf(paidAt) < from).ToArray();
            var origins = new OriginsInBook(db, drafted.Rules, [.. orders.Select(o => o.Order)]);
            var decided = Array.ConvertAll(orders, o => origins.Of(o.Order));
            var outcomes = new OrderOutcome[orders.Length];
            SideBySide.For(orders.Length, i => outcomes[i] = OrderOutcome.WorkOut(drafted, orders[i].Order, orders[i].Refunds, decided[i], sweep.WasBefore(orders[i].Order)));
            foreach (var happened in outcomes.SelectMany(o => o.Events))
            {
                ProgressChange[] changes = [.. happened.Changes.Where(c => tracks.Contains(c.Track))];
                if (changes.Length > 0) events.Add(new EarlierEvent(happened.Moment, happened.On, changes));
            }
        }
        return events;
    }
}
