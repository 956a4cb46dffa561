using EvenSplit.Core;

namespace EvenSplit.Books.Checking;

/// <summary>A control total: one sum per currency, in minor units.</summary>
internal sealed class SumsByCurrency
{
    private readonly SortedDictionary<string, Int128> _sums = new(StringComparer.Ordinal);

    public void Add(string currency, long minor) => _sums[currency] = _sums.GetValueOrDefault(currency) + minor;

    public override string ToString()
    {
        var shown = _sums.Where(s => s.Value != 0).Select(s => Int128.Abs(s.Value) < long.MaxValue ? new Money((long)s.Value, Currency.Of(s.Key)).InWords() : $"{s.Key} beyond all figures").ToArray();
        return shown.Length == 0 ? "nothing" : string.Join(", ", shown);
    }
}
