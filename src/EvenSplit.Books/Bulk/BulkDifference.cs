using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Bulk;

public enum DifferenceKind { Added, Changed, Gone }

/// <summary>What a file would change about one thing.</summary>
/// <param name="Subject">The product, or the agreement and payee.</param>
/// <param name="Parts">Each thing said: what it is, what it was, what it becomes; empty where there was or will be nothing.</param>
public sealed record BulkDifference(DifferenceKind Kind, string Subject, IReadOnlyList<(string What, string From, string To)> Parts);

/// <summary>What a whole file would change, or every fault in it.</summary>
/// <param name="Same">How many things of the file are in the book just so.</param>
public sealed record BulkDifferences(IReadOnlyList<BulkDifference> Differences, int Same, IReadOnlyList<RowFault> Faults, IReadOnlyList<string> ExtraColumns);
