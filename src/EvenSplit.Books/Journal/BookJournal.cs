using System.Data.Common;
using System.Globalization;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>
/// The journal of the whole book (reconcile contract, section 5): sales and refunds as they were booked, entries, runs, settlements and lines of banks, in the order of their
/// days. Transactions come one after another, so that a book of any size is written in constant memory.
/// </summary>
public sealed class BookJournal(BookDbContext db, BookCache cache, JournalDays days) : IUseCase
{
    private const int FewEntries = 5_000;

    /// <summary>The first and the last day on which anything is dated; null where nothing is.</summary>
    public (DateOnly First, DateOnly Last)? Days()
    {
        DateOnly?[] days =
        [
            db.Bookings.Min(b => (DateOnly?)b.On), db.Bookings.Max(b => (DateOnly?)b.On), db.Entries.OrderBy(e => e.Period).ThenBy(e => e.PostedOn).Select(e => (DateOnly?)e.PostedOn).FirstOrDefault(),
            db.Entries.OrderByDescending(e => e.Period).ThenByDescending(e => e.PostedOn).Select(e => (DateOnly?)e.PostedOn).FirstOrDefault(), db.PayRuns.Min(r => (DateOnly?)r.AsOf), db.PayRuns.Max(r => (DateOnly?)r.AsOf),
            db.Remittances.Max(r => r.PaidOn), db.Remittances.Max(r => r.CameBackOn), db.OutsideLines.Min(l => (DateOnly?)l.On), db.OutsideLines.Max(l => (DateOnly?)l.On), db.OutsideLines.Max(l => l.JournalOn),
            .. db.Settlings.Where(s => s.UndoneBy == null && s.Way == SettlingWay.Accept).Select(s => s.At).AsEnumerable().Select(at => (DateOnly?)cache.Get(db).Time.DateOf(at)).DefaultIfEmpty().Max() is { } settled ? new DateOnly?[] { settled } : [],
        ];
        return days.Max() is { } last ? (days.Min()!.Value, last) : null;
    }

    /// <summary>What is dated in a span of days, both included; null for no bound.</summary>
    public IEnumerable<JournalTransaction> Between(DateOnly? from, DateOnly? to) => Between(from, to, withSales: true);

    /// <summary>Runs, settlements and lines of banks alone: what is booked and posted of sales has its sums by day.</summary>
    internal IEnumerable<JournalTransaction> BesideSales(DateOnly? from, DateOnly? to) => Between(from, to, withSales: false);

    /// <summary>The postings of one account in a span of days, both included.</summary>
    /// <param name="most">So many of the first are read.</param>
    /// <param name="fewEntries">As many are found by whom they are of; more by their days, of which the first have enough.</param>
    /// <returns>Those, and how many there are.</returns>
    public (IReadOnlyList<(JournalTransaction Transaction, JournalPosting Posting)> First, long Count) Ledger(string account, DateOnly from, DateOnly to, int most, int fewEntries = FewEntries)
    {
        using var reading = db.BeginReading();
        var book = cache.Get(db);
        var payees = book.Rules.Payees.Where(p => account == JournalAccount.EarningsOf(p.Role) || account == JournalAccount.Earnings(p.Id.Value)).Select(p => p.Id.Value).ToArray();
        var sums = days.Between(from, to);
        var earned = sums.Where(s => s.Kind == SealedKind.Entries && payees.Contains(s.Of)).Sum(s => s.Postings);
        var beside = Of(BesideSales(from, to)).ToArray();
        var count = beside.Length + earned + sums.Where(s => s.Kind == SealedKind.Bookings && s.Of == account).Sum(s => s.Postings);
        // Sums say on which days there is anything of the account, so that no others are read.
        var booked = days.With(SealedKind.Bookings, [account], from, to).SelectMany(day => Sales(Period.Of(day), day, day));
        var posted = earned == 0 ? [] : earned <= fewEntries
            ? Entries(book, Period.Of(from), from, to, payees)
            : days.With(SealedKind.Entries, payees, from, to).SelectMany(day => Entries(book, Period.Of(day), day, day));
        return ([.. beside.Concat(Of(booked).Take(most)).Concat(Of(posted).Take(most)).OrderBy(p => p.Item1.On).Take(most)], count);

        IEnumerable<(JournalTransaction, JournalPosting)> Of(IEnumerable<JournalTransaction> transactions) => transactions.SelectMany(t => t.Postings.Where(p => p.Account == account).Select(p => (t, p)));
    }

    private IEnumerable<JournalTransaction> Between(DateOnly? from, DateOnly? to, bool withSales)
    {
        // What there is at all is looked for only where a bound is missing: it reads the days of every row.
        if ((from is null || to is null ? Days() : (from.Value, to.Value)) is not var (earliest, latest)) yield break;
        var (first, last) = (from > earliest ? from.Value : earliest, to < latest ? to.Value : latest);
        using var reading = db.BeginReading();
        for (var month = Period.Of(first); month.FirstDay <= last; month = month.Next)
        {
            foreach (var transaction in Within(month, first > month.FirstDay ? first : month.FirstDay, last < month.LastDay ? last : month.LastDay, withSales)) yield return transaction;
        }
    }

    /// <summary>Of one month, day by day, each kind after the other.</summary>
    private IEnumerable<JournalTransaction> Within(Period month, DateOnly from, DateOnly to, bool withSales)
    {
        var book = cache.Get(db);
        var outside = new OutsideTransactions(db, book);
        IEnumerator<JournalTransaction>[] kinds =
        [
            .. withSales ? new[] { Sales(month, from, to).GetEnumerator(), Entries(book, month, from, to).GetEnumerator() } : [], Runs(book, from, to).GetEnumerator(), outside.Settlements(from, to).GetEnumerator(),
            outside.AcceptedAtProcessors(from, to).GetEnumerator(), outside.Bank(from, to).OrderBy(t => t.On).GetEnumerator(),
        ];
        try
        {
            var waiting = kinds.Where(k => k.MoveNext()).ToList();
            while (waiting.Count > 0)
            {
                var next = waiting.MinBy(k => k.Current.On)!;
                yield return next.Current;
                if (!next.MoveNext()) waiting.Remove(next);
            }
        }
        finally
        {
            foreach (var kind in kinds) kind.Dispose();
        }
    }

    private IEnumerable<JournalTransaction> Sales(Period month, DateOnly from, DateOnly to)
    {
        using var row = Rows(
            """
            SELECT b."On", o.OrderId, b.Refund, b.ForPeriod, b.Processor, b.Channel, b.Currency, b.Goods, b.Shipping, b.Tax, b.ProcessingFee, b.ChannelFee, b.Rebate
            FROM Bookings b JOIN Orders o ON o.Id = b.OrderId WHERE b.Period = $period AND b."On" >= $from AND b."On" <= $to ORDER BY b."On", b.Id
            """, month, from, to);
        while (row.Read())
        {
            var refund = row.IsDBNull(2) ? null : row.GetString(2);
            var (id, processor, channel, currency) = (row.GetString(1), row.GetString(4), row.GetString(5), Currency.Of(row.GetString(6)));
            var (goods, shipping, tax, fee, channelFee, rebate) = (row.GetInt64(7), row.GetInt64(8), row.GetInt64(9), row.GetInt64(10), row.GetInt64(11), row.GetInt64(12));
            var postings = SalePostings.Of(processor, channel, currency, goods, shipping, tax, fee, channelFee, rebate);
            if (postings.Count == 0) continue;
            var late = row.IsDBNull(3) ? "" : $" for {new Period(row.GetInt32(3)).Name.ToUpperInvariant()}";
            var order = JournalAccount.Part(id);
            yield return new(Day(row, 0), refund is null ? $"Sale {order}{late}" : $"Refund {JournalAccount.Part(refund)} of {order}{late}", JournalSource.Order, order, refund is null ? "" : $"refund:{JournalAccount.Part(refund)}", postings);
        }
    }

    /// <summary>Entries of an order that were posted together are one transaction.</summary>
    /// <param name="payees">Where given, only theirs, and of any month.</param>
    private IEnumerable<JournalTransaction> Entries(OpenedBook book, Period month, DateOnly from, DateOnly to, string[]? payees = null)
    {
        var roles = book.Rules.Payees.ToDictionary(p => p.Id.Value, p => (JournalAccount.EarningsOf(p.Role), JournalAccount.Earnings(p.Id.Value)));
        const string columns = "SELECT e.PostedOn, o.OrderId, e.RefundId, e.Payee, e.Currency, e.Amount, e.Id";
        using var row = payees is null
            ? Rows($"{columns} FROM Entries e JOIN Orders o ON o.Id = e.OrderId WHERE e.Period = $period AND e.PostedOn >= $from AND e.PostedOn <= $to ORDER BY e.PostedOn, e.Id", month, from, to)
            : Rows(
                $"""
                {columns} FROM json_each($payees) p CROSS JOIN Entries e INDEXED BY IX_Entries_Payee_PostedOn ON e.Payee = p.value JOIN Orders o ON o.Id = e.OrderId
                WHERE e.PostedOn >= $from AND e.PostedOn <= $to ORDER BY e.PostedOn, e.Id
                """, month, from, to, payees);
        var (postings, order, on, refund, first, last) = (new List<JournalPosting>(), "", default(DateOnly), 0L, 0L, 0L);
        while (row.Read())
        {
            var (day, id, of, key) = (Day(row, 0), row.GetString(1), row.IsDBNull(2) ? 0 : row.GetInt64(2), row.GetInt64(6));
            if (postings.Count > 0 && (day != on || id != order || of != refund))
            {
                yield return Made();
                postings = [];
            }
            if (postings.Count == 0) (order, on, refund, first) = (id, day, of, key);
            last = key;
            var (currency, amount) = (Currency.Of(row.GetString(4)), row.GetInt64(5));
            var (cost, owed) = roles[row.GetString(3)];
            Add(postings, cost, amount, currency);
            Add(postings, owed, -amount, currency);
        }
        if (postings.Count > 0) yield return Made();

        JournalTransaction Made() => new(
            on, $"{(refund == 0 ? "Earned on" : "Taken back on")} {JournalAccount.Part(order)}", JournalSource.Entry, first.ToString(CultureInfo.InvariantCulture), last == first ? $"order:{JournalAccount.Part(order)}" : $"to {last.ToString(CultureInfo.InvariantCulture)}, order:{JournalAccount.Part(order)}", postings);
    }

    private IEnumerable<JournalTransaction> Runs(OpenedBook book, DateOnly from, DateOnly to)
    {
        var within = db.PayRuns.AsNoTracking().Where(r => r.State != RunState.Gathering).Where(r => (r.AsOf >= from && r.AsOf <= to)
            || r.Remittances.Any(m => (m.PaidOn >= from && m.PaidOn <= to) || (m.CameBackOn >= from && m.CameBackOn <= to))).OrderBy(r => r.AsOf).ThenBy(r => r.Id).ToArray();
        var transactions = new RunTransactions(db, book);
        return within.SelectMany(run => transactions.Of(run, db.Remittances.AsNoTracking().Where(m => m.RunId == run.Id).OrderBy(m => m.Id).ToArray(), from, to)).OrderBy(t => t.On);
    }

    private static void Add(List<JournalPosting> postings, string account, long minor, Currency currency)
    {
        if (minor != 0) postings.Add(new JournalPosting(account, new Money(minor, currency)));
    }

    private static DateOnly Day(DbDataReader row, int column) => DateOnly.ParseExact(row.GetString(column), "yyyy-MM-dd", CultureInfo.InvariantCulture);

    private DbDataReader Rows(string sql, Period month, DateOnly from, DateOnly to, string[]? payees = null)
    {
        var narrowed = payees is null ? ("$period", month.Number) : ("$payees", (object)JsonSerializer.Serialize(payees));
        // Its reader goes with it, and is the caller's.
        return JournalCommand.Of(db, sql, narrowed, ("$from", Text(from)), ("$to", Text(to))).ExecuteReader();

        static string Text(DateOnly day) => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
    }
}
