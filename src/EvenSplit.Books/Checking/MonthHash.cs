using System.Buffers.Binary;
using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Checking;

/// <summary>SHA-256 over what a month holds: every entry posted in it and everything that was booked, in the order of their ids, following on the closed month before.</summary>
internal static class MonthHash
{
    private const string Entries =
        "SELECT e.Id, o.OrderId, e.LineNumber, e.Payee, e.Agreement, e.Part, e.RefundId, e.Amount, e.Currency, e.PostedOn FROM Entries e JOIN Orders o ON o.Id = e.OrderId WHERE e.Period = $period ORDER BY e.Id";

    private const string Bookings =
        "SELECT b.Id, o.OrderId, b.Refund, b.\"On\", b.ForPeriod, b.Processor, b.Channel, b.Currency, b.Goods, b.Shipping, b.Tax, b.ProcessingFee, b.ChannelFee, b.Rebate FROM Bookings b JOIN Orders o ON o.Id = b.OrderId WHERE b.Period = $period ORDER BY b.Id";

    /// <summary>Every closed month against what it was when it was closed, and each against the one before.</summary>
    public static CheckLine Check(BookDbContext db)
    {
        var months = new Comparison("Closed months");
        var (hash, kept, same) = ("", 0L, 0L);
        foreach (var close in db.MonthCloses.AsNoTracking().Where(c => c.ConfirmedBy != null && c.OpenedConfirmedBy == null).OrderBy(c => c.Period).AsEnumerable())
        {
            var month = new Period(close.Period);
            kept++;
            if (close.HashBefore != hash) months.Differ(CheckSubject.Nothing, "", $"{month.Name}, the closed month before it", "another than it followed on", "as it was closed");
            if (Of(db, month, close.HashBefore) == close.Hash) same++;
            else months.Differ(CheckSubject.Nothing, "", $"{month.Name}, its entries and bookings", "not what they were", $"as {close.ConfirmedBy} confirmed them");
            hash = close.Hash;
        }
        return months.Line(MoneyWords.Count(kept, "month"), MoneyWords.Count(same, "month"));
    }

    /// <returns>Hexadecimal.</returns>
    public static string Of(BookDbContext db, Period month, string before)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        Add(hash, before);
        db.Database.OpenConnection();
        try
        {
            foreach (var sql in new[] { Entries, Bookings })
            {
                using var command = db.Database.GetDbConnection().CreateCommand();
                (command.CommandText, command.Transaction) = (sql, db.Database.CurrentTransaction?.GetDbTransaction());
                var parameter = command.CreateParameter();
                (parameter.ParameterName, parameter.Value) = ("$period", month.Number);
                command.Parameters.Add(parameter);
                using var row = command.ExecuteReader();
                Add(hash, sql.Length);
                while (row.Read())
                {
                    for (var i = 0; i < row.FieldCount; i++)
                    {
                        if (row.IsDBNull(i)) Add(hash, -1);
                        else if (row.GetFieldType(i) == typeof(string)) Add(hash, row.GetString(i));
                        else Add(hash, row.GetInt64(i));
                    }
                }
            }
        }
        finally
        {
            db.Database.CloseConnection();
        }
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    /// <summary>With its length before it, so that two texts never read as one.</summary>
    private static void Add(IncrementalHash hash, string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        Add(hash, bytes.Length);
        hash.AppendData(bytes);
    }

    private static void Add(IncrementalHash hash, long number)
    {
        Span<byte> bytes = stackalloc byte[8];
        BinaryPrimitives.WriteInt64LittleEndian(bytes, number);
        hash.AppendData(bytes);
    }
}
