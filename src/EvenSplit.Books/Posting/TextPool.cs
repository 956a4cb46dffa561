using System.Text;
using SQLitePCL;

namespace EvenSplit.Books.Posting;

/// <summary>Texts of columns, each made once for all rows that say the same: ids of payees, agreements and currencies stand in every row.</summary>
internal sealed class TextPool
{
    /// <summary>Longer ones are seldom said twice.</summary>
    private const int MostLetters = 64;

    private readonly HashSet<string>.AlternateLookup<ReadOnlySpan<char>> _known = new HashSet<string>(StringComparer.Ordinal).GetAlternateLookup<ReadOnlySpan<char>>();

    public string Text(sqlite3_stmt statement, int column)
    {
        var bytes = raw.sqlite3_column_blob(statement, column);
        if (bytes.Length > MostLetters) return Encoding.UTF8.GetString(bytes);
        Span<char> letters = stackalloc char[MostLetters];
        ReadOnlySpan<char> text = letters[..Encoding.UTF8.GetChars(bytes, letters)];
        if (_known.TryGetValue(text, out var known)) return known;
        _known.Add(text);
        return _known.TryGetValue(text, out known) ? known : text.ToString();
    }

    /// <summary>A date as the book writes it: 2026-10-31.</summary>
    public static DateOnly Date(sqlite3_stmt statement, int column)
    {
        var bytes = raw.sqlite3_column_blob(statement, column);
        return new DateOnly(Number(bytes[..4]), Number(bytes[5..7]), Number(bytes[8..10]));
    }

    private static int Number(ReadOnlySpan<byte> digits)
    {
        var number = 0;
        foreach (var digit in digits) number = (number * 10) + (digit - '0');
        return number;
    }
}
