using EvenSplit.Books.Model;

namespace EvenSplit.Books.Checking;

/// <summary>One thing that is not as it comes to.</summary>
/// <param name="Key">The id by which the subject is opened.</param>
public sealed record CheckDifference(CheckSubject Subject, string Key, string What, string Kept, string WorkedOut);

/// <summary>One comparison, with what is kept and what it comes to, each told as one figure.</summary>
/// <param name="Shown">The first of its differences.</param>
public sealed record CheckLine(string Name, string Kept, string WorkedOut, long Differences, IReadOnlyList<CheckDifference> Shown);

/// <summary>What came of checking a book.</summary>
/// <param name="Waiting">How many orders are still to be worked out again; their figures cannot be compared until then. Null where none wait.</param>
public sealed record CheckResult(IReadOnlyList<CheckLine> Lines, TimeSpan Took, long? Waiting)
{
    public long Differences => Lines.Sum(l => l.Differences);
}

/// <summary>Gathers the differences of one comparison.</summary>
internal sealed class Comparison(string name)
{
    /// <summary>So many are shown; all are counted.</summary>
    private const int MostShown = 100;

    private readonly List<CheckDifference> _shown = [];
    private long _found;

    public void Differ(CheckSubject subject, string key, string what, string kept, string workedOut)
    {
        if (_found++ < MostShown) _shown.Add(new CheckDifference(subject, key, what, kept, workedOut));
    }

    /// <summary>Notes a difference where two figures are not the same.</summary>
    public void Compare<T>(CheckSubject subject, string key, string what, T kept, T workedOut)
    {
        if (!EqualityComparer<T>.Default.Equals(kept, workedOut)) Differ(subject, key, what, Text(kept), Text(workedOut));
    }

    public CheckLine Line(string kept, string workedOut) => new(name, kept, workedOut, _found, _shown);

    public static string Text<T>(T value) => value switch
    {
        null => "nothing",
        DateOnly date => date == DateOnly.MaxValue ? "no day yet" : Core.MoneyWords.InWords(date),
        IFormattable text => text.ToString(null, System.Globalization.CultureInfo.InvariantCulture),
        _ => value.ToString() ?? "",
    };
}
