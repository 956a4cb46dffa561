using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace EvenSplit.Formats;

/// <summary>Names and addresses out of a CSV file of any origin that has a column of e-mail addresses.</summary>
public static class ContactList
{
    /// <summary>Lines without an address are passed over; without a column of addresses there are none.</summary>
    public static IEnumerable<(string Name, string Email)> Read(string content)
    {
        var configuration = new CsvConfiguration(CultureInfo.InvariantCulture) { DetectDelimiter = true, BadDataFound = null, MissingFieldFound = null, TrimOptions = TrimOptions.Trim };
        using var rows = new CsvReader(new StringReader(content.TrimStart('\uFEFF')), configuration);
        if (!rows.Read() || !rows.ReadHeader()) yield break;
        int ColumnOf(string name) => Array.FindIndex(rows.HeaderRecord!, h => string.Equals(h.Replace("-", "", StringComparison.Ordinal).Trim(), name, StringComparison.OrdinalIgnoreCase));
        var (email, name) = (ColumnOf("email"), ColumnOf("name"));
        if (email < 0) yield break;
        while (rows.Read())
        {
            if (rows.GetField(email) is { Length: > 0 } address) yield return (name < 0 ? "" : rows.GetField(name) ?? "", address);
        }
    }
}
