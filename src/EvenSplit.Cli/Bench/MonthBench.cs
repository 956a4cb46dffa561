using System.Diagnostics;
using System.Globalization;
using System.Text;
using EvenSplit.Books;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Microsoft.Extensions.DependencyInjection;
using Benches = EvenSplit.Books.Model.Bench;

namespace EvenSplit.Cli.Bench;

/// <summary>What sealing, proving and closing a month costs in a large book, and its journal beside a plain query that writes as many bytes. The book is changed by it.</summary>
internal sealed class MonthBench(BookPlace place)
{
    private const int JournalOrders = 100_000;

    private static readonly Period Month = new(202609);

    private readonly ServiceProvider _services = OneBook.At(place);

    public void Run()
    {
        _services.PrepareBook();
        Timed("booking and matching what was made", () => Done<FindMatches>(m => m.RunAll()));
        Timed("sealing what was posted, blocks", () =>
        {
            var blocks = 0L;
            while (Do<RowSeals, bool>(s => s.SealNext())) blocks++;
            return blocks;
        });
        Timed("check of the book, differences", () =>
        {
            Do<BookCheck, int>(c =>
            {
                c.Ask("measured");
                c.RunAsked();
                return 0;
            });
            return Do<BookCheck, long>(c => c.Latest()!.Differences);
        });
        Timed("proof of a month, lines", () => Do<MonthProof, long>(p => p.Of(Month).Lines.Count));
        Timed("the same again", () => Do<MonthProof, long>(p => p.Of(Month).Lines.Count));
        Journal();
        Close();
    }

    /// <summary>With one settlement that has all of the month, so that nothing of it is open; its reading is told too.</summary>
    private void Close()
    {
        var settlement = Settlement();
        Timed("a settlement of the month, lines", () =>
        {
            var id = Do<ImportFiles, int>(f => f.QueueAsync(ImportKind.Settlement, "month.csv", settlement, "bench").GetAwaiter().GetResult());
            var import = Do<ReadImport, ImportRecord>(r => r.Run(id));
            return import.Fault is null ? import.Added : throw new InvalidOperationException(import.Fault);
        });
        // What the copied book had brought in before its sales were taken out of it.
        foreach (var bench in Enum.GetValues<Benches>())
        {
            while (Do<Books.Reconcile.Benches, BenchRow[]>(b => [.. b.Find(bench, Month, BenchShows.Open, Finding.None, 0).Rows.Select(r => r.Row)]) is { Length: > 0 } open) Done<SettleFindings>(s => s.Accept(bench, open, "measured", "bench"));
        }
        Timed("closing it", () => Done<MonthClosing>(c => c.Close(Month, "bench")));
        Timed("confirming that, orders", () => Done<MonthClosing>(c => c.Confirm(Month, "somebody else")));
    }

    private MemoryStream Settlement()
    {
        var content = new MemoryStream();
        using var text = new StreamWriter(content, new UTF8Encoding(false), 1 << 16, leaveOpen: true);
        text.WriteLine("settlement_id,settled_on,type,order_id,reference,refund_id,currency,gross,fee,net");
        Do<BookDbContext, int>(db =>
        {
            var rows = 0;
            foreach (var ours in db.Awaited.AsNoTracking().Where(a => a.Bench == Benches.Processors && a.On >= Month.FirstDay && a.On <= Month.LastDay).OrderBy(a => a.On).AsEnumerable())
            {
                string Major(long minor) => new Money(minor, Currency.Of(ours.Currency)).ToMajorText();
                var refund = ours.Kind == MovementKind.Sale ? "" : ours.Ours[(ours.Ours.IndexOf(':', StringComparison.Ordinal) + 1)..];
                text.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{ours.Source}-{Month},{Day(ours.On)},{ours.Kind.ToString().ToLowerInvariant()},{ours.Order},L{++rows},{refund},{ours.Currency},{Major(ours.Gross)},{Major(ours.Fee)},{Major(ours.Gross - ours.Fee)}"));
            }
            return rows;
        });
        text.Flush();
        content.Position = 0;
        return content;
    }

    private void Journal()
    {
        var (first, last, orders) = (Month.FirstDay, Month.FirstDay, 0L);
        for (; orders < JournalOrders && last < Month.LastDay; last = last.AddDays(1)) orders += Do<BookDbContext, long>(db => db.Bookings.Count(b => b.Period == Month.Number && b.On == last));
        last = last.AddDays(-1);
        var bytes = 0L;
        var journal = Timed($"journal of {orders:N0} orders, bytes", () =>
        {
            using var to = new Counted();
            using (var text = new StreamWriter(to, new UTF8Encoding(false), 1 << 16, leaveOpen: true)) Done<JournalExport>(j => j.WriteText(first, last, text));
            return bytes = to.Length;
        });
        var plain = Timed("as many bytes from a plain query of its rows", () => Do<BookDbContext, long>(db => Plain(db, first, last, bytes)));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{"the journal takes",-44} {journal / plain,8:F2} times as long"));
    }

    /// <summary>Reads the very rows of the journal as text, and writes them with filler up to as many bytes.</summary>
    private static long Plain(BookDbContext db, DateOnly first, DateOnly last, long bytes)
    {
        using var to = new Counted();
        using var text = new StreamWriter(to, new UTF8Encoding(false), 1 << 16);
        db.Database.OpenConnection();
        foreach (var sql in new[]
        {
            "SELECT b.\"On\", o.OrderId, b.Refund, b.ForPeriod, b.Processor, b.Channel, b.Currency, b.Goods, b.Shipping, b.Tax, b.ProcessingFee, b.ChannelFee, b.Rebate FROM Bookings b JOIN Orders o ON o.Id = b.OrderId WHERE b.Period = $period AND b.\"On\" >= $from AND b.\"On\" <= $to ORDER BY b.\"On\", b.Id",
            "SELECT e.PostedOn, o.OrderId, e.RefundId, e.Payee, e.Currency, e.Amount, e.Id FROM Entries e JOIN Orders o ON o.Id = e.OrderId WHERE e.Period = $period AND e.PostedOn >= $from AND e.PostedOn <= $to ORDER BY e.PostedOn, e.Id",
        })
        {
            using var command = db.Database.GetDbConnection().CreateCommand();
            (command.CommandText, command.Transaction) = (sql, db.Database.CurrentTransaction?.GetDbTransaction());
            foreach (var (name, value) in new (string, object)[] { ("$period", Month.Number), ("$from", Day(first)), ("$to", Day(last)) })
            {
                var parameter = command.CreateParameter();
                (parameter.ParameterName, parameter.Value) = (name, value);
                command.Parameters.Add(parameter);
            }
            using var row = command.ExecuteReader();
            while (row.Read())
            {
                for (var i = 0; i < row.FieldCount; i++) text.Write(row.IsDBNull(i) ? "" : row.GetString(i));
                text.Write('\n');
            }
        }
        db.Database.CloseConnection();
        text.Flush();
        var filler = new string(' ', 1 << 12);
        while (to.Length < bytes)
        {
            text.Write(filler);
            text.Flush();
        }
        return to.Length;
    }

    private static string Day(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private long Done<T>(Action<T> work) where T : notnull
    {
        Do<T, int>(t =>
        {
            work(t);
            return 0;
        });
        return Do<BookDbContext, long>(db => db.PeriodTotals.Where(t => t.Period == Month.Number).Sum(t => t.Orders));
    }

    private static double Timed(string what, Func<long> work)
    {
        var watch = Stopwatch.StartNew();
        var count = work();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what,-44} {watch.Elapsed.TotalSeconds,8:F2} s  {count:N0}"));
        return watch.Elapsed.TotalSeconds;
    }

    private TResult Do<T, TResult>(Func<T, TResult> work) where T : notnull
    {
        using var scope = _services.CreateScope();
        return work(scope.ServiceProvider.GetRequiredService<T>());
    }

    /// <summary>Counts what is written and keeps nothing.</summary>
    private sealed class Counted : Stream
    {
        private long _length;

        public override bool CanRead => false;

        public override bool CanSeek => false;

        public override bool CanWrite => true;

        public override long Length => _length;

        public override long Position { get => _length; set => throw new NotSupportedException(); }

        public override void Flush()
        {
        }

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => _length += count;

        public override void Write(ReadOnlySpan<byte> buffer) => _length += buffer.Length;
    }
}
