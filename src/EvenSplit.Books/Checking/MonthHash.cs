using System.Security.Cryptography;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Checking;

/// <summary>Holds closed months against what they were: each row against its seal, and the seals against the hash that follows on the closed month before.</summary>
internal static class MonthHash
{
    private const string Entries =
        "SELECT e.Id, o.OrderId, e.LineNumber, e.Payee, e.Agreement, e.Part, e.RefundId, e.Amount, e.Currency, e.PostedOn FROM Entries e JOIN Orders o ON o.Id = e.OrderId WHERE e.Period = $period ORDER BY e.Id";

    private const string Bookings =
        "SELECT b.Id, o.OrderId, b.Refund, b.\"On\", b.ForPeriod, b.Processor, b.Channel, b.Currency, b.Goods, b.Shipping, b.Tax, b.ProcessingFee, b.ChannelFee, b.Rebate FROM Bookings b JOIN Orders o ON o.Id = b.OrderId WHERE b.Period = $period ORDER BY b.Id";

    /// <summary>Every closed month against what it was when it was closed, and each against the one before.</summary>
    public static CheckLine Check(BookDbContext db)
    {
        var seals = new RowSeals(db);
        var months = new Comparison("Closed months");
        var (hash, kept, same) = ("", 0L, 0L);
        foreach (var close in db.MonthCloses.AsNoTracking().Where(c => c.ConfirmedBy != null && c.OpenedConfirmedBy == null).OrderBy(c => c.Period).AsEnumerable())
        {
            var month = new Period(close.Period);
            kept++;
            if (close.HashBefore != hash) months.Differ(CheckSubject.Nothing, "", $"{month.Name}, the closed month before it", "another than it followed on", "as it was closed");
            var broken = close.IsSealed ? Broken(months, seals, month) : 0;
            if (broken == 0 && (close.IsSealed ? seals.HashOf(month, close.HashBefore) : OfRows(db, month, close.HashBefore)) == close.Hash) same++;
            else if (broken == 0) months.Differ(CheckSubject.Nothing, "", $"{month.Name}, its entries and bookings", "not what they were", $"as {close.ConfirmedBy} confirmed them");
            hash = close.Hash;
        }
        return months.Line(MoneyWords.Count(kept, "month"), MoneyWords.Count(same, "month"));
    }

    private static long Broken(Comparison months, RowSeals seals, Period month)
    {
        var found = 0L;
        foreach (var broken in seals.Broken(month))
        {
            found++;
            var row = $"{month.Name}, {(broken.Kind == SealedKind.Entries ? "entry" : "booking")} {broken.Id}{(broken.OrderId is { } order ? $" of order {order}" : "")}";
            months.Differ(broken.OrderId is null ? CheckSubject.Nothing : CheckSubject.Order, broken.OrderId ?? "", row, broken.Now, "as the month was closed");
        }
        return found;
    }

    /// <summary>Of a month that was closed before there were seals: over its rows in the order of their ids.</summary>
    /// <returns>Hexadecimal.</returns>
    private static string OfRows(BookDbContext db, Period month, string before)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        SealableRows.Add(hash, before);
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
                SealableRows.Add(hash, sql.Length);
                while (row.Read())
                {
                    for (var i = 0; i < row.FieldCount; i++)
                    {
                        if (row.IsDBNull(i)) SealableRows.Add(hash, -1);
                        else if (row.GetFieldType(i) == typeof(string)) SealableRows.Add(hash, row.GetString(i));
                        else SealableRows.Add(hash, row.GetInt64(i));
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
}
