namespace EvenSplit.Books.Model;

/// <summary>A buyer who was made unknown: a report that names them again is taken as one of the same unknown buyer.</summary>
public sealed class UnknownBuyerRecord
{
    /// <summary>A keyed hash of what the shop knew them by; the key is a file among the book's keys.</summary>
    public required string KeyHash { get; set; }
    /// <summary>What stands in its place.</summary>
    public required string Replacement { get; set; }
}
