using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.SettingAside;

/// <summary>The rows of one order, refund or line of others, read, with what keeps it out if anything does.</summary>
internal interface IRowGroup
{
    string Id { get; }
    IReadOnlyList<CsvRow> Rows { get; }
    List<RowFault> Faults { get; }
}
