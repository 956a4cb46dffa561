using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>What sales put into an account over some days; minor units.</summary>
/// <param name="Of">The account of bookings; of entries the payee.</param>
internal sealed record DaysSum(SealedKind Kind, string Of, string Currency, long Debit, long Credit, long Postings);

/// <summary>
/// What bookings and entries come to by day, kept so that no page adds up a month of them. Rows never change and later ones have greater ids: they are added by the side as they
/// come, and what came since is read as it is.
/// </summary>
public sealed class JournalDays(BookDbContext db) : IUseCase
{
    /// <summary>So many rows are added at a time, in less than a tenth of a second.</summary>
    private const int Portion = 10_000;

    /// <summary>Fewer are not worth a transaction, and are read in a few milliseconds.</summary>
    private const int AtLeast = 2_048;

    private const string Bookings =
        """
        SELECT Id, "On", Processor, Channel, Currency, Goods, Shipping, Tax, ProcessingFee, ChannelFee, Rebate FROM Bookings WHERE Id > $after AND Id <= $last ORDER BY Id LIMIT $most
        """;

    private const string Entries = "SELECT Id, PostedOn, Payee, Currency, Amount FROM Entries WHERE Id > $after AND Id <= $last ORDER BY Id LIMIT $most";

    /// <summary>Adds rows where enough wait for it.</summary>
    /// <returns>Whether there were any.</returns>
    public bool AddNext(int atLeast = AtLeast, int most = Portion)
    {
        foreach (var kind in Enum.GetValues<SealedKind>())
        {
            if (LastId(kind) - AddedTo(kind) < atLeast) continue;
            using var transaction = db.Database.BeginTransaction();
            var (sums, last) = Sums(kind, AddedTo(kind), most: most);
            using (var days = BulkWriter<JournalDayRecord>.Adding(db)) days.Write(sums);
            using (var marks = BulkWriter<JournalMarkRecord>.Replacing(db)) marks.Write([new JournalMarkRecord { Kind = kind, AddedTo = last }]);
            transaction.Commit();
            return true;
        }
        return false;
    }

    /// <summary>What is dated in a span of days, both included; null for no bound.</summary>
    internal IReadOnlyList<DaysSum> Between(DateOnly? from, DateOnly? to)
    {
        using var reading = db.BeginReading();
        var kept = Within(from, to).GroupBy(d => new { d.Kind, d.Of, d.Currency })
            .Select(g => new DaysSum(g.Key.Kind, g.Key.Of, g.Key.Currency, g.Sum(d => d.Debit), g.Sum(d => d.Credit), g.Sum(d => d.Postings))).AsEnumerable();
        var since = Since(from, to).Select(d => new DaysSum(d.Kind, d.Of, d.Currency, d.Debit, d.Credit, d.Postings));
        return [.. kept.Concat(since).GroupBy(s => (s.Kind, s.Of, s.Currency)).Select(g => new DaysSum(g.Key.Kind, g.Key.Of, g.Key.Currency, g.Sum(s => s.Debit), g.Sum(s => s.Credit), g.Sum(s => s.Postings)))];
    }

    /// <summary>On which days anything of some accounts, or of some payees, is dated; the first first.</summary>
    internal IReadOnlyList<DateOnly> With(SealedKind kind, IReadOnlyCollection<string> of, DateOnly from, DateOnly to)
    {
        using var reading = db.BeginReading();
        var kept = Within(from, to).Where(d => d.Kind == kind && of.Contains(d.Of)).Select(d => d.On).Distinct().ToArray();
        return [.. kept.Concat(Since(from, to).Where(d => d.Kind == kind && of.Contains(d.Of)).Select(d => d.On)).Distinct().Order()];
    }

    /// <summary>What is kept should come to, from the rows that were added.</summary>
    internal IEnumerable<JournalDayRecord> Anew() => Enum.GetValues<SealedKind>().SelectMany(kind => Sums(kind, 0, AddedTo(kind)).Days);

    private IQueryable<JournalDayRecord> Within(DateOnly? from, DateOnly? to) =>
        db.JournalDays.AsNoTracking().Where(d => d.On >= (from ?? DateOnly.MinValue) && d.On <= (to ?? DateOnly.MaxValue));

    private IEnumerable<JournalDayRecord> Since(DateOnly? from, DateOnly? to) =>
        Enum.GetValues<SealedKind>().SelectMany(kind => Sums(kind, AddedTo(kind)).Days).Where(d => (from is null || d.On >= from) && (to is null || d.On <= to));

    private long AddedTo(SealedKind kind) => db.JournalMarks.Where(m => m.Kind == kind).Select(m => m.AddedTo).FirstOrDefault();

    private long LastId(SealedKind kind) => (kind == SealedKind.Entries ? db.Entries.Max(e => (long?)e.Id) : db.Bookings.Max(b => (long?)b.Id)) ?? 0;

    /// <param name="after">The id before the first.</param>
    /// <returns>The sums of rows, and the last one's id.</returns>
    private (IReadOnlyCollection<JournalDayRecord> Days, long Last) Sums(SealedKind kind, long after, long last = long.MaxValue, int most = -1)
    {
        var days = new Dictionary<(string On, string Of, string Currency), JournalDayRecord>();
        db.Database.OpenConnection();
        try
        {
            using var command = JournalCommand.Of(db, kind == SealedKind.Entries ? Entries : Bookings, ("$after", after), ("$last", last), ("$most", most));
            using var row = command.ExecuteReader();
            while (row.Read())
            {
                after = row.GetInt64(0);
                if (kind == SealedKind.Entries)
                {
                    Add(row.GetString(1), row.GetString(2), row.GetString(3), row.GetInt64(4));
                    continue;
                }
                foreach (var posting in SalePostings.Of(
                    row.GetString(2), row.GetString(3), Currency.Of(row.GetString(4)), row.GetInt64(5), row.GetInt64(6), row.GetInt64(7), row.GetInt64(8), row.GetInt64(9), row.GetInt64(10)))
                {
                    Add(row.GetString(1), posting.Account, posting.Amount.Currency.Code, posting.Amount.Minor);
                }
            }
        }
        finally
        {
            db.Database.CloseConnection();
        }
        return (days.Values, after);

        void Add(string on, string of, string currency, long amount)
        {
            if (amount == 0) return;
            if (!days.TryGetValue((on, of, currency), out var day))
            {
                days[(on, of, currency)] = day = new JournalDayRecord { Kind = kind, On = DateOnly.ParseExact(on, "yyyy-MM-dd", CultureInfo.InvariantCulture), Of = of, Currency = currency };
            }
            day.Debit += Math.Max(0, amount);
            day.Credit += Math.Max(0, -amount);
            day.Postings++;
        }
    }
}
