using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>What is wrong with one cell: where, what was there, what was expected.</summary>
/// <param name="Column">Empty where the fault is of the whole row.</param>
public sealed record RowFault(long Row, string Column, string Value, string Expected)
{
    /// <summary>The order whose coming mends it; null where somebody has to.</summary>
    public OrderId? WaitsFor { get; init; }

    /// <summary>Whether <see cref="Expected"/> is a sentence of its own, that says what is wrong and what to do.</summary>
    public bool IsSentence { get; init; }

    public override string ToString() => Column.Length == 0
        ? Expected
        : IsSentence ? Value.Length == 0 ? $"{Column}: {Expected}" : $"{Column} '{Shortened}': {Expected}" : Value.Length == 0 ? $"{Column} is empty; expected {Expected}" : $"{Column} '{Shortened}': expected {Expected}";

    private string Shortened => Value.Length <= 60 ? Value : Value[..57] + "…";
}
