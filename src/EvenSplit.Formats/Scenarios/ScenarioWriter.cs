using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Writes facts as a scenario file (contract, section 10). What the file has no words for is left as it was first: a unit cost and a fee schedule
/// that changed have their first figures.
/// </summary>
public static class ScenarioWriter
{
    public static void Write(Facts facts, Stream output) => JsonSerializer.Serialize(output, ToDocument(facts), ScenarioJson.Of<ScenarioDocument>());

    /// <summary>What the facts say that the file cannot, a sentence each; what is worked out of the file then differs.</summary>
    public static IReadOnlyList<string> Unsaid(Facts facts) =>
    [
        .. facts.Rules.Products.Where(p => p.LaterCosts.Count > 0).Select(p => $"The unit cost of {p.Id} changes on {p.LaterCosts[0].From.InWords()}; the scenario has its first."),
        .. facts.Rules.Processors.Where(p => p.Later.Count > 0).Select(p => $"The fee schedule of {p.Id} changes on {p.Later[0].From.InWords()}; the scenario has its first."),
        .. facts.Rules.Channels.Where(c => c.Later.Count > 0).Select(c => $"The fee schedule of {c.Id} changes on {c.Later[0].From.InWords()}; the scenario has its first."),
    ];

    private static ScenarioDocument ToDocument(Facts facts) => new()
    {
        Book = new BookDocument
        {
            Currency = facts.Rules.Policy.Currency.Code,
            TimeZone = facts.Rules.Policy.Time.Zone.Id,
            ClickModel = Words.Write(facts.Rules.Policy.ClickModel),
            AllowSelfReferral = facts.Rules.Policy.AllowSelfReferral,
        },
        Rates = [.. facts.Rules.Rates.All.Select(r => new RateDocument(r.Date, r.From.Code, r.To.Code, r.Rate.ToString()))],
        Processors = [.. facts.Rules.Processors.Select(p => new ProcessorDocument(p.Id.Value, p.FeeRate.ToString(), p.FeeFixed, p.Currency.Code))],
        Channels = [.. facts.Rules.Channels.Select(c => new ChannelDocument { Id = c.Id.Value, FeeRate = c.FeeRate.ToString(), FeeFixed = c.FeeFixed, Currency = c.Currency.Code, RebateRate = c.RebateRate.ToString() })],
        Products = [.. facts.Rules.Products.Select(ToDocument)],
        Payees = [.. facts.Rules.Payees.Select(ToDocument)],
        Agreements = [.. facts.Rules.Agreements.Select(a => new AgreementDocument { Id = a.Id.Value, Basis = Words.Write(a.Basis), Currency = a.Currency.Code, Versions = [.. a.Versions.Select(VersionDocuments.ToDocument)] })],
        Orders = [.. facts.Orders.Select(ToDocument)],
        Refunds = [.. facts.Refunds.Select(ToDocument)],
        Adjustments = [.. facts.Adjustments.Select(a => new AdjustmentDocument(a.Id, a.Payee.Value, a.On, a.Amount.Minor, a.Amount.Currency.Code, a.Note))],
        Runs = [.. facts.Runs.Select(r => new RunDocument { Id = r.Id.Value, AsOf = r.AsOf, Payees = r.Payees?.Select(p => p.Value).ToArray() })],
    };

    private static ProductDocument ToDocument(Product product) => new()
    {
        Id = product.Id.Value,
        Variants = [.. product.Variants.Select(v => v.Value)],
        Collections = [.. product.Collections.Select(c => c.Value)],
        Vendor = product.Vendor?.Value,
        UnitCost = product.UnitCost,
        CostCurrency = product.CostCurrency.Code,
        ReturnDays = product.ReturnDays,
    };

    private static PayeeDocument ToDocument(Payee payee) => new()
    {
        Id = payee.Id.Value,
        Role = Words.Write(payee.Role),
        PayoutCurrency = payee.PayoutCurrency.Code,
        ActiveFrom = payee.ActiveFrom,
        ActiveTo = payee.ActiveTo,
        Codes = [.. payee.Codes.Select(c => new PayeeCodeDocument(c.Text, c.From, c.To))],
        CustomerKeys = payee.CustomerKeys,
        RecruitedBy = payee.RecruitedBy?.Value,
        HoldDays = payee.HoldDays,
        OnHold = payee.OnHold,
        Minimum = payee.Minimum,
        WithholdingPercent = payee.WithholdingPercent.ToString(),
        TransferFee = payee.TransferFee,
        FreeTransfers = payee.FreeTransfers,
        Advances = [.. payee.Advances.Select(a => new AdvanceDocument(a.Id, a.On, a.Amount))],
        RecoupPercent = payee.RecoupPercent.ToString(),
        Agreements = [.. payee.Memberships.Select(m => new MembershipDocument { Id = m.Agreement.Value, From = m.From, To = m.To, Products = m.Products?.Select(p => p.Value).ToArray() })],
        PersonalTerms = [.. payee.PersonalTerms.Select(t => VersionDocuments.ToDocument(t.Term) is var term
            ? new PersonalTermDocument { Agreement = t.Agreement.Value, From = t.From, To = t.To, Scope = term.Scope, Cases = term.Cases } : null!)],
    };

    private static OrderDocument ToDocument(Order order) => new()
    {
        Id = order.Id.Value,
        Channel = order.Channel.Value,
        Currency = order.Currency.Code,
        PlacedAt = order.PlacedAt,
        PaidAt = order.PaidAt,
        Processor = order.Processor?.Value,
        Test = order.IsTest,
        PricesIncludeTax = order.PricesIncludeTax,
        Customer = Words.Write(order.Customer),
        CustomerKey = order.CustomerKey,
        OriginOrderId = order.Origin?.Value,
        SignedOffAt = order.SignedOffAt,
        Discount = order.Discount,
        Shipping = new ShippingDocument(order.Shipping, order.ShippingTax),
        ProcessingFee = order.ProcessingFee,
        ChannelFee = order.ChannelFee,
        Rebate = order.Rebate,
        ManualPayee = order.ManualPayee?.Value,
        Codes = order.Codes,
        Clicks = [.. order.Clicks.Select(c => new ClickDocument(c.Payee.Value, c.At))],
        Lines = [.. order.Lines.Select(l => new OrderLineDocument
        {
            Id = l.Id.Value,
            Product = l.Product.Value,
            Variant = l.Variant?.Value,
            Quantity = l.Quantity,
            UnitPrice = l.UnitPrice,
            Discount = l.Discount,
            Tax = l.Tax,
            RequiresShipping = l.RequiresShipping,
            PaymentNumber = l.PaymentNumber,
        })],
    };

    private static RefundDocument ToDocument(Refund refund) => new()
    {
        Id = refund.Id.Value,
        Order = refund.Order.Value,
        At = refund.At,
        Kind = Words.Write(refund.Kind),
        Shipping = refund.Shipping,
        ShippingTax = refund.ShippingTax,
        ProcessingFeeReturned = refund.ProcessingFeeReturned,
        DisputeFee = refund.DisputeFee,
        Lines = [.. refund.Lines.Select(l => new RefundLineDocument(l.Line.Value, l.Quantity, l.Goods, l.Tax))],
    };
}
