using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books;

/// <summary>Finds which orders a change can touch.</summary>
internal static class Touched
{
    /// <summary>What an agreement gives its payees has changed between two dates of placing.</summary>
    public static TouchedOrders ByAgreement(Rulebook rules, AgreementId id, DateOnly? from, DateOnly? before = null) =>
        ByAgreement(rules, id, [.. rules.Payees.Where(p => p.Memberships.Any(m => m.Agreement == id))], from, before);

    /// <summary>As above, for some payees only.</summary>
    public static TouchedOrders ByAgreement(Rulebook rules, AgreementId id, IReadOnlyList<Payee> payees, DateOnly? from, DateOnly? before)
    {
        var touched = new TouchedOrders { PlacedFrom = from, PlacedBefore = before };
        if (rules.Agreement(id).Basis != Basis.Referral)
        {
            var among = payees.Select(p => p.Id).ToHashSet();
            var products = rules.Products.Where(p => rules.Sharers(p.Id).Any(s => s.Agreement.Id == id && among.Contains(s.Payee.Id)));
            // Without a product nothing is touched, which no empty list may turn into everything.
            return touched with { Products = [.. products.Select(p => p.Id.Value).DefaultIfEmpty("")] };
        }
        return touched with { Payees = [.. payees.Select(p => p.Id.Value).DefaultIfEmpty("")], Codes = [.. payees.SelectMany(p => p.Codes)] };
    }

    /// <summary>Everything a payee's progress is counted from.</summary>
    public static TouchedOrders ByTrack(Rulebook rules, TrackKey track) => track.Agreement is { } agreement
        ? ByAgreement(rules, agreement, [rules.Payee(track.Payee)], null, null)
        : new TouchedOrders { Payees = [track.Payee.Value] };

    public static IQueryable<OrderRecord> TouchedBy(this BookDbContext db, TouchedOrders touched)
    {
        var orders = db.Orders.Where(o => !o.IsTest);
        if (touched.PlacedFrom is { } from)
        {
            var instant = Instant(from, -1);
            orders = orders.Where(o => o.PlacedAt >= instant);
        }
        if (touched.PlacedBefore is { } before)
        {
            var instant = Instant(before, 1);
            orders = orders.Where(o => o.PlacedAt < instant);
        }
        if (touched.ConvertedFrom is { } convertedFrom)
        {
            var instant = Instant(convertedFrom, -1);
            orders = orders.Where(o => (o.PaidAt ?? o.PlacedAt) >= instant);
        }
        if (touched.ConvertedBefore is { } convertedBefore)
        {
            var instant = Instant(convertedBefore, 1);
            orders = orders.Where(o => (o.PaidAt ?? o.PlacedAt) < instant);
        }
        if (!touched.NamesSubjects) return orders;
        var keys = touched.Subjects(db).Aggregate((all, more) => all.Union(more));
        return orders.Where(o => keys.Contains(o.Id));
    }

    /// <summary>Per kind of subject the keys of the orders that name one: each found by an index of its own, whatever their number.</summary>
    private static IEnumerable<IQueryable<long>> Subjects(this TouchedOrders touched, BookDbContext db)
    {
        var (payees, codes, products, processors, channels) = (touched.Payees, touched.Codes, touched.Products, touched.Processors, touched.Channels);
        if (payees.Count > 0)
        {
            yield return db.Orders.Where(o => payees.Contains(o.AttributedTo!)).Select(o => o.Id);
            yield return db.Orders.Where(o => payees.Contains(o.ManualPayee!)).Select(o => o.Id);
            yield return db.OrderClicks.Where(c => payees.Contains(c.Payee)).Select(c => c.OrderId);
            yield return db.Entries.Where(e => payees.Contains(e.Payee)).Select(e => e.OrderId);
        }
        if (codes.Count > 0) yield return db.OrderCodes.Where(c => codes.Contains(c.Code)).Select(c => c.OrderId);
        if (products.Count > 0) yield return db.OrderLines.Where(l => products.Contains(l.Product)).Select(l => l.OrderId);
        if (processors.Count > 0) yield return db.Orders.Where(o => processors.Contains(o.Processor!)).Select(o => o.Id);
        if (channels.Count > 0) yield return db.Orders.Where(o => channels.Contains(o.Channel)).Select(o => o.Id);
    }

    /// <summary>A day to the safe side of a date's start in any zone.</summary>
    private static DateTimeOffset Instant(DateOnly date, int days) => new(date.ToDateTime(TimeOnly.MinValue).AddDays(days), TimeSpan.Zero);
}
