using EvenSplit.Books.Model;

namespace EvenSplit.Books.Posting;

/// <summary>Asks for orders to be worked out again in the background, in the order of their payments.</summary>
internal static class AskedAgain
{
    /// <summary>Whatever the rules; inside the caller's transaction.</summary>
    public static void Ask(BookDbContext db, IQueryable<OrderRecord> orders)
    {
        var recalculation = new RecalculationRecord { Touched = [], IsListed = true };
        db.Recalculations.Add(recalculation);
        db.SaveChanges();
        recalculation.Total = List(db, recalculation.Id, orders);
        db.SaveChanges();
    }

    /// <summary>Lists orders for a recalculation, inside the caller's transaction; one that is listed already is left as it is.</summary>
    /// <returns>How many.</returns>
    public static int List(BookDbContext db, int recalculation, IQueryable<OrderRecord> orders)
    {
        using var writer = BulkWriter<RecalculationOrderRecord>.Replacing(db);
        return writer.Write(orders.Select(o => new { o.Id, o.PaidAt, o.PlacedAt }).ToArray()
            .Select(o => new RecalculationOrderRecord { RecalculationId = recalculation, At = o.PaidAt ?? o.PlacedAt, OrderId = o.Id }));
    }
}
