namespace EvenSplit.Core;

/// <summary>
/// In the order of their names, which is how exceptions are listed; what the contract does not know comes after (a price off plan and a
/// code without effect are for a person to look at, and no part of the calculation's result).
/// </summary>
public enum ExceptionCode { FeeMissing, OverCommitted, PayeeInactive, RateMissing, RefundExceeds, SelfReferral, PriceOffPlan, CodeWithoutEffect }

/// <summary>Something about an order or a payee that needs a person.</summary>
public sealed record CalculationException(ExceptionCode Code, OrderId? Order, LineId? Line = null, PayeeId? Payee = null)
{
    /// <summary>Each once, by code, order, line and payee; what names none of them comes before what does.</summary>
    public static CalculationException[] Listed(IEnumerable<CalculationException> exceptions)
    {
        var sorted = exceptions.ToArray();
        ExceptionsInOrder.Sort(sorted, Listing);
        var listed = 0;
        for (var i = 0; i < sorted.Length; i++)
        {
            if (listed == 0 || sorted[listed - 1] != sorted[i]) sorted[listed++] = sorted[i];
        }
        return sorted[..listed];
    }

    /// <summary>One more among those listed already, in its place; not where it is there.</summary>
    internal static void List(List<CalculationException> listed, CalculationException more)
    {
        var place = listed.BinarySearch(more, ByListing);
        if (place < 0) listed.Insert(~place, more);
    }

    private static readonly Comparer<CalculationException> ByListing = Comparer<CalculationException>.Create(Listing);

    private static int Listing(CalculationException a, CalculationException b)
    {
        var byCode = (int)a.Code - (int)b.Code;
        if (byCode != 0) return byCode;
        var byOrder = IdOrder.Compare(a.Order?.Value ?? "", b.Order?.Value ?? "");
        if (byOrder != 0) return byOrder;
        var byLine = IdOrder.Compare(a.Line?.Value ?? "", b.Line?.Value ?? "");
        return byLine != 0 ? byLine : IdOrder.Compare(a.Payee?.Value ?? "", b.Payee?.Value ?? "");
    }
}
