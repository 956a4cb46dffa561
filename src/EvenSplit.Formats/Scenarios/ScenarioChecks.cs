using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>The ids a scenario declares, for whatever refers to them.</summary>
internal sealed record DeclaredIds(
    HashSet<string> Products, Dictionary<string, string> ProductByVariant, HashSet<string> Payees, Dictionary<string, AgreementDocument> Agreements) : IKnownIds
{
    public bool HasProduct(ProductId id) => Products.Contains(id.Value);

    public ProductId? ProductOf(VariantId variant) => ProductByVariant.TryGetValue(variant.Value, out var product) ? new ProductId(product) : null;

    public bool HasPayee(PayeeId id) => Payees.Contains(id.Value);

    public static DeclaredIds Of(ScenarioDocument scenario)
    {
        var variants = new Dictionary<string, string>();
        foreach (var product in scenario.Products)
        {
            foreach (var variant in product.Variants ?? []) variants.TryAdd(variant, product.Id);
        }
        var agreements = new Dictionary<string, AgreementDocument>();
        foreach (var agreement in scenario.Agreements) agreements.TryAdd(agreement.Id, agreement);
        return new DeclaredIds([.. scenario.Products.Select(p => p.Id)], variants, [.. scenario.Payees.Select(p => p.Id)], agreements);
    }
}

/// <summary>Everything the contract's section 10 calls a fault, in a file whose fields have the right form.</summary>
internal static class ScenarioChecks
{
    /// <param name="sales">Its orders and refunds.</param>
    /// <param name="areOfDocument">Whether they were made of those in the document; else they were read straight, and it has none.</param>
    public static void Check(ScenarioDocument scenario, (Order[] Orders, Refund[] Refunds) sales, bool areOfDocument, FaultList faults)
    {
        var ids = DeclaredIds.Of(scenario);
        Book(scenario.Book, faults);
        Rates(scenario.Rates ?? [], faults);
        Processors(scenario.Processors ?? [], faults);
        Channels(scenario.Channels ?? [], faults);
        Products(scenario.Products, ids, faults);
        PayeeChecks.Check(scenario.Payees, ids, faults);
        AgreementChecks.Check(scenario.Agreements, ids, faults);
        var indexes = OrderChecks.Check(sales.Orders, areOfDocument ? scenario.Orders : null, ids, faults);
        RefundChecks.Check(sales.Refunds, sales.Orders, indexes, areOfDocument ? scenario.Refunds : null, faults);
        Adjustments(scenario.Adjustments ?? [], ids, faults);
        Runs(scenario.Runs ?? [], ids, faults);
    }

    private static void Book(BookDocument book, FaultList faults)
    {
        faults.CurrencyAt("$.book.currency", book.Currency);
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(book.TimeZone, out _)) faults.Add("$.book.timeZone", $"'{book.TimeZone}' is not a time zone such as Europe/Dublin.");
        faults.WordAt<ClickModel>("$.book.clickModel", book.ClickModel);
    }

    private static void Rates(IReadOnlyList<RateDocument> rates, FaultList faults)
    {
        var seen = new HashSet<(DateOnly, string, string)>();
        for (var i = 0; i < rates.Count; i++)
        {
            var (place, rate) = ($"$.rates[{i}]", rates[i]);
            faults.CurrencyAt(place + ".from", rate.From);
            faults.CurrencyAt(place + ".to", rate.To);
            if (!Rate.TryParse(rate.Rate, out var value)) faults.Add(place + ".rate", ValueFaults.NoRate(rate.Rate));
            else if (value.Millionths == 0) faults.Add(place + ".rate", "an exchange rate is above 0.");
            if (!seen.Add((rate.Date, rate.From, rate.To))) faults.Add(place, $"there is a rate from {rate.From} to {rate.To} on {rate.Date:yyyy-MM-dd} already.");
            if (rate.From == rate.To) faults.Add(place + ".to", $"a rate leads from one currency to another, not from {rate.From} to itself.");
        }
    }

    private static void Processors(IReadOnlyList<ProcessorDocument> processors, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < processors.Count; i++)
        {
            var (place, processor) = ($"$.processors[{i}]", processors[i]);
            if (!seen.Add(processor.Id)) faults.TwiceAt(place + ".id", "processor", processor.Id);
            faults.NotEmptyAt(place + ".id", processor.Id);
            faults.ShareAt(place + ".rate", processor.Rate);
            faults.MoneyAt(place + ".fixed", processor.Fixed);
            faults.CurrencyAt(place + ".currency", processor.Currency);
        }
    }

    private static void Channels(IReadOnlyList<ChannelDocument> channels, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < channels.Count; i++)
        {
            var (place, channel) = ($"$.channels[{i}]", channels[i]);
            if (!seen.Add(channel.Id)) faults.TwiceAt(place + ".id", "channel", channel.Id);
            faults.NotEmptyAt(place + ".id", channel.Id);
            faults.ShareAt(place + ".feeRate", channel.FeeRate);
            faults.MoneyAt(place + ".feeFixed", channel.FeeFixed);
            faults.CurrencyAt(place + ".currency", channel.Currency);
            faults.ShareAt(place + ".rebateRate", channel.RebateRate);
        }
    }

    private static void Products(IReadOnlyList<ProductDocument> products, DeclaredIds ids, FaultList faults)
    {
        var (seen, variants) = (new HashSet<string>(), new HashSet<string>());
        for (var i = 0; i < products.Count; i++)
        {
            var (place, product) = ($"$.products[{i}]", products[i]);
            if (!seen.Add(product.Id)) faults.TwiceAt(place + ".id", "product", product.Id);
            faults.NotEmptyAt(place + ".id", product.Id);
            for (var v = 0; v < product.Variants?.Count; v++)
            {
                if (!variants.Add(product.Variants[v])) faults.TwiceAt($"{place}.variants[{v}]", "variant", product.Variants[v]);
                faults.NotEmptyAt($"{place}.variants[{v}]", product.Variants[v]);
            }
            for (var c = 0; c < product.Collections?.Count; c++) faults.NotEmptyAt($"{place}.collections[{c}]", product.Collections[c]);
            if (product.Vendor is { } vendor && !ids.Payees.Contains(vendor)) faults.UnknownAt(place + ".vendor", "payee", vendor);
            faults.MoneyAt(place + ".unitCost", product.UnitCost);
            faults.CurrencyAt(place + ".costCurrency", product.CostCurrency);
            faults.CountAt(place + ".returnDays", product.ReturnDays);
        }
    }

    private static void Adjustments(IReadOnlyList<AdjustmentDocument> adjustments, DeclaredIds ids, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < adjustments.Count; i++)
        {
            var (place, adjustment) = ($"$.adjustments[{i}]", adjustments[i]);
            if (!seen.Add(adjustment.Id)) faults.TwiceAt(place + ".id", "adjustment", adjustment.Id);
            faults.NotEmptyAt(place + ".id", adjustment.Id);
            if (!ids.Payees.Contains(adjustment.Payee)) faults.UnknownAt(place + ".payee", "payee", adjustment.Payee);
            if (adjustment.Amount is < -Money.MaxMinor or > Money.MaxMinor) faults.Add(place + ".amount", $"{adjustment.Amount} is beyond ±{Money.MaxMinor}.");
            faults.CurrencyAt(place + ".currency", adjustment.Currency);
        }
    }

    private static void Runs(IReadOnlyList<RunDocument> runs, DeclaredIds ids, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < runs.Count; i++)
        {
            var (place, run) = ($"$.runs[{i}]", runs[i]);
            if (!seen.Add(run.Id)) faults.TwiceAt(place + ".id", "run", run.Id);
            faults.NotEmptyAt(place + ".id", run.Id);
            var served = new HashSet<string>();
            for (var p = 0; p < run.Payees?.Count; p++)
            {
                var payee = run.Payees[p];
                if (!ids.Payees.Contains(payee)) faults.UnknownAt($"{place}.payees[{p}]", "payee", payee);
                else if (!served.Add(payee)) faults.Add($"{place}.payees[{p}]", $"payee '{payee}' is in this run already.");
            }
        }
    }
}
