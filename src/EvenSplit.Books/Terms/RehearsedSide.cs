using System.Runtime.InteropServices;
using EvenSplit.Core;

namespace EvenSplit.Books.Terms;

/// <summary>Something earned or taken back on a compared order.</summary>
/// <param name="Order">Which of the compared orders.</param>
/// <param name="IsSale">Whether it stems from the sale, not from a refund.</param>
internal readonly record struct EarnedAmount(int Order, string Product, string Payee, Money Amount, bool IsSale);

/// <summary>One side of a rehearsal, what is posted or what would be: all that is earned, summed by payee, by product and by order.</summary>
internal sealed class RehearsedSide
{
    private readonly EarnedAmount[] _amounts;
    private readonly Func<int, Money, long> _inOrderCurrency;
    private readonly Dictionary<Currency, Dictionary<string, long>> _byPayee = [];
    private readonly Dictionary<Currency, Dictionary<string, long>> _byProduct = [];
    private readonly long[] _byOrder;

    /// <param name="orders">How many orders there are, compared or not.</param>
    /// <param name="inOrderCurrency">Minor units of an order's currency; 0 where there is no rate.</param>
    public RehearsedSide(EarnedAmount[] amounts, int orders, Func<int, Money, long> inOrderCurrency)
    {
        (_amounts, _inOrderCurrency, _byOrder) = (amounts, inOrderCurrency, new long[orders]);
        foreach (ref readonly var earned in amounts.AsSpan())
        {
            Count(_byPayee, earned.Amount, earned.Payee);
            Count(_byProduct, earned.Amount, earned.Product);
            _byOrder[earned.Order] += inOrderCurrency(earned.Order, earned.Amount);
        }
    }

    /// <summary>What all payees earn on an order, refunds taken off, in minor units of its currency.</summary>
    public long OnOrder(int order) => _byOrder[order];

    public static IReadOnlyList<RehearsedRow> ByPayee(RehearsedSide then, RehearsedSide now) => Rows(then._byPayee, now._byPayee);

    public static IReadOnlyList<RehearsedRow> ByProduct(RehearsedSide then, RehearsedSide now) => Rows(then._byProduct, now._byProduct);

    /// <summary>What each payee earns at the sale on some of the orders, in these orders' currency.</summary>
    public Dictionary<(int Order, string Payee), long> AtSale(HashSet<int> orders)
    {
        var shares = new Dictionary<(int, string), long>();
        foreach (ref readonly var earned in _amounts.AsSpan())
        {
            if (!earned.IsSale || !orders.Contains(earned.Order)) continue;
            CollectionsMarshal.GetValueRefOrAddDefault(shares, (earned.Order, earned.Payee), out _) += _inOrderCurrency(earned.Order, earned.Amount);
        }
        return shares;
    }

    private static void Count(Dictionary<Currency, Dictionary<string, long>> sums, Money amount, string id)
    {
        if (!sums.TryGetValue(amount.Currency, out var own)) sums[amount.Currency] = own = [];
        CollectionsMarshal.GetValueRefOrAddDefault(own, id, out _) += amount.Minor;
    }

    /// <summary>Those that differ, the largest difference first.</summary>
    private static RehearsedRow[] Rows(Dictionary<Currency, Dictionary<string, long>> then, Dictionary<Currency, Dictionary<string, long>> now)
    {
        var rows = new List<RehearsedRow>();
        foreach (var currency in then.Keys.Union(now.Keys))
        {
            var (was, becomes) = (then.GetValueOrDefault(currency) ?? [], now.GetValueOrDefault(currency) ?? []);
            rows.AddRange(was.Keys.Union(becomes.Keys)
                .Select(id => new RehearsedRow(id, currency.Code, new ThenAndNow(was.GetValueOrDefault(id), becomes.GetValueOrDefault(id)))));
        }
        return rows.Where(r => r.Amount.Difference != 0)
            .OrderByDescending(r => Math.Abs(r.Amount.Difference)).ThenBy(r => r.Id, StringComparer.Ordinal).ThenBy(r => r.Currency, StringComparer.Ordinal).ToArray();
    }
}
