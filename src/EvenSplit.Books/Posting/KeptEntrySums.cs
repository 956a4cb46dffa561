using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>The sums that balances and lists are read from; nothing else writes them.</summary>
internal static class KeptEntrySums
{
    /// <summary>Adds newly posted entries.</summary>
    public static void Add(BookDbContext db, IReadOnlyCollection<EntryRecord> posted)
    {
        AddOpen(db, posted.Select(e => (e, e.ClearsOn, e.Amount)));
        foreach (var sum in posted.GroupBy(e => (e.Period, e.Payee, e.Currency, IsReversal: e.RefundId is not null)))
        {
            var (period, payee, currency, isReversal) = sum.Key;
            var (count, amount) = (sum.Count(), sum.Sum(e => e.Amount));
            var fingerprint = sum.Aggregate(0L, (all, e) => EntryFingerprint.Add(all, EntryFingerprint.Of(e)));
            db.Database.ExecuteSql(
                $"""
                INSERT INTO EntrySums (Period, Payee, Currency, IsReversal, Entries, Amount, Fingerprint) VALUES ({period}, {payee}, {currency}, {isReversal}, {count}, {amount}, {fingerprint})
                ON CONFLICT DO UPDATE SET Entries = Entries + excluded.Entries, Amount = Amount + excluded.Amount, Fingerprint = (Fingerprint + excluded.Fingerprint) & 4611686018427387903
                """);
        }
    }

    /// <summary>Moves entries that no run has taken to the day on which they clear now: an order was signed off, a hold has changed.</summary>
    public static void Redate(BookDbContext db, IReadOnlyCollection<(EntryRecord Entry, DateOnly? ClearsOn)> redated)
    {
        if (redated.Count == 0) return;
        foreach (var sameDay in redated.GroupBy(r => r.ClearsOn, r => r.Entry.Id))
        {
            foreach (var ids in sameDay.Chunk(500)) db.Entries.Where(e => ids.Contains(e.Id)).ExecuteUpdate(set => set.SetProperty(e => e.ClearsOn, sameDay.Key));
        }
        AddOpen(db, redated.Select(r => (r.Entry, r.Entry.ClearsOn, -r.Entry.Amount)));
        AddOpen(db, redated.Select(r => (r.Entry, r.ClearsOn, r.Entry.Amount)));
    }

    /// <summary>Stamps what has cleared for some payees with the run that takes it; it is open no more.</summary>
    public static void Take(BookDbContext db, int run, DateOnly asOf, IReadOnlyCollection<string> payees)
    {
        db.Entries.Where(e => e.RunId == null && e.ClearsOn <= asOf && payees.Contains(e.Payee)).ExecuteUpdate(set => set.SetProperty(e => e.RunId, run));
        // Exactly those entries make up these sums.
        db.OpenSums.Where(s => s.ClearsOn <= asOf && payees.Contains(s.Payee)).ExecuteDelete();
    }

    /// <summary>Opens again what a run had taken.</summary>
    public static void GiveBack(BookDbContext db, int run)
    {
        db.Database.ExecuteSql(
            $"""
            INSERT INTO OpenSums (Payee, Currency, ClearsOn, Amount)
            SELECT Payee, Currency, ClearsOn, SUM(Amount) FROM Entries WHERE RunId = {run} GROUP BY Payee, Currency, ClearsOn
            ON CONFLICT (Payee, Currency, ClearsOn) DO UPDATE SET Amount = Amount + excluded.Amount
            """);
        db.Entries.Where(e => e.RunId == run).ExecuteUpdate(set => set.SetProperty(e => e.RunId, (int?)null));
    }

    private static void AddOpen(BookDbContext db, IEnumerable<(EntryRecord Entry, DateOnly? ClearsOn, long Amount)> amounts)
    {
        foreach (var sum in amounts.GroupBy(a => (a.Entry.Payee, a.Entry.Currency, ClearsOn: a.ClearsOn ?? DateOnly.MaxValue)))
        {
            var (payee, currency, clearsOn) = sum.Key;
            var amount = sum.Sum(a => a.Amount);
            db.Database.ExecuteSql(
                $"""
                INSERT INTO OpenSums (Payee, Currency, ClearsOn, Amount) VALUES ({payee}, {currency}, {clearsOn}, {amount})
                ON CONFLICT DO UPDATE SET Amount = Amount + excluded.Amount
                """);
        }
    }
}
