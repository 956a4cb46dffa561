namespace EvenSplit.Books.Posting;

/// <summary>How many orders can be worked out at once on this machine.</summary>
internal static class OrdersInMemory
{
    /// <summary>Twice what an order takes while many are worked out, in bytes.</summary>
    private const long BytesOfAnOrder = 12_000;

    public static long Most => GC.GetGCMemoryInfo().TotalAvailableMemoryBytes / BytesOfAnOrder;
}
