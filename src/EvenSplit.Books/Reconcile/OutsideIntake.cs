using System.Globalization;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Books.SettingAside;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>A line that somebody outside wrote, read, with what keeps it out if anything does.</summary>
internal sealed record ReadOutside(string Id, IReadOnlyList<CsvRow> Rows, OutsideLineRecord? Line, List<RowFault> Faults) : IRowGroup
{
    /// <summary>Of a bank's line: the balance after it and whether the bank calls it a return.</summary>
    public StatementRow? Statement { get; init; }

    public static ReadOutside Of(RowGroup<SettlementRow> group) => new(group.Id, group.Rows, group.Value is { } r ? Written(r) : null, [.. group.Faults]);

    public static ReadOutside Of(RowGroup<StatementRow> group) => new(group.Id, group.Rows, group.Value is { } r ? Written(r) : null, [.. group.Faults]) { Statement = group.Value };

    public static ReadOutside Of(RowGroup<OutsideRow> group) => new(group.Id, group.Rows, group.Value is { } r ? Written(r) : null, [.. group.Faults]);

    private static OutsideLineRecord Written(SettlementRow r) => new()
    {
        Bench = Bench.Processors,
        Source = r.Settlement,
        LineId = r.Reference,
        Kind = r.Kind,
        On = r.On,
        Order = r.Order.Length > 0 ? r.Order : null,
        Reference = r.RefundId,
        Currency = r.Currency.Code,
        Gross = r.Gross,
        Fee = r.Fee,
        // Until an order is found to hold it against; a fee and a payout are of none.
        Findings = r.Kind < MovementKind.Fee ? Finding.NotInBook : Finding.None,
        State = r.Kind < MovementKind.Fee ? MatchState.Open : MatchState.Matched,
    };

    /// <summary>The entries of a statement as banks write them; a row's number is its place.</summary>
    public static IEnumerable<ReadOutside> Of(BankStatement statement) => statement.Entries.Select((e, i) => new ReadOutside($"{e.Row.Account} {e.Row.Id}", [AsRow(e.Row, i + 1)], Written(e.Row), []));

    private static CsvRow AsRow(StatementRow row, int position) => new(position, new Dictionary<string, string>
    {
        ["account"] = row.Account,
        ["id"] = row.Id,
        ["booked_on"] = row.On.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        ["amount"] = new Money(row.Amount, row.Currency).ToMajorText(),
        ["currency"] = row.Currency.Code,
        ["reference"] = row.Reference,
        ["name"] = row.Name,
        ["note"] = row.Note,
    }.Where(c => c.Value.Length > 0).ToDictionary());

    private static OutsideLineRecord Written(StatementRow r) => new()
    {
        Bench = Bench.Bank,
        Source = r.Account,
        LineId = r.Id,
        On = r.On,
        Reference = r.Reference,
        Name = r.Name,
        Note = r.Note,
        Currency = r.Currency.Code,
        Gross = r.Amount,
        Findings = Finding.NotInBook,
        State = MatchState.Open,
    };

    private static OutsideLineRecord Written(OutsideRow r) => new()
    {
        Bench = Bench.Partners,
        Source = r.Report,
        LineId = r.LineId,
        On = r.To,
        From = r.From,
        Order = r.Order.Length > 0 ? r.Order : null,
        Reference = r.Invoice,
        Name = r.Payee.Value,
        Note = r.Note,
        Currency = r.Currency.Code,
        Gross = r.Amount,
        DueOn = r.DueOn,
        Findings = Finding.OnlyTheirs,
        State = MatchState.Open,
    };
}

/// <summary>Puts lines of others into the book, inside the caller's transaction. The same again changes nothing; the same id with other contents is refused with both shown.</summary>
internal sealed class OutsideIntake(BookDbContext db, OpenedBook book, DateOnly today, ImportRecord import)
{
    /// <returns>Orders whose lines have to be held against the book together with those they had before.</returns>
    public IReadOnlyCollection<string> Take(IEnumerable<ReadOutside> groups)
    {
        var good = groups.Where(g => g.Line is not null && g.Faults.Count == 0).ToArray();
        if (good.Length == 0) return [];
        var bench = good[0].Line!.Bench;
        var known = Known(db, good);
        var next = (db.OutsideLines.Max(l => (long?)l.Id) ?? 0) + 1;
        var added = new List<OutsideLineRecord>();
        foreach (var group in good)
        {
            var line = group.Line!;
            if (!known.TryGetValue((line.Source, line.LineId), out var held))
            {
                (line.Id, line.ImportId) = (next++, import.Id);
                if (bench != Bench.Partners && book.IsClosed(Period.Of(line.On))) line.JournalOn = today;
                known[(line.Source, line.LineId)] = line;
                added.Add(line);
            }
            else if (SaysTheSame(held, line)) import.Unchanged++;
            else group.Faults.Add(new RowFault(group.Rows[0].Line, "", "", $"line {line.LineId} of {line.Source} is in the book with other contents: {InWords(held)}; here it says {InWords(line)}") { IsSentence = true });
        }
        var later = bench == Bench.Processors ? new ProcessorMatches(db, book, today).FindNew(added) : [];
        using (var writer = BulkWriter<OutsideLineRecord>.Inserting(db)) writer.Write(added);
        import.Added += added.Count;
        // A trigger would say so too, and take as long as writing the line.
        if (bench != Bench.Processors) Note(bench == Bench.Bank ? BenchChange.Line : BenchChange.PartnerLine, added.Select(l => l.Id.ToString(CultureInfo.InvariantCulture)));
        else Note(BenchChange.Settlement, added.Where(l => l.Kind == MovementKind.Payout).Select(l => l.Source));
        return later;
    }

    private void Note(BenchChange kind, IEnumerable<string> names) =>
        db.Database.ExecuteSql($"INSERT OR IGNORE INTO BenchToMatch SELECT {(int)kind}, value FROM json_each({JsonSerializer.Serialize(names.Distinct(StringComparer.Ordinal))})");

    /// <summary>Lines of the book with the ids of those read, which are of one bench.</summary>
    internal static Dictionary<(string Source, string LineId), OutsideLineRecord> Known(BookDbContext db, IReadOnlyList<ReadOutside> groups)
    {
        var bench = groups[0].Line!.Bench;
        var known = new Dictionary<(string, string), OutsideLineRecord>();
        foreach (var source in groups.GroupBy(g => g.Line!.Source))
        {
            if (!db.OutsideLines.Any(l => l.Bench == bench && l.Source == source.Key)) continue;
            var ids = source.Select(g => g.Line!.LineId).ToArray();
            foreach (var line in db.OutsideLines.AsNoTracking().Where(l => l.Bench == bench && l.Source == source.Key && ids.Contains(l.LineId))) known[(line.Source, line.LineId)] = line;
        }
        return known;
    }

    internal static bool SaysTheSame(OutsideLineRecord one, OutsideLineRecord other) => Says(one) == Says(other);

    private static (MovementKind, DateOnly, string?, DateOnly?, string, string, string, string, long, long, DateOnly?) Says(OutsideLineRecord l) =>
        (l.Kind, l.On, l.Order, l.From, l.Reference, l.Name, l.Note, l.Currency, l.Gross, l.Fee, l.DueOn);

    internal static string InWords(OutsideLineRecord l)
    {
        var currency = Currency.Of(l.Currency);
        return string.Join(", ", new[]
        {
            l.On.InWords(), l.Bench == Bench.Processors ? l.Kind.ToString().ToLowerInvariant() : "", l.Order ?? "", l.Reference, l.Name, l.Note, new Money(l.Gross, currency).InWords(),
            l.Fee == 0 ? "" : $"fee {new Money(l.Fee, currency).InWords()}",
        }.Where(w => w.Length > 0));
    }
}
