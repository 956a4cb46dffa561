using EvenSplit.Books;
using EvenSplit.Books.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Cli.Bench;

/// <summary>Copies of books to be measured.</summary>
internal static class BookCopy
{
    /// <summary>Makes room for a book that is not there yet; whatever the folder held goes.</summary>
    public static BookPlace Empty(BookPlace place)
    {
        // A connection kept open would go on with the deleted file.
        SqliteConnection.ClearAllPools();
        if (Directory.Exists(place.Folder)) Directory.Delete(place.Folder, recursive: true);
        return place;
    }

    /// <summary>Copies a book into an empty folder; whatever the folder held goes.</summary>
    public static void Make(string from, BookPlace into)
    {
        Empty(into);
        Directory.CreateDirectory(into.Folder);
        foreach (var file in Directory.GetFiles(from)) File.Copy(file, Path.Combine(into.Folder, Path.GetFileName(file)));
        if (Directory.Exists(Path.Combine(from, "keys")))
        {
            Directory.CreateDirectory(into.Keys);
            foreach (var key in Directory.GetFiles(Path.Combine(from, "keys"))) File.Copy(key, Path.Combine(into.Keys, Path.GetFileName(key)));
        }
    }

    /// <summary>Empties a copy of its sales; only in a copy made to be measured are the guards of the append-only tables lifted for it, until it is opened again.</summary>
    public static void ClearSales(BookDbContext db)
    {
        db.Database.ExecuteSqlRaw(
            """
            PRAGMA foreign_keys = OFF;
            DROP TRIGGER Entries_NoDelete; DROP TRIGGER Remittances_NoDelete; DROP TRIGGER PaymentDoubts_NoDelete; DROP TRIGGER Recoupments_NoDelete; DROP TRIGGER PayRuns_NoDelete; DROP TRIGGER Adjustments_NoDelete;
            DROP TRIGGER PaymentFiles_NoDelete; DROP TRIGGER StoreCredits_NoDelete; DROP TRIGGER Takings_NoDelete; DROP TRIGGER TakenSums_NoDelete;
            DROP TRIGGER OutsideLines_NoDelete; DROP TRIGGER Awaited_SumWhenGone; DROP TRIGGER OutsideFiles_NoDelete; DROP TRIGGER Settlings_NoDelete; DROP TRIGGER Bookings_NoDelete; DROP TRIGGER RowSeals_NoDelete; DROP TRIGGER MonthCloses_NoDelete; DROP TRIGGER Orders_MatchWhenGone; DROP TRIGGER Refunds_MatchWhenGone;
            DELETE FROM RunMarks; DELETE FROM RunRates; DELETE FROM Recoupments; DELETE FROM PaymentDoubts; DELETE FROM Remittances; DELETE FROM PaymentFiles; DELETE FROM Adjustments; DELETE FROM Entries; DELETE FROM OpenSums; DELETE FROM Takings; DELETE FROM TakenSums;
            DELETE FROM EntrySums; DELETE FROM RefundLines; DELETE FROM Refunds; DELETE FROM OrderExceptions; DELETE FROM AcceptedExceptions; DELETE FROM EntryHolds; DELETE FROM OrderLines; DELETE FROM OrderCodes;
            DELETE FROM OrderClicks; DELETE FROM ProgressEvents; DELETE FROM ProgressDays; DELETE FROM CountedSales; DELETE FROM CountedDays; DELETE FROM SalesSums; DELETE FROM Orders; DELETE FROM PayRuns; DELETE FROM PeriodTotals; DELETE FROM TargetsReached;
            DELETE FROM StoreCredits; DELETE FROM OutsideLines; DELETE FROM OutsideFiles; DELETE FROM BankStatements; DELETE FROM Settlings; DELETE FROM Awaited; DELETE FROM ProcessorSums; DELETE FROM NotSettledDays; DELETE FROM OrdersToMatch; DELETE FROM Bookings; DELETE FROM JournalDays; DELETE FROM RowSeals; DELETE FROM MonthCloses; DELETE FROM Imports WHERE NOT EXISTS (SELECT 1 FROM Quarantine);
            PRAGMA foreign_keys = ON;
            VACUUM;
            """);
        var broken = db.Database.SqlQuery<string>($"SELECT DISTINCT \"table\" || ' of ' || parent AS Value FROM pragma_foreign_key_check").ToArray();
        if (broken.Length > 0) throw new InvalidOperationException($"The copy still has rows that name rows it was emptied of: {string.Join(", ", broken)}. Empty these tables as well.");
    }
}
