using System.Buffers.Binary;
using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>A row that is or can be sealed.</summary>
/// <param name="Fingerprint">SHA-256 over everything of it that never changes.</param>
internal sealed record SealableRow(long Id, int Period, string OrderId, byte[] Fingerprint);

/// <summary>Reads entries or bookings as they are sealed.</summary>
internal sealed class SealableRows(BookDbContext db)
{
    private const string Entries =
        "SELECT e.Id, e.Period, o.OrderId, e.LineNumber, e.Payee, e.Agreement, e.Part, e.RefundId, e.Amount, e.Currency, e.PostedOn FROM Entries e JOIN Orders o ON o.Id = e.OrderId WHERE e.Id > $after AND e.Id <= $last AND ($period = 0 OR e.Period = $period) ORDER BY e.Id LIMIT $most";

    private const string Bookings =
        "SELECT b.Id, b.Period, o.OrderId, b.Refund, b.\"On\", b.ForPeriod, b.Processor, b.Channel, b.Currency, b.Goods, b.Shipping, b.Tax, b.ProcessingFee, b.ChannelFee, b.Rebate FROM Bookings b JOIN Orders o ON o.Id = b.OrderId WHERE b.Id > $after AND b.Id <= $last AND ($period = 0 OR b.Period = $period) ORDER BY b.Id LIMIT $most";

    public static string Table(SealedKind kind) => kind == SealedKind.Entries ? "Entries" : "Bookings";

    /// <summary>The last id there is; 0 where there is none.</summary>
    public long LastId(SealedKind kind) => Single($"SELECT COALESCE(MAX(Id), 0) FROM {Table(kind)}", 0);

    /// <summary>How many rows a month has.</summary>
    public long Count(SealedKind kind, Period month) => Single($"SELECT COUNT(*) FROM {Table(kind)} WHERE Period = $period", month.Number);

    /// <param name="after">The id before the first.</param>
    /// <param name="month">Of one month; null for all.</param>
    public IEnumerable<SealableRow> Read(SealedKind kind, long after, long last = long.MaxValue, Period? month = null, int most = -1)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        db.Database.OpenConnection();
        try
        {
            using var command = JournalCommand.Of(db, kind == SealedKind.Entries ? Entries : Bookings, ("$after", after), ("$last", last), ("$period", month?.Number ?? 0), ("$most", most));
            using var row = command.ExecuteReader();
            while (row.Read())
            {
                for (var i = 0; i < row.FieldCount; i++)
                {
                    if (row.IsDBNull(i)) Add(hash, -1);
                    else if (row.GetFieldType(i) == typeof(string)) Add(hash, row.GetString(i));
                    else Add(hash, row.GetInt64(i));
                }
                yield return new SealableRow(row.GetInt64(0), row.GetInt32(1), row.GetString(2), hash.GetHashAndReset());
            }
        }
        finally
        {
            db.Database.CloseConnection();
        }
    }

    private long Single(string sql, int period)
    {
        db.Database.OpenConnection();
        try
        {
            using var command = JournalCommand.Of(db, sql, ("$period", period));
            return (long)command.ExecuteScalar()!;
        }
        finally
        {
            db.Database.CloseConnection();
        }
    }

    /// <summary>With its length before it, so that two texts never read as one.</summary>
    internal static void Add(IncrementalHash hash, string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        Add(hash, bytes.Length);
        hash.AppendData(bytes);
    }

    internal static void Add(IncrementalHash hash, long number)
    {
        Span<byte> bytes = stackalloc byte[8];
        BinaryPrimitives.WriteInt64LittleEndian(bytes, number);
        hash.AppendData(bytes);
    }
}
