using System.CommandLine;
using EvenSplit.Books.Auditing;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Cli;

/// <summary>What a book holds, for others to read.</summary>
internal static class ExportCommand
{
    public static Command Make()
    {
        var data = DataOption.Make();
        var scenario = new Command("scenario", "The facts of a book as a scenario file, that calc works out anew.") { data };
        scenario.SetAction(parsed => FromBook.Print<BookFacts>(parsed.GetRequiredValue(data).FullName, (book, output) =>
        {
            var facts = book.Read();
            foreach (var unsaid in ScenarioWriter.Unsaid(facts)) Console.Error.WriteLine(unsaid);
            ScenarioWriter.Write(facts, output);
        }));
        return new Command("export", "Prints what a book holds.") { scenario, MakeMatches(), MakeJournal(), MakeTrialBalance(), MakeProof(), MakeAudit() };
    }

    private static Command MakeMatches()
    {
        var data = DataOption.Make();
        var bench = new Option<Books.Model.Bench>("--bench") { Description = "processors, bank or partners", Required = true };
        var asOf = new Option<DateOnly?>("--as-of") { Description = "The day from which lateness is told, such as 2026-10-31; the book's today where left out." };
        var matches = new Command("matches", "What processors, banks or partners say, held against the book: a row for each line, and for what is late of ours.") { bench, asOf, data };
        // What was noted since is held against the lines first; nothing else of the book is changed.
        matches.SetAction(parsed => FromBook.Print<MatchesExport>(parsed.GetRequiredValue(data).FullName, (export, output) =>
        {
            using var text = new StreamWriter(output);
            export.Write(parsed.GetRequiredValue(bench), parsed.GetValue(asOf), text);
        }));
        return matches;
    }

    private static Command MakeJournal()
    {
        var (data, from, to) = (DataOption.Make(), FirstDay(), LastDay());
        var csv = new Option<bool>("--csv") { Description = "As CSV, a row for each posting, with the seller's own codes and names." };
        var journal = new Command("journal", "The journal of the book in plain text that hledger and ledger read.") { from, to, csv, data };
        journal.SetAction(parsed => Write(parsed.GetRequiredValue(data), (export, text) =>
        {
            if (parsed.GetValue(csv)) export.WriteCsv(parsed.GetValue(from), parsed.GetValue(to), text);
            else export.WriteText(parsed.GetValue(from), parsed.GetValue(to), text);
        }));
        return journal;
    }

    private static Command MakeTrialBalance()
    {
        var (data, from, to) = (DataOption.Make(), FirstDay(), LastDay());
        var command = new Command("trial-balance", "What every account of the journal comes to, as CSV.") { from, to, data };
        command.SetAction(parsed => Write(parsed.GetRequiredValue(data), (export, text) => export.WriteTrialBalance(parsed.GetValue(from), parsed.GetValue(to), text)));
        return command;
    }

    private static Command MakeAudit()
    {
        var data = DataOption.Make();
        var from = new Option<string>("--from") { Description = "The first month, such as 2026-01.", Required = true };
        var to = new Option<string>("--to") { Description = "The last month, such as 2026-10.", Required = true };
        var file = new Argument<FileInfo>("file") { Description = "The .zip to write; one that is there already is kept." };
        var command = new Command("audit", "The auditor's folder of some months as a .zip: facts, entries, journal, proofs, matches, payments and the record, with how to work all out again.") { from, to, file, data };
        command.SetAction(parsed =>
        {
            if (!Period.TryParse(parsed.GetRequiredValue(from), out var first) || !Period.TryParse(parsed.GetRequiredValue(to), out var last) || last.Number < first.Number)
            {
                Console.Error.WriteLine("Give the months as --from 2026-01 --to 2026-10, the first one first.");
                return 2;
            }
            var zip = parsed.GetRequiredValue(file);
            if (zip.Exists)
            {
                Console.Error.WriteLine($"{zip.FullName} is there already; give another name.");
                return 2;
            }
            return FromBook.Print<AuditFolder>(parsed.GetRequiredValue(data).FullName, (folder, _) =>
            {
                // Half a folder under the name that was asked for would look like a whole one.
                var part = zip.FullName + ".part";
                using (var written = new FileStream(part, FileMode.Create, FileAccess.ReadWrite)) folder.Write(first, last, written);
                File.Move(part, zip.FullName);
                Console.WriteLine($"{zip.FullName}: {first.Name} to {last.Name}, {new FileInfo(zip.FullName).Length / 1024} KB.");
            });
        });
        return command;
    }

    private static Command MakeProof()
    {
        var data = DataOption.Make();
        var period = new Option<string>("--period") { Description = "The month, such as 2026-10.", Required = true };
        var command = new Command("proof", "The proof of a month as CSV: each check with both figures and whether they agree.") { period, data };
        command.SetAction(parsed =>
        {
            if (!Period.TryParse(parsed.GetRequiredValue(period), out var month))
            {
                Console.Error.WriteLine("Give the month as 2026-10.");
                return 2;
            }
            return FromBook.Print<MonthProof>(parsed.GetRequiredValue(data).FullName, (proof, output) =>
            {
                using var text = new StreamWriter(output);
                proof.Write(month, text);
            });
        });
        return command;
    }

    /// <summary>What was noted since is booked first; nothing else of the book is changed.</summary>
    private static int Write(DirectoryInfo data, Action<JournalExport, TextWriter> write) => FromBook.Print<JournalExport>(data.FullName, (export, output) =>
    {
        export.Prepare();
        using var text = new StreamWriter(output, bufferSize: 1 << 16);
        write(export, text);
    });

    private static Option<DateOnly?> FirstDay() => new("--from") { Description = "The first day, such as 2026-10-01; the book's first where left out." };

    private static Option<DateOnly?> LastDay() => new("--to") { Description = "The last day; the book's last where left out." };
}
