namespace EvenSplit.Core;

/// <summary>Fees, rebate and cost of one order: actual where known, else by the schedules (contract, section 2).</summary>
internal readonly struct FeeSchedules(Rulebook rules, Order order, ICollection<CalculationException> exceptions)
{
    // An unpaid order's totals are converted as of its placing.
    private readonly DateOnly _date = rules.Policy.Time.DateOf(order.PaidAt ?? order.PlacedAt);

    public (long Fee, FeeSource Source) Processing(long charged)
    {
        if (order.ProcessingFee is { } actual) return (actual, FeeSource.Actual);
        if (order.Processor is not { } id) return (0, FeeSource.None);
        if (rules.FindProcessor(id)?.On(_date) is not { } schedule)
        {
            exceptions.Add(new CalculationException(ExceptionCode.FeeMissing, order.Id));
            return (0, FeeSource.Missing);
        }
        var part = ((Fraction)charged * schedule.FeeRate).Round();
        return (part + ConvertOrZero(schedule.FeeFixed, schedule.Currency), FeeSource.Schedule);
    }

    public (long Fee, FeeSource Source) Channel(long goodsNet)
    {
        if (order.ChannelFee is { } actual) return (actual, FeeSource.Actual);
        if (rules.FindChannel(order.Channel)?.On(_date) is not { } schedule) return (0, FeeSource.None);
        var part = ((Fraction)goodsNet * schedule.FeeRate).Round();
        return (part + ConvertOrZero(schedule.FeeFixed, schedule.Currency), FeeSource.Schedule);
    }

    public long Rebate(long goodsNet, bool attributed)
    {
        if (order.Rebate is { } actual) return actual;
        return attributed && rules.FindChannel(order.Channel)?.On(_date) is { } schedule
            ? ((Fraction)goodsNet * schedule.RebateRate).Round()
            : 0;
    }

    /// <summary>The cost of so many units, converted once; 0 where none is known.</summary>
    public long Cost(Product product, long quantity)
    {
        var (unitCost, currency) = product.LaterCosts.Count == 0 ? (product.UnitCost, product.CostCurrency) : product.UnitCostOn(rules.Policy.Time.DateOf(order.PlacedAt));
        return unitCost is { } cost ? ConvertOrZero(cost * quantity, currency) : 0;
    }

    private long ConvertOrZero(long minor, Currency from)
    {
        if (rules.Rates.Convert(minor, from, order.Currency, _date) is { } converted) return converted;
        exceptions.Add(new CalculationException(ExceptionCode.RateMissing, order.Id));
        return 0;
    }
}
