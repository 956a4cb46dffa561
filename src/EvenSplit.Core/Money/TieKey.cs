using System.Text;

namespace EvenSplit.Core;

/// <summary>
/// Decides who gets an odd unit among payees (contract, section 1): FNV-1a 32-bit over the UTF-8 bytes of
/// <c>payeeId/orderId/lineId</c>, then payee id, then agreement id. It changes from line to line, so no payee is favoured.
/// </summary>
public readonly record struct TieKey : IComparable<TieKey>
{
    private readonly uint _hash;
    private readonly PayeeId _payee;
    private readonly AgreementId _agreement;

    public TieKey(PayeeId payee, OrderId order, LineId line, AgreementId agreement)
    {
        const uint offsetBasis = 2166136261;
        _hash = Mix(Mix(Mix(Mix(Mix(offsetBasis, payee.Value), "/"), order.Value), "/"), line.Value);
        _payee = payee;
        _agreement = agreement;
    }

    public int CompareTo(TieKey other)
    {
        var byHash = _hash.CompareTo(other._hash);
        if (byHash != 0) return byHash;
        var byPayee = _payee.CompareTo(other._payee);
        return byPayee != 0 ? byPayee : _agreement.CompareTo(other._agreement);
    }

    private static uint Mix(uint hash, string text)
    {
        const uint prime = 16777619;
        Span<byte> bytes = stackalloc byte[256];
        if (Encoding.UTF8.GetMaxByteCount(text.Length) > bytes.Length) bytes = Encoding.UTF8.GetBytes(text);
        else bytes = bytes[..Encoding.UTF8.GetBytes(text, bytes)];
        foreach (var b in bytes) hash = unchecked((hash ^ b) * prime);
        return hash;
    }
}
