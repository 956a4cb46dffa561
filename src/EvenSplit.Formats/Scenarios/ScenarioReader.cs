using System.Buffers;
using System.Text;
using System.Text.Json;
using System.Text.Unicode;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Reads a scenario file into the facts the core works from.</summary>
public static class ScenarioReader
{
    /// <summary>In bytes: from here on a copy in memory would weigh beside what is read from it.</summary>
    private const int LargeFile = 64 << 20;

    /// <exception cref="ScenarioFaultException">Not a valid scenario; every fault is named with its place.</exception>
    public static Facts Read(Stream json)
    {
        if (json is not FileStream { CanSeek: true, Position: 0, Length: >= LargeFile and <= int.MaxValue } file) return Read(Bytes(json));
        using IMemoryOwner<byte> mapped = new MappedFile(file.SafeFileHandle, (int)file.Length);
        return Read(mapped.Memory);
    }

    private static Facts Read(ReadOnlyMemory<byte> json)
    {
        var bytes = WithoutMark(json);
        if (!Utf8.IsValid(bytes.Span)) throw new ScenarioFaultException([new ScenarioFault("$", $"byte {FirstUnreadable(bytes.Span)} is not UTF-8; save the file as UTF-8.")]);
        return Straight(bytes) ?? WithFaults(bytes);
    }

    /// <returns>Null where something is not as it must be.</returns>
    private static Facts? Straight(ReadOnlyMemory<byte> json)
    {
        using var orderList = new ListSideBySide<Order>("orders", OrderReader.Read);
        using var refundList = new ListSideBySide<Refund>("refunds", RefundReader.Read);
        try
        {
            if (LongLists.TakeOut(json, orderList, refundList) is not { } rest || !orderList.IsFound) return null;
            var (orders, refunds) = (orderList.Items(), refundList.Items());
            if (Parse(rest.Span) is not { Refunds: null or { Count: 0 } } scenario || scenario.HasHoles()) return null;
            var faults = new FaultList();
            ScenarioChecks.Check(scenario, (orders, refunds), areOfDocument: false, faults);
            return faults.Faults.Count == 0 ? ToFacts(scenario, orders, refunds) : null;
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException)
        {
            return null;
        }
    }

    /// <summary>The slower way, by documents of which every fault can be told.</summary>
    private static Facts WithFaults(ReadOnlyMemory<byte> json)
    {
        var faults = new FaultList();
        var scenario = Document(json) ?? ScenarioShape.Mend(json, faults);
        if (scenario is null) throw new ScenarioFaultException(faults.Faults);
        var orders = scenario.Orders.Select(ToOrder).ToArray();
        var refunds = (scenario.Refunds ?? []).Select(ToRefund).ToArray();
        ScenarioChecks.Check(scenario, (orders, refunds), areOfDocument: true, faults);
        return faults.Faults.Count == 0 ? ToFacts(scenario, orders, refunds) : throw new ScenarioFaultException(faults.Faults);
    }

    private static ReadOnlyMemory<byte> WithoutMark(ReadOnlyMemory<byte> bytes) =>
        bytes.Span.StartsWith(Encoding.UTF8.Preamble) ? bytes[Encoding.UTF8.Preamble.Length..] : bytes;

    /// <summary>Counted from 0.</summary>
    private static int FirstUnreadable(ReadOnlySpan<byte> bytes)
    {
        var at = 0;
        while (Rune.DecodeFromUtf8(bytes[at..], out _, out var length) == OperationStatus.Done) at += length;
        return at;
    }

    private static ReadOnlyMemory<byte> Bytes(Stream json)
    {
        if (json is MemoryStream held && held.TryGetBuffer(out var buffer)) return buffer;
        using var copy = new MemoryStream(json.CanSeek ? (int)Math.Min(json.Length, Array.MaxLength) : 0);
        try
        {
            json.CopyTo(copy);
        }
        catch (Exception tooLong) when (tooLong is IOException or OutOfMemoryException)
        {
            throw new ScenarioFaultException([new ScenarioFault("$", "a scenario holds at most 2 GB.")]);
        }
        return new ReadOnlyMemory<byte>(copy.GetBuffer(), 0, (int)copy.Length);
    }

    /// <returns>Null where some field has not the form it must have.</returns>
    private static ScenarioDocument? Document(ReadOnlyMemory<byte> json)
    {
        try
        {
            return Parse(json.Span) is { } scenario && !scenario.HasHoles() ? scenario : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static Facts ToFacts(ScenarioDocument scenario, Order[] orders, Refund[] refunds)
    {
        var book = Currency.Of(scenario.Book.Currency);
        var policy = new BookPolicy(
            book, BookTime.Of(scenario.Book.TimeZone), Words.Read<ClickModel>(scenario.Book.ClickModel), scenario.Book.AllowSelfReferral ?? false);
        var rules = new Rulebook(
            policy,
            new ExchangeRates(book, (scenario.Rates ?? []).Select(r => new ExchangeRate(r.Date, Currency.Of(r.From), Currency.Of(r.To), Rate.Parse(r.Rate)))),
            (scenario.Processors ?? []).Select(p => new Processor(new ProcessorId(p.Id), Rate.Parse(p.Rate), p.Fixed, Currency.Of(p.Currency))),
            (scenario.Channels ?? []).Select(c => new Channel(
                new ChannelId(c.Id), Rate.Parse(c.FeeRate ?? "0"), c.FeeFixed ?? 0, Currency.Of(c.Currency ?? book.Code), Rate.Parse(c.RebateRate ?? "0"))),
            scenario.Products.Select(p => ToProduct(p, book)),
            scenario.Payees.Select(ToPayee),
            scenario.Agreements.Select(a => new Agreement(
                new AgreementId(a.Id), Words.Read<Basis>(a.Basis), Currency.Of(a.Currency), a.Versions.Select(VersionDocuments.ToVersion))));
        return new Facts(
            rules,
            orders,
            refunds,
            (scenario.Adjustments ?? []).Select(a => new Adjustment(
                a.Id, new PayeeId(a.Payee), a.On, new Money(a.Amount, Currency.Of(a.Currency)), a.Note)).ToArray(),
            (scenario.Runs ?? []).Select(r => new RunRequest(
                new RunId(r.Id), r.AsOf, r.Payees?.Select(p => new PayeeId(p)).ToArray())).ToArray());
    }

    /// <summary>The JSON into the types of the file, with nothing looked at yet.</summary>
    /// <exception cref="JsonException">Some field has not the form it must have.</exception>
    internal static ScenarioDocument? Parse(ReadOnlySpan<byte> json) => JsonSerializer.Deserialize(json, ScenarioJson.Of<ScenarioDocument>());

    private static Product ToProduct(ProductDocument product, Currency book) => new()
    {
        Id = new ProductId(product.Id),
        Variants = (product.Variants ?? []).Select(v => new VariantId(v)).ToArray(),
        Collections = (product.Collections ?? []).Select(c => new CollectionId(c)).ToArray(),
        Vendor = product.Vendor is { } vendor ? new PayeeId(vendor) : null,
        UnitCost = product.UnitCost,
        CostCurrency = product.CostCurrency is { } currency ? Currency.Of(currency) : book,
        ReturnDays = product.ReturnDays ?? 0,
    };

    private static Payee ToPayee(PayeeDocument payee) => new()
    {
        Id = new PayeeId(payee.Id),
        Role = Words.Read<PayeeRole>(payee.Role),
        PayoutCurrency = Currency.Of(payee.PayoutCurrency),
        ActiveFrom = payee.ActiveFrom,
        ActiveTo = payee.ActiveTo,
        Codes = (payee.Codes ?? []).Select(c => new PayeeCode(c.Code, c.From, c.To)).ToArray(),
        CustomerKeys = payee.CustomerKeys ?? [],
        RecruitedBy = payee.RecruitedBy is { } recruiter ? new PayeeId(recruiter) : null,
        HoldDays = payee.HoldDays,
        OnHold = payee.OnHold ?? false,
        Minimum = payee.Minimum ?? 0,
        WithholdingPercent = Rate.Parse(payee.WithholdingPercent ?? "0"),
        TransferFee = payee.TransferFee ?? 0,
        FreeTransfers = payee.FreeTransfers ?? 0,
        Advances = (payee.Advances ?? []).Select(a => new Advance(a.Id, a.On, a.Amount)).ToArray(),
        RecoupPercent = Rate.Parse(payee.RecoupPercent ?? "0"),
        Memberships = payee.Agreements.Select(m => new Membership(new AgreementId(m.Id), m.From, m.To) { Products = m.Products?.Select(p => new ProductId(p)).ToArray() }).ToArray(),
        PersonalTerms = (payee.PersonalTerms ?? []).Select(p => new PersonalTerm(
            new AgreementId(p.Agreement), p.From, p.To, VersionDocuments.ToTerm(p.Scope, p.Cases))).ToArray(),
    };

    /// <summary>Words that there are not, which the checks tell, are read as left out.</summary>
    internal static Order ToOrder(OrderDocument order) => new()
    {
        Id = new OrderId(order.Id),
        Channel = new ChannelId(order.Channel),
        Currency = Currency.TryOf(order.Currency, out var currency) ? currency : default,
        PlacedAt = order.PlacedAt,
        PaidAt = order.PaidAt,
        Processor = order.Processor is { } processor ? new ProcessorId(processor) : null,
        IsTest = order.Test ?? false,
        PricesIncludeTax = order.PricesIncludeTax ?? false,
        Customer = Words.TryRead<CustomerKind>(order.Customer, out var customer) ? customer : default,
        CustomerKey = order.CustomerKey,
        Origin = order.OriginOrderId is { } origin ? new OrderId(origin) : null,
        SignedOffAt = order.SignedOffAt,
        Discount = order.Discount ?? 0,
        Shipping = order.Shipping?.Amount ?? 0,
        ShippingTax = order.Shipping?.Tax ?? 0,
        ProcessingFee = order.ProcessingFee,
        ChannelFee = order.ChannelFee,
        Rebate = order.Rebate,
        ManualPayee = order.ManualPayee is { } payee ? new PayeeId(payee) : null,
        Codes = order.Codes ?? [],
        Clicks = (order.Clicks ?? []).Select(c => new Click(new PayeeId(c.Payee), c.At)).ToArray(),
        Lines = order.Lines.Select(l => new OrderLine
        {
            Id = new LineId(l.Id),
            Product = new ProductId(l.Product),
            Variant = l.Variant is { } variant ? new VariantId(variant) : null,
            Quantity = l.Quantity,
            UnitPrice = l.UnitPrice,
            Discount = l.Discount ?? 0,
            Tax = l.Tax ?? 0,
            RequiresShipping = l.RequiresShipping ?? false,
            PaymentNumber = l.PaymentNumber,
        }).ToArray(),
    };

    /// <inheritdoc cref="ToOrder"/>
    internal static Refund ToRefund(RefundDocument refund) => new()
    {
        Id = new RefundId(refund.Id),
        Order = new OrderId(refund.Order),
        At = refund.At,
        Kind = Words.TryRead<RefundKind>(refund.Kind, out var kind) ? kind : default,
        Shipping = refund.Shipping ?? 0,
        ShippingTax = refund.ShippingTax ?? 0,
        ProcessingFeeReturned = refund.ProcessingFeeReturned ?? 0,
        DisputeFee = refund.DisputeFee ?? 0,
        Lines = (refund.Lines ?? []).Select(l => new RefundLine(new LineId(l.Line), l.Quantity, l.Goods, l.Tax)).ToArray(),
    };
}
