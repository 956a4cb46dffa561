namespace EvenSplit.Books.Model;

/// <summary>Finds what runs took; entries say themselves nothing of it.</summary>
internal static class TakenEntries
{
    /// <summary>What a run took of a payee.</summary>
    public static IQueryable<EntryRecord> EntriesOf(this BookDbContext db, PayRunRecord run, string payee) =>
        db.Entries.Where(e => e.Payee == payee && e.ClearsOn <= run.AsOf && e.RunId == run.Id);

    /// <summary>Orders that a run may have taken something of: it served their payees, and they have entries that cleared when what it took did.</summary>
    public static IQueryable<OrderRecord> OrdersOf(this BookDbContext db, PayRunRecord run)
    {
        var from = db.TakenSums.Where(s => s.RunId == run.Id).Min(s => (DateOnly?)s.ClearsOn) ?? DateOnly.MaxValue;
        return db.Orders.Where(o => db.Entries.Any(e => e.OrderId == o.Id && e.ClearsOn >= from && e.ClearsOn <= run.AsOf && db.Takings.Any(t => t.RunId == run.Id && t.Payee == e.Payee)));
    }
}
