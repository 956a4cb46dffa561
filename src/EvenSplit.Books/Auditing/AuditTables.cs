using System.Globalization;
using EvenSplit.Books.Ledger;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Record;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Auditing;

/// <summary>The tables of the auditor's folder: entries, pay runs, closed months, what came from outside, and the record.</summary>
public sealed class AuditTables(BookDbContext db, EntryList entries, RecordList record) : IUseCase
{
    private static readonly string[] RunColumns = ["run", "reference", "as_of", "state", "prepared_by", "locked_by", "locked_at", "approved_by", "approved_at", "issued_at"];

    private static readonly string[] RemittanceColumns =
        ["run", "payee", "currency", "opening", "earned", "adjustments", "recouped", "withheld", "transfer_fee", "paid", "carried", "reason", "state", "method", "paid_on", "came_back_on", "payment_reference", "through", "why"];

    private static readonly string[] MonthColumns = ["month", "closed_by", "closed_at", "confirmed_by", "confirmed_at", "opened_by", "opened_confirmed_by", "opened_at", "opened_because", "sha256", "sha256_of_month_before"];

    private static readonly string[] OutsideColumns = ["source", "line_id", "type", "date", "order_id", "from", "reference", "name", "note", "currency", "amount", "fee", "due_on", "file", "brought_in_by", "brought_in_at"];

    public IEnumerable<(string Name, IReadOnlyList<string> Header, IEnumerable<IReadOnlyList<string>> Rows)> Of(Period from, Period to)
    {
        var (first, last) = (from.FirstDay, to.LastDay);
        yield return ("entries.csv", EntryTable.Header, Months(from, to).SelectMany(month => EntryTable.Rows(entries.All(new EntryFilter(month, null, "", EntryKindFilter.Any, null)))));
        yield return ("runs.csv", RunColumns, Runs(first, last).AsEnumerable().Select(r => (string[])
            [Number(r.Id), r.Reference, Day(r.AsOf), Word(r.State), r.PreparedBy, r.LockedBy ?? "", Moment(r.LockedAt), r.ApprovedBy ?? "", Moment(r.ApprovedAt), Moment(r.IssuedAt)]));
        yield return ("remittances.csv", RemittanceColumns, Remittances(first, last));
        yield return ("months.csv", MonthColumns, db.MonthCloses.AsNoTracking().Where(c => c.Period >= from.Number && c.Period <= to.Number && !c.IsWithdrawn).OrderBy(c => c.Id).AsEnumerable().Select(c => (string[])
            [new Period(c.Period).ToString(), c.ClosedBy, Moment(c.ClosedAt), c.ConfirmedBy ?? "", Moment(c.ConfirmedAt), c.OpenedBy ?? "", c.OpenedConfirmedBy ?? "", Moment(c.OpenedAt), c.OpenedBecause, c.Hash, c.HashBefore]));
        yield return ("settlements.csv", OutsideColumns, Outside(Bench.Processors, first, last));
        yield return ("bank-lines.csv", OutsideColumns, Outside(Bench.Bank, first, last));
        yield return ("partner-lines.csv", OutsideColumns, Outside(Bench.Partners, first, last));
        yield return ("record.csv", RecordTable.Header, RecordTable.Rows(record.All(new RecordFilter("", "", first, last, null))));
    }

    internal static IEnumerable<Period> Months(Period from, Period to)
    {
        for (var month = from; month.Number <= to.Number; month = Period.Of(month.LastDay.AddDays(1))) yield return month;
    }

    private IQueryable<PayRunRecord> Runs(DateOnly first, DateOnly last) =>
        db.PayRuns.AsNoTracking().Where(r => r.State != RunState.Gathering && r.AsOf >= first && r.AsOf <= last).OrderBy(r => r.AsOf).ThenBy(r => r.Id);

    private IEnumerable<string[]> Remittances(DateOnly first, DateOnly last)
    {
        foreach (var run in Runs(first, last).Include(r => r.Remittances).AsEnumerable())
        {
            foreach (var r in run.Remittances.OrderBy(r => r.Id))
            {
                string Major(long minor) => new Money(minor, Currency.Of(r.Currency)).ToMajorText();
                yield return
                [
                    Number(run.Id), r.Payee, r.Currency, Major(r.Opening), Major(r.Earned), Major(r.Adjustments), Major(r.Recouped), Major(r.Withheld), Major(r.TransferFee), Major(r.Paid), Major(r.Carried),
                    Word(r.Reason), Word(r.State), Word(r.Method), Day(r.PaidOn), Day(r.CameBackOn), r.EndToEnd ?? r.Reference ?? "", r.Through ?? "", r.Why ?? "",
                ];
            }
        }
    }

    /// <summary>Files that are kept as they came, and have a line of these days.</summary>
    internal IReadOnlyList<ImportRecord> FilesOf(DateOnly first, DateOnly last) => [.. db.Imports.AsNoTracking()
        .Where(i => db.OutsideFiles.Any(f => f.ImportId == i.Id) && db.OutsideLines.Any(l => l.ImportId == i.Id && l.On >= first && l.On <= last)).OrderBy(i => i.Id)];

    /// <summary>Where it lies in the folder.</summary>
    internal static string KeptAs(ImportRecord import) => $"as-they-came/{FilesAsTheyCame.NameOf(import)}";

    private IEnumerable<string[]> Outside(Bench bench, DateOnly first, DateOnly last)
    {
        var files = db.Imports.AsNoTracking().Where(i => i.Kind >= ImportKind.Settlement && i.Kind <= ImportKind.Outside).ToDictionary(i => i.Id);
        var kept = db.OutsideFiles.Select(f => f.ImportId).ToHashSet();
        foreach (var line in db.OutsideLines.AsNoTracking().Where(l => l.Bench == bench && l.On >= first && l.On <= last).OrderBy(l => l.On).ThenBy(l => l.Id).AsEnumerable())
        {
            var currency = Currency.Of(line.Currency);
            var file = files.GetValueOrDefault(line.ImportId);
            yield return
            [
                line.Source, line.LineId, Word(line.Kind), Day(line.On), line.Order ?? "", Day(line.From), line.Reference, line.Name, line.Note, line.Currency,
                new Money(line.Gross, currency).ToMajorText(), new Money(line.Fee, currency).ToMajorText(), Day(line.DueOn), file is null ? "" : kept.Contains(file.Id) ? KeptAs(file) : file.FileName, file?.By ?? "", Moment(file?.At),
            ];
        }
    }

    private static string Number(long number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";

    private static string Moment(DateTimeOffset? at) => at?.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture) ?? "";

    private static string Word(Enum value) => value.ToString().ToLowerInvariant();
}
