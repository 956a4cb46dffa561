using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>Adds newly posted entries to the sums that balances and lists are read from.</summary>
internal static class KeptEntrySums
{
    /// <summary>Moves entries that no run has taken from the day they cleared on to another.</summary>
    public static void Move(BookDbContext db, IReadOnlyCollection<(EntryRecord Entry, DateOnly? ClearsOn)> redated)
    {
        AddOpen(db, redated.Select(r => (r.Entry, r.Entry.ClearsOn, -r.Entry.Amount)));
        AddOpen(db, redated.Select(r => (r.Entry, r.ClearsOn, r.Entry.Amount)));
    }

    public static void Add(BookDbContext db, IReadOnlyCollection<EntryRecord> posted)
    {
        AddOpen(db, posted.Select(e => (e, e.ClearsOn, e.Amount)));
        foreach (var sum in posted.GroupBy(e => (e.Period, e.Payee, e.Currency, IsReversal: e.RefundId is not null)))
        {
            var (period, payee, currency, isReversal) = sum.Key;
            var (count, amount) = (sum.Count(), sum.Sum(e => e.Amount));
            db.Database.ExecuteSql(
                $"""
                INSERT INTO EntrySums (Period, Payee, Currency, IsReversal, Entries, Amount) VALUES ({period}, {payee}, {currency}, {isReversal}, {count}, {amount})
                ON CONFLICT DO UPDATE SET Entries = Entries + excluded.Entries, Amount = Amount + excluded.Amount
                """);
        }
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
