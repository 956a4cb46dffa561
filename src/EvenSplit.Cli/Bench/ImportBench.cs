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
/// <param name="folder">A folder that holds the demonstration book under <c>demo</c>; the books measured stay under <c>import</c> for a look at their pages.</param>
internal sealed class ImportBench(string folder, int lines, int rounds)
{
    private const int SingleOrders = 60;

    public async Task<int> RunAsync()
    {
        var demo = Path.Combine(folder, "demo");
        var (_, warm) = await ImportAsync(demo, "warm-up", Math.Min(lines, 5_000));
        PlainInsert.Run(warm, Empty("plain"));
        var (_, small) = await ImportAsync(demo, "small", 1);
        await OneMoreAsync(small);
        var oneMoreInEmpty = await OneMoreAsync(small);
        var imports = new List<TimeSpan>();
        var plains = new List<TimeSpan>();
        var (peak, rows) = (0L, 0);
        // Turn by turn, so that whatever else the machine is doing falls on both; the medians are compared.
        for (var round = 0; round < rounds; round++)
        {
            var (time, place) = await ImportAsync(demo, "big", lines);
            imports.Add(time);
            if (round == 0) peak = Process.GetCurrentProcess().PeakWorkingSet64 / 1024 / 1024;
            (var plain, rows) = PlainInsert.Run(place, Empty("plain"));
            plains.Add(plain);
        }
        var oneMoreInFull = await OneMoreAsync(Place("big"));
        var (import, insert) = (imports.Order().ElementAt(rounds / 2), plains.Order().ElementAt(rounds / 2));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"import of {lines:N0} order lines  {import.TotalSeconds:F2} s, {lines / import.TotalSeconds:N0} lines/s, peak memory {peak} MB"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"plain insert of its {rows:N0} rows  {insert.TotalSeconds:F2} s"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"ratio  {import / insert:F2}  (medians of {rounds}; wanted: at most 1.6 for 100,000 lines, 2 for 30,000)"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"one more order  {oneMoreInEmpty.TotalMilliseconds:F1} ms in an empty book, {oneMoreInFull.TotalMilliseconds:F1} ms in this one, ratio {oneMoreInFull / oneMoreInEmpty:F2}  (medians of {SingleOrders})"));
        return 0;
    }

    private async Task<(TimeSpan Time, BookPlace Place)> ImportAsync(string demo, string name, int count)
    {
        var place = Place(name);
        BookCopy.Make(demo, place);
        using var services = OneBook.At(place);
        services.PrepareBook();
        using var scope = services.CreateScope();
        var csv = Path.Combine(place.Folder, "orders.csv");
        // Only what this import brings is to be measured, so the demonstration's own sales go first.
        var codes = await scope.ServiceProvider.GetRequiredService<BookDbContext>().PayeeCodes.AsNoTracking().ToListAsync();
        BookCopy.ClearSales(scope.ServiceProvider.GetRequiredService<BookDbContext>());
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

    /// <summary>How long it takes to bring in one order by itself, from the file in hand to its entries posted.</summary>
    private static async Task<TimeSpan> OneMoreAsync(BookPlace place)
    {
        using var services = OneBook.At(place);
        var times = new List<TimeSpan>();
        for (var i = 0; i < SingleOrders; i++)
        {
            using var scope = services.CreateScope();
            var codes = await scope.ServiceProvider.GetRequiredService<BookDbContext>().PayeeCodes.AsNoTracking().ToListAsync();
            var csv = Path.Combine(place.Folder, "one.csv");
            BenchFile.Write(csv, 2, codes, $"{Guid.NewGuid():N}-");
            var started = Stopwatch.StartNew();
            await using (var content = File.OpenRead(csv))
            {
                var id = await scope.ServiceProvider.GetRequiredService<ImportFiles>().QueueAsync(ImportKind.Orders, "one.csv", content, "bench");
                scope.ServiceProvider.GetRequiredService<ReadImport>().Run(id);
            }
            times.Add(started.Elapsed);
        }
        return times.Order().ElementAt(SingleOrders / 2);
    }

    private BookPlace Empty(string name) => BookCopy.Empty(Place(name));

    // Not beside the book of a million orders, which is kept.
    private BookPlace Place(string name) => new(Path.Combine(folder, "import", name));
}
