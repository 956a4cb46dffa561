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
        recalculation.Total = List(db, Of(recalculation.Id, orders));
        db.SaveChanges();
    }

    /// <summary>Orders as a recalculation lists them.</summary>
    public static RecalculationOrderRecord[] Of(int recalculation, IQueryable<OrderRecord> orders) =>
        [.. orders.Select(o => new { o.Id, o.PaidAt, o.PlacedAt }).AsEnumerable().Select(o => new RecalculationOrderRecord { RecalculationId = recalculation, At = o.PaidAt ?? o.PlacedAt, OrderId = o.Id })];

    /// <summary>Lists orders, inside the caller's transaction; one that is listed already stays as it is.</summary>
    /// <returns>How many.</returns>
    public static int List(BookDbContext db, IEnumerable<RecalculationOrderRecord> orders)
    {
        using var writer = BulkWriter<RecalculationOrderRecord>.Replacing(db);
        return writer.Write(orders);
    }
}
