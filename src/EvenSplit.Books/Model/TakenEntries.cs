namespace EvenSplit.Books.Model;

/// <summary>Finds the entries of runs, which say themselves nothing of it.</summary>
internal static class TakenEntries
{
    /// <summary>What a run took of a payee.</summary>
    public static IQueryable<EntryRecord> EntriesOf(this BookDbContext db, PayRunRecord run, string payee) =>
        db.Entries.Where(e => e.Payee == payee && e.ClearsOn <= run.AsOf && e.RunId == run.Id);

    /// <summary>What a run took, of payees one after another.</summary>
    public static IQueryable<EntryRecord> EntriesOf(this BookDbContext db, PayRunRecord run) =>
        from taking in db.Takings where taking.RunId == run.Id join entry in db.Entries on taking.Payee equals entry.Payee where entry.ClearsOn <= taking.AsOf && entry.RunId == run.Id select entry;
}
