using System.Globalization;

namespace EvenSplit.Books.Record;

/// <summary>The record as a table: a row for each field that changed.</summary>
public static class RecordTable
{
    public static IReadOnlyList<string> Header { get; } = ["number", "at", "by", "from_where", "action", "subject", "of", "field", "from", "to"];

    public static IEnumerable<IReadOnlyList<string>> Rows(IEnumerable<RecordRow> rows) => rows.SelectMany(r => r.Changes.DefaultIfEmpty(new RecordedChange("", "", null, null)).Select(c => (string[])
    [
        r.Id.ToString(CultureInfo.InvariantCulture), r.At.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture), r.By, r.Origin, r.Action, r.Subject, c.Of, c.Field, c.From ?? "", c.To ?? "",
    ]));
}
