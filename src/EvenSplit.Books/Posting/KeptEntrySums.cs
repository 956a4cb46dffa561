using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>Adds newly posted entries to the sums that balances and lists are read from.</summary>
internal static class KeptEntrySums
{
    public static void Add(BookDbContext db, IReadOnlyCollection<EntryRecord> posted)
    {
        foreach (var sum in posted.GroupBy(e => (e.Payee, e.Currency, ClearsOn: e.ClearsOn ?? DateOnly.MaxValue)))
        {
            var (payee, currency, clearsOn) = sum.Key;
            var amount = sum.Sum(e => e.Amount);
            db.Database.ExecuteSql(
                $"""
                INSERT INTO OpenSums (Payee, Currency, ClearsOn, Amount) VALUES ({payee}, {currency}, {clearsOn}, {amount})
                ON CONFLICT DO UPDATE SET Amount = Amount + excluded.Amount
                """);
        }
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
}
