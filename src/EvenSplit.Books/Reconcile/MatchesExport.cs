using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>Writes a bench as CSV: a row for each line and, where there is none, for what is late of ours (reconcile contract, section 8).</summary>
public sealed class MatchesExport(BookDbContext db, BookClock clock, FindMatches matches, Suggestions suggestions) : IUseCase
{
    private static readonly string[] Header =
        ["bench", "source", "line_id", "type", "ours", "state", "findings", "gross_theirs", "gross_ours", "fee_theirs", "fee_ours", "currency", "difference", "settled_by", "reason"];

    /// <param name="asOf">The day from which lateness is told; null for the book's today.</param>
    public void Write(Bench bench, DateOnly? asOf, TextWriter to)
    {
        matches.RunAll();
        var rows = Lines(bench).Concat(Late(bench, asOf ?? clock.Today)).OrderBy(r => r.On).ThenBy(r => r.Id, StringComparer.Ordinal).Select(r => r.Cells);
        CsvOutput.Write(to, Header, rows);
    }

    private IEnumerable<(DateOnly On, string Id, string[] Cells)> Lines(Bench bench)
    {
        var settlings = db.Settlings.AsNoTracking().Where(s => s.Bench == bench && s.LineId != null && s.UndoneBy == null).OrderBy(s => s.Id).ToLookup(s => s.LineId!.Value);
        foreach (var line in db.OutsideLines.AsNoTracking().Where(l => l.Bench == bench).AsEnumerable())
        {
            var currency = Currency.Of(line.Currency);
            var suggested = suggestions.For(line).FirstOrDefault();
            var settled = line.State == MatchState.Settled ? settlings[line.Id].ToArray() : [];
            yield return (line.On, line.LineId,
            [
                Word(bench), line.Source, line.LineId, TypeOf(line), suggested?.Ours ?? line.Ours ?? "", suggested is not null ? "suggested" : Word(line.State), line.Findings.Codes(),
                Major(line.Gross, currency), line.Ours is null ? "" : Major(line.GrossOurs, currency), bench == Bench.Processors ? Major(line.Fee, currency) : "", bench == Bench.Processors && line.Ours is not null ? Major(line.FeeOurs, currency) : "",
                line.Currency, Major(line.State == MatchState.Matched && line.Ours is null ? 0 : line.Difference, currency), string.Join(", ", settled.Select(s => s.By).Distinct()), string.Join("; ", settled.Select(s => s.Reason).Where(r => r.Length > 0)),
            ]);
        }
    }

    private IEnumerable<(DateOnly On, string Id, string[] Cells)> Late(Bench bench, DateOnly asOf)
    {
        foreach (var (ours, finding, settling) in new LateAwaited(db).On(bench, asOf))
        {
            var currency = Currency.Of(ours.Currency);
            yield return (ours.On, ours.Ours,
            [
                Word(bench), bench == Bench.Partners ? ours.Source : "", "", TypeOf(ours), ours.Ours, settling is null ? "open" : "settled", finding.Codes(), "", Major(ours.Gross, currency), "",
                bench == Bench.Processors ? Major(ours.Fee, currency) : "", ours.Currency, Major(ours.Fee - ours.Gross, currency), settling?.By ?? "", settling?.Reason ?? "",
            ]);
        }
    }

    private static string TypeOf(OutsideLineRecord line) => line.Bench switch
    {
        Bench.Processors => Word(line.Kind),
        Bench.Bank => line.Gross < 0 ? "debit" : "credit",
        _ => line.Reference.Length > 0 ? "invoice" : "report",
    };

    private static string TypeOf(AwaitedRecord ours) => ours.Bench switch
    {
        Bench.Processors => Word(ours.Kind),
        Bench.Bank => ours.Kind == MovementKind.Payout ? "credit" : "debit",
        _ => "report",
    };

    private static string Word(Enum value) => value.ToString().ToLowerInvariant();

    private static string Major(long? minor, Currency currency) => minor is { } amount ? new Money(amount, currency).ToMajorText() : "";
}
