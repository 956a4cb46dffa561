namespace EvenSplit.Formats.Csv;

/// <summary>What is wrong with one cell: where, what was there, what was expected.</summary>
/// <param name="Column">Empty where the fault is of the whole row.</param>
public sealed record RowFault(long Row, string Column, string Value, string Expected)
{
    public override string ToString() => Column.Length == 0
        ? Expected
        : Value.Length == 0 ? $"{Column} is empty; expected {Expected}" : $"{Column} '{Shortened}': expected {Expected}";

    private string Shortened => Value.Length <= 60 ? Value : Value[..57] + "…";
}
