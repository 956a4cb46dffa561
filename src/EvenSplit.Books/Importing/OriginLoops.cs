using EvenSplit.Books.Model;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Importing;

/// <summary>Refuses orders whose origin would lead back to themselves, by way of others of the batch or of the book (contract, section 10).</summary>
internal sealed class OriginLoops(BookDbContext db)
{
    public void Refuse(IReadOnlyCollection<ReadOrder> read)
    {
        var renewals = read.Where(g => g.Order!.Origin is not null).ToDictionary(g => g.Id);
        if (renewals.Count == 0) return;
        var ids = renewals.Keys.ToArray();
        // Only what somebody else renews can be on a way back.
        var renewed = db.Orders.Where(o => ids.Contains(o.Origin!)).Select(o => o.Origin!).Distinct().ToHashSet();
        renewed.UnionWith(renewals.Values.Select(g => g.Order!.Origin!.Value.Value));
        foreach (var group in renewals.Values.Where(g => renewed.Contains(g.Id)))
        {
            if (!LeadsBack(group.Id, renewals)) continue;
            var row = group.Rows[0];
            group.Faults.Add(new RowFault(row.Line, "origin_order", row["origin_order"], "an order that does not itself renew this one"));
        }
    }

    private bool LeadsBack(string start, Dictionary<string, ReadOrder> batch)
    {
        var seen = new HashSet<string>();
        for (var at = OriginOf(start, batch); at is not null && seen.Add(at); at = OriginOf(at, batch))
        {
            if (at == start) return true;
        }
        return false;
    }

    private string? OriginOf(string id, Dictionary<string, ReadOrder> batch) => batch.TryGetValue(id, out var order) && order.Faults.Count == 0
        ? order.Order!.Origin?.Value
        : db.Orders.Where(o => o.OrderId == id).Select(o => o.Origin).FirstOrDefault();
}
