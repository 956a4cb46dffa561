using EvenSplit.Books.Bulk;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.SettingAside;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Importing;

internal sealed record ReadOrder(string Id, IReadOnlyList<CsvRow> Rows, Order? Order, List<RowFault> Faults) : IRowGroup;

internal sealed record ReadClick(string Id, IReadOnlyList<CsvRow> Rows, LoggedClick? Click, List<RowFault> Faults) : IRowGroup;

internal sealed record ReadRefund(string Id, IReadOnlyList<CsvRow> Rows, Refund? Refund, List<RowFault> Faults) : IRowGroup;

/// <summary>Knows what rows may refer to.</summary>
internal sealed record GroupReader(Rulebook Rules, Func<OrderId, Order?> HeldOrder);

internal static class RowGrouping
{
    /// <summary>Reads rows into orders or refunds. An id that comes again further down is at fault: its rows must follow each other.</summary>
    public static IEnumerable<IRowGroup> InGroups(this IEnumerable<CsvRow> rows, ImportKind kind, GroupReader reader)
    {
        var seen = new Dictionary<string, long>(StringComparer.Ordinal);
        foreach (var group in Read(rows, kind, reader))
        {
            if (kind is ImportKind.Orders or ImportKind.Refunds && !seen.TryAdd(group.Id, group.Rows[0].Line) && group.Id.Length > 0)
            {
                var column = kind == ImportKind.Orders ? "order_id" : "refund_id";
                group.Faults.Add(new RowFault(group.Rows[0].Line, column, group.Id, $"its rows to follow each other; the first is row {seen[group.Id]}"));
            }
            yield return group;
        }
    }

    private static IEnumerable<IRowGroup> Read(IEnumerable<CsvRow> rows, ImportKind kind, GroupReader reader) => kind switch
    {
        ImportKind.Orders => OrdersCsv.Read(rows, reader.Rules).Select(g => new ReadOrder(g.Id, g.Rows, g.Value, [.. g.Faults])),
        ImportKind.Settlement => SettlementCsv.Read(rows, reader.Rules.Policy.Time).Select(ReadOutside.Of),
        ImportKind.Statement => StatementCsv.Read(rows, reader.Rules.Policy.Time).Select(ReadOutside.Of),
        ImportKind.Outside => OutsideCsv.Read(rows, reader.Rules).Select(ReadOutside.Of),
        ImportKind.Refunds => RefundsCsv.Read(rows, reader.Rules.Policy.Time, reader.HeldOrder).Select(g => new ReadRefund(g.Id, g.Rows, g.Value, [.. g.Faults])),
        _ => ClicksCsv.Read(rows, reader.Rules).Select(g => new ReadClick(g.Id, g.Rows, g.Value, [.. g.Faults])),
    };
}

/// <summary>What files of each kind look like.</summary>
public static class ImportKinds
{
    /// <summary>Whether it is what a processor, a bank or a partner writes; such a file is taken as a whole.</summary>
    public static bool IsOutside(this ImportKind kind) => kind is ImportKind.Settlement or ImportKind.Statement or ImportKind.Outside;

    /// <summary>Whether a file goes in whole or not at all, after it was looked at; of the others good rows go in and bad ones wait.</summary>
    public static bool IsWhole(this ImportKind kind) => kind is ImportKind.Products or ImportKind.Payees or ImportKind.Terms or ImportKind.Adjustments or ImportKind.Rates;

    /// <summary>What a file is as a difference that is shown first.</summary>
    /// <exception cref="ArgumentOutOfRangeException">It is none.</exception>
    public static BulkKind Bulk(this ImportKind kind) => kind switch
    {
        ImportKind.Products => BulkKind.Products,
        ImportKind.Payees => BulkKind.Payees,
        ImportKind.Terms => BulkKind.Terms,
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, null),
    };

    /// <summary>The columns that a file of a kind has.</summary>
    public static CsvColumns Columns(this ImportKind kind) => kind switch
    {
        ImportKind.Orders => OrdersCsv.Columns,
        ImportKind.Refunds => RefundsCsv.Columns,
        ImportKind.Products => ProductsFile.Columns,
        ImportKind.Payees => PayeesFile.Columns,
        ImportKind.Settlement => SettlementCsv.Columns,
        ImportKind.Statement => StatementCsv.Columns,
        ImportKind.Outside => OutsideCsv.Columns,
        ImportKind.Terms => TermsFile.Columns,
        ImportKind.Adjustments => AdjustmentsCsv.Columns,
        ImportKind.Rates => RatesCsv.Columns,
        _ => ClicksCsv.Columns,
    };
}
