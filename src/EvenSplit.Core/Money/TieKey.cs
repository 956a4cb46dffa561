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
        _hash = Mix(Mix(Mix(Mix(Mix(offsetBasis, payee.Value), (byte)'/'), order.Value), (byte)'/'), line.Value);
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
        foreach (var letter in text)
        {
            if (!char.IsAscii(letter)) return MixBytes(hash, Encoding.UTF8.GetBytes(text));
        }
        foreach (var letter in text) hash = Mix(hash, (byte)letter);
        return hash;
    }

    private static uint MixBytes(uint hash, byte[] text)
    {
        foreach (var one in text) hash = Mix(hash, one);
        return hash;
    }

    private static uint Mix(uint hash, byte one)
    {
        const uint prime = 16777619;
        return unchecked((hash ^ one) * prime);
    }
}

/// <summary>The tie keys of those who share in something. They are asked for only where there is a tie.</summary>
public interface ITies
{
    /// <param name="index">Position among those who share, from 0.</param>
    TieKey Of(int index);
}
