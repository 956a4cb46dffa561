using System.CommandLine;
using EvenSplit.Books;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

internal static class ImportCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var kind = new Argument<ImportKind>("kind") { Description = "orders, refunds, clicks, products, payees, terms, adjustments, rates, settlement, statement or outside" };
        var file = new Argument<FileInfo>("file") { Description = "The file, as docs/formats.md describes it: CSV, and of a bank also camt.053." };
        var from = new Option<DateOnly?>("--from") { Description = "The day from which the terms of a file hold, as 2026-12-31; of terms alone." };
        var command = new Command("import", "Takes a file into a book: good rows go in, bad ones wait in quarantine; products, payees, terms, adjustments and rates go in whole or not at all.") { kind, file, from, data };
        command.SetAction(async (parsed, cancellation) =>
            await RunAsync(new BookPlace(parsed.GetRequiredValue(data).FullName), parsed.GetRequiredValue(kind), parsed.GetRequiredValue(file), parsed.GetValue(from), cancellation));
        return command;
    }

    private static async Task<int> RunAsync(BookPlace place, ImportKind kind, FileInfo file, DateOnly? from, CancellationToken cancellation)
    {
        if (!file.Exists)
        {
            await Console.Error.WriteLineAsync($"There is no file {file.FullName}.");
            return 2;
        }
        using var services = OneBook.At(place);
        services.PrepareBook();
        using var scope = services.CreateScope();
        try
        {
            if (kind.IsWhole()) return await TakeWholeAsync(scope.ServiceProvider, kind, file, from, cancellation);
            await using var content = file.OpenRead();
            var id = await scope.ServiceProvider.GetRequiredService<ImportFiles>().QueueAsync(kind, file.Name, content, Environment.UserName, cancellation: cancellation);
            var import = scope.ServiceProvider.GetRequiredService<ReadImport>().Run(
                id, i => Console.Error.Write($"\r{MoneyWords.Count(i.Rows, "row")} read, {MoneyWords.Count(i.Added)} added, {MoneyWords.Count(i.Quarantined)} in quarantine "), cancellation);
            await Console.Error.WriteLineAsync();
            using (var after = services.CreateScope())
            {
                after.ServiceProvider.GetRequiredService<QuarantineDesk>().SendRefundsWhoseOrderCame();
                after.ServiceProvider.GetRequiredService<FindMatches>().RunAll(cancellation);
            }
            return await TellAsync(scope.ServiceProvider, import);
        }
        catch (RefusedException refused)
        {
            await Console.Error.WriteLineAsync(refused.Message);
            return 2;
        }
    }

    private static async Task<int> TakeWholeAsync(IServiceProvider services, ImportKind kind, FileInfo file, DateOnly? from, CancellationToken cancellation)
    {
        var (changed, known, faults) = kind switch
        {
            ImportKind.Adjustments => Adjust(services.GetRequiredService<Adjustments>(), file),
            ImportKind.Rates => AddRates(services.GetRequiredService<RateDesk>(), file),
            _ => Apply(services.GetRequiredService<BulkChanges>(), kind, file.Name, await File.ReadAllTextAsync(file.FullName, cancellation), from),
        };
        foreach (var fault in faults) await Console.Error.WriteLineAsync($"{file.Name}, {(fault.Row > 0 ? $"row {fault.Row}: " : "")}{fault}");
        if (faults.Count > 0) return 2;
        Console.WriteLine($"{file.Name}: {kind.ToString().ToLowerInvariant()} added or changed {MoneyWords.Count(changed)}, unchanged {MoneyWords.Count(known)}");
        return 0;
    }

    private static (int Changed, int Known, IReadOnlyList<RowFault> Faults) Adjust(Adjustments adjustments, FileInfo file)
    {
        using var content = file.OpenRead();
        return adjustments.AddFile(content, Environment.UserName);
    }

    private static (int Changed, int Known, IReadOnlyList<RowFault> Faults) AddRates(RateDesk rates, FileInfo file)
    {
        using var content = file.OpenRead();
        var (added, faults) = rates.Import(content, Environment.UserName);
        return (added, 0, faults);
    }

    private static (int Changed, int Known, IReadOnlyList<RowFault> Faults) Apply(BulkChanges changes, ImportKind kind, string name, string text, DateOnly? from)
    {
        var (id, faults) = changes.Propose(kind.Bulk(), name, text, false, from, Environment.UserName);
        if (id is not { } change) return (0, 0, faults);
        var differences = changes.Find(change)!.Differences;
        changes.Apply(change, Environment.UserName);
        return (differences.Differences.Count, differences.Same, []);
    }

    private static async Task<int> TellAsync(IServiceProvider services, ImportRecord import)
    {
        if (import.State == ImportState.Refused)
        {
            await Console.Error.WriteLineAsync($"{import.FileName}: {import.Fault}");
            return 2;
        }
        Console.WriteLine(
            $"{import.FileName}: {MoneyWords.Count(import.Rows, "row")}; {(import.Kind.IsOutside() ? "lines" : import.Kind.ToString().ToLowerInvariant())} added {MoneyWords.Count(import.Added)}, "
            + $"changed {MoneyWords.Count(import.Changed)}, unchanged {MoneyWords.Count(import.Unchanged)}; rows in quarantine {MoneyWords.Count(import.Quarantined)}");
        if (import.ExtraColumns.Length > 0) Console.WriteLine($"Columns kept aside: {import.ExtraColumns}");
        foreach (var group in services.GetRequiredService<QuarantineDesk>().Waiting().Where(g => g.ImportId == import.Id))
        {
            foreach (var row in group.Rows) await Console.Error.WriteLineAsync($"{import.FileName}, row {row.Row}: {row.Fault}");
        }
        return import.Quarantined > 0 ? 2 : 0;
    }
}
