namespace EvenSplit.Core;

/// <summary>Orders ids by their UTF-8 bytes (contract, section 1).</summary>
public static class IdOrder
{
    /// <summary>Compares as if both were written in UTF-8. Only surrogate pairs sort differently in UTF-16.</summary>
    public static int Compare(string a, string b)
    {
        var shared = a.AsSpan().CommonPrefixLength(b);
        if (shared == a.Length || shared == b.Length) return a.Length - b.Length;
        var aIsPair = char.IsSurrogate(a[shared]);
        var bIsPair = char.IsSurrogate(b[shared]);
        return aIsPair == bIsPair ? a[shared] - b[shared] : aIsPair ? 1 : -1;
    }

    public static IComparer<string> Comparer { get; } = Comparer<string>.Create(Compare);
}

public readonly record struct PayeeId(string Value) : IComparable<PayeeId>
{
    public int CompareTo(PayeeId other) => IdOrder.Compare(Value, other.Value);
    public override string ToString() => Value;
}

public readonly record struct AgreementId(string Value) : IComparable<AgreementId>
{
    public int CompareTo(AgreementId other) => IdOrder.Compare(Value, other.Value);
    public override string ToString() => Value;
}

public readonly record struct OrderId(string Value) : IComparable<OrderId>
{
    public int CompareTo(OrderId other) => IdOrder.Compare(Value, other.Value);
    public override string ToString() => Value;
}

public readonly record struct LineId(string Value) : IComparable<LineId>
{
    public int CompareTo(LineId other) => IdOrder.Compare(Value, other.Value);
    public override string ToString() => Value;
}

public readonly record struct RefundId(string Value) : IComparable<RefundId>
{
    public int CompareTo(RefundId other) => IdOrder.Compare(Value, other.Value);
    public override string ToString() => Value;
}

public readonly record struct RunId(string Value) : IComparable<RunId>
{
    public int CompareTo(RunId other) => IdOrder.Compare(Value, other.Value);
    public override string ToString() => Value;
}

public readonly record struct ProductId(string Value)
{
    public override string ToString() => Value;
}

public readonly record struct VariantId(string Value)
{
    public override string ToString() => Value;
}

public readonly record struct CollectionId(string Value)
{
    public override string ToString() => Value;
}

public readonly record struct ProcessorId(string Value)
{
    public override string ToString() => Value;
}

public readonly record struct ChannelId(string Value)
{
    public override string ToString() => Value;
}
