using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Posts what a change of rules comes to, in the change's own transaction: so that the difference that was shown is the one that is posted. Orders that are too many
/// to wait for are left to the background.
/// </summary>
internal sealed class PostedAtOnce(BookDbContext db, OpenedBook after, DateOnly today)
{
    private readonly long _firstEntry = (db.Entries.Max(e => (long?)e.Id) ?? 0) + 1;

    /// <param name="most">Of more orders only the number is told, and nothing is posted.</param>
    /// <returns>The difference; null where the change reaches no order.</returns>
    public PostedDifference? Post(IReadOnlyList<TouchedOrders> touched, int most)
    {
        var keys = new Dictionary<long, DateTimeOffset>();
        foreach (var some in touched)
        {
            foreach (var order in db.TouchedBy(some).Select(o => new { o.Id, o.PaidAt, o.PlacedAt }).Take(most + 1)) keys[order.Id] = order.PaidAt ?? order.PlacedAt;
            if (keys.Count > most)
            {
                var count = touched.Sum(t => db.TouchedBy(t).LongCount());
                return new PostedDifference(count, [], true, string.Create(CultureInfo.InvariantCulture, $"many {count}"));
            }
        }
        return keys.Count == 0 ? null : Post([.. keys.OrderBy(k => k.Value).ThenBy(k => k.Key).Select(k => k.Key)]);
    }

    /// <param name="ids">Keys of orders, in the order of their payments.</param>
    /// <param name="change">Changes their facts and posts what they come to; null where that is only to be worked out again.</param>
    public PostedDifference Post(long[] ids, Action? change = null)
    {
        var houseBefore = House(ids);
        db.ChangeTracker.Clear();
        if (change is not null) change();
        else new OrderPosting(db, after, today).Recalculate(ids);
        db.ChangeTracker.Clear();
        var sums = db.Entries.Where(e => e.Id >= _firstEntry).GroupBy(e => new { e.Payee, e.Currency }).Select(g => new { g.Key.Payee, g.Key.Currency, Sum = g.Sum(e => e.Amount), Count = g.Count() }).AsEnumerable()
            .OrderBy(s => s.Payee, StringComparer.Ordinal).ThenBy(s => s.Currency, StringComparer.Ordinal)
            .Select(s => new ChangedSum(s.Payee, new Money(s.Sum, Currency.Of(s.Currency)), s.Count));
        var house = House(ids).Select(h => new ChangedSum(null, new Money(h.Value - houseBefore.GetValueOrDefault(h.Key), Currency.Of(h.Key)), 0)).Where(h => h.Amount.Minor != 0);
        ChangedSum[] all = [.. house, .. sums];
        return new PostedDifference(ids.Length, all, false, FingerprintOf(all)) { Months = Months(), RunsThatStand = RunsThatStand() };
    }

    private ChangedMonth[] Months() =>
    [
        .. db.Entries.Where(e => e.Id >= _firstEntry).Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { o.Id, At = o.PaidAt ?? o.PlacedAt, e.Currency, e.Amount }).AsEnumerable()
            .GroupBy(e => Period.Of(after.Time.DateOf(e.At))).OrderBy(m => m.Key.Number)
            .Select(m => new ChangedMonth(m.Key, m.Select(e => e.Id).Distinct().Count(), [.. m.GroupBy(e => e.Currency).OrderBy(c => c.Key, StringComparer.Ordinal).Select(c => new Money(c.Sum(e => e.Amount), Currency.Of(c.Key)))])),
    ];

    private DateOnly[] RunsThatStand()
    {
        var changed = db.Entries.Where(e => e.Id >= _firstEntry).Select(e => e.OrderId).Distinct();
        var runs = db.Entries.Where(e => e.Id < _firstEntry && e.RunId != null && changed.Contains(e.OrderId)).Select(e => e.RunId!.Value).Distinct().ToArray();
        return [.. db.PayRuns.Where(r => runs.Contains(r.Id) && r.State != RunState.Gathering).OrderBy(r => r.AsOf).Select(r => r.AsOf)];
    }

    /// <summary>Posts what facts of some orders come to that were changed in this transaction, once it was seen.</summary>
    /// <exception cref="NotSeenException">It was not shown yet.</exception>
    public void PostSeen(long[] ids, ShownFirst shown, string words, string by, DateTimeOffset at) => Seen(Post(ids), shown, words, by, at);

    /// <summary>Says why, once the difference was seen.</summary>
    /// <exception cref="NotSeenException">It was not shown yet.</exception>
    public void Seen(PostedDifference difference, ShownFirst shown, string words, string by, DateTimeOffset at)
    {
        if (shown.Asks && difference.Sums.Count > 0 && shown.Seen != difference.Fingerprint) throw new NotSeenException(difference);
        Explain(words, by, at);
    }

    /// <summary>Says of the entries that were posted why they were.</summary>
    public void Explain(string words, string by, DateTimeOffset at)
    {
        var last = db.Entries.Max(e => (long?)e.Id) ?? 0;
        if (last >= _firstEntry && words.Length > 0) db.PostingCauses.Add(new PostingCauseRecord { FirstEntry = _firstEntry, LastEntry = last, Words = words, By = by, At = at });
        db.SaveChanges();
    }

    /// <summary>By currency, what the house keeps of these orders.</summary>
    private Dictionary<string, long> House(long[] ids) =>
        db.Orders.AsNoTracking().Where(o => ids.Contains(o.Id)).GroupBy(o => o.Currency).Select(g => new { g.Key, Sum = g.Sum(o => o.House) }).ToDictionary(g => g.Key, g => g.Sum);

    private static string FingerprintOf(IEnumerable<ChangedSum> sums) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', sums.Select(s => $"{s.Payee} {s.Amount} {s.Entries}")))))[..16];
}
