using System.Diagnostics;
using System.Globalization;
using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli.Bench;

/// <summary>Imports many order lines into a copy of the demonstration book and prints the time as a ratio to the plain insert of the same rows.</summary>
/// <param name="folder">A folder that holds the demonstration book under <c>demo</c>; the books measured stay there for a look at their pages.</param>
internal sealed class ImportBench(string folder, int lines)
{
    public async Task<int> RunAsync()
    {
        var demo = Path.Combine(folder, "demo");
        var warm = await ImportAsync(demo, "warm-up", Math.Min(lines, 5_000));
        var (time, place) = await ImportAsync(demo, "big", lines);
        var peak = Process.GetCurrentProcess().PeakWorkingSet64 / 1024.0 / 1024.0;
        PlainInsert.Run(warm.Place, Empty("plain-warm-up"));
        var (plain, rows) = PlainInsert.Run(place, Empty("plain"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"import of {lines:N0} order lines  {time.TotalSeconds:F2} s, {lines / time.TotalSeconds:N0} lines/s, peak memory {peak:F0} MB"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"plain insert of its {rows:N0} rows  {plain.TotalSeconds:F2} s"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"ratio  {time / plain:F2}  (wanted: at most 3)"));
        return 0;
    }

    private async Task<(TimeSpan Time, BookPlace Place)> ImportAsync(string demo, string name, int count)
    {
        var place = Empty(name);
        Directory.CreateDirectory(place.Folder);
        foreach (var file in Directory.GetFiles(demo)) File.Copy(file, Path.Combine(place.Folder, Path.GetFileName(file)));
        using var services = CliServices.For(place);
        services.PrepareBook();
        using var scope = services.CreateScope();
        var csv = Path.Combine(place.Folder, "orders.csv");
        // Only what this import brings is to be measured, so the demonstration's own sales go first.
        var codes = await scope.ServiceProvider.GetRequiredService<BookDbContext>().PayeeCodes.AsNoTracking().ToListAsync();
        ClearSales(scope.ServiceProvider.GetRequiredService<BookDbContext>());
        BenchFile.Write(csv, count, codes);
        int id;
        await using (var content = File.OpenRead(csv)) id = await scope.ServiceProvider.GetRequiredService<ImportFiles>().QueueAsync(ImportKind.Orders, "orders.csv", content, "bench");
        GC.Collect();
        var started = Stopwatch.StartNew();
        var import = scope.ServiceProvider.GetRequiredService<ReadImport>().Run(id);
        var time = started.Elapsed;
        if (import.State != ImportState.Done || import.Quarantined > 0) throw new InvalidOperationException($"The import did not go through: {import.Fault} {MoneyWords.Count(import.Quarantined, "row")} in quarantine.");
        return (time, place);
    }

    /// <summary>Empties the copy of its sales; only in a copy made to be measured are the guards of the append-only tables lifted for it.</summary>
    private static void ClearSales(BookDbContext db)
    {
        db.Database.ExecuteSqlRaw(
            """
            PRAGMA foreign_keys = OFF;
            DROP TRIGGER Entries_NoDelete; DROP TRIGGER Remittances_NoDelete; DROP TRIGGER Recoupments_NoDelete; DROP TRIGGER PayRuns_NoDelete; DROP TRIGGER Adjustments_NoDelete;
            DELETE FROM Recoupments; DELETE FROM Remittances; DELETE FROM Adjustments; DELETE FROM Entries; DELETE FROM RefundLines; DELETE FROM Refunds;
            DELETE FROM OrderExceptions; DELETE FROM OrderLines; DELETE FROM Orders; DELETE FROM PayRuns; DELETE FROM PeriodTotals;
            PRAGMA foreign_keys = ON;
            VACUUM;
            """);
    }

    private BookPlace Empty(string name)
    {
        var place = new BookPlace(Path.Combine(folder, name));
        if (Directory.Exists(place.Folder)) Directory.Delete(place.Folder, recursive: true);
        return place;
    }
}
