using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Reads an order straight into what the core works from. It takes nothing that <see cref="OrderDocument"/> would not take, but does not say
/// where a fault is: a file with one is read again by way of the documents, which do.
/// </summary>
internal static class OrderReader
{
    // In the order of the contract, section 10.
    private enum Field
    {
        Id, Channel, Currency, PlacedAt, PaidAt, Processor, Test, PricesIncludeTax, Customer, CustomerKey, OriginOrderId, SignedOffAt, Discount, Shipping,
        ProcessingFee, ChannelFee, Rebate, ManualPayee, Codes, Clicks, Lines,
    }

    private enum LineField { Id, Product, Variant, Quantity, UnitPrice, Discount, Tax, RequiresShipping, PaymentNumber }

    private enum ShippingField { Amount, Tax }

    private enum ClickField { Payee, At }

    private const uint Required = 1 << (int)Field.Id | 1 << (int)Field.Channel | 1 << (int)Field.Currency | 1 << (int)Field.PlacedAt | 1 << (int)Field.Customer
        | 1 << (int)Field.Lines;

    private const uint RequiredOfLine = 1 << (int)LineField.Id | 1 << (int)LineField.Product | 1 << (int)LineField.Quantity | 1 << (int)LineField.UnitPrice;

    private const uint Both = 0b11;

    // A thread reads one list after another and gathers the items of each here.
    [ThreadStatic]
    private static (List<string> Codes, List<Click> Clicks, List<OrderLine> Lines)? t_items;

    /// <param name="json">One object and nothing else.</param>
    /// <exception cref="JsonException">Something in it is not as it must be.</exception>
    /// <exception cref="InvalidOperationException">A text is no text: half of a surrogate pair.</exception>
    public static Order Read(ReadOnlySpan<byte> json)
    {
        var reader = new Utf8JsonReader(json);
        reader.Read();
        reader.StartOf(JsonTokenType.StartObject);
        var (codes, clicks, lines) = t_items ??= ([], [], []);
        codes.Clear();
        clicks.Clear();
        lines.Clear();
        var (id, channel, currency, customer) = ("", "", default(Currency), default(CustomerKind));
        var placedAt = default(DateTimeOffset);
        DateTimeOffset? paidAt = null, signedOffAt = null;
        string? processor = null, customerKey = null, origin = null, manualPayee = null;
        bool test = false, pricesIncludeTax = false;
        long discount = 0, shipping = 0, shippingTax = 0;
        long? processingFee = null, channelFee = null, rebate = null;
        var fields = new JsonFields<Field>(Required);
        while (fields.Next(ref reader, out var field))
        {
            switch (field)
            {
                case Field.Id: id = reader.Text(); break;
                case Field.Channel: channel = RepeatedTexts.Read(ref reader); break;
                case Field.Currency: currency = reader.Currency(); break;
                case Field.PlacedAt: placedAt = reader.Instant(); break;
                case Field.PaidAt: paidAt = reader.Instant(); break;
                case Field.Processor: processor = RepeatedTexts.Read(ref reader); break;
                case Field.Test: test = reader.Truth(); break;
                case Field.PricesIncludeTax: pricesIncludeTax = reader.Truth(); break;
                case Field.Customer: customer = reader.Word<CustomerKind>(); break;
                case Field.CustomerKey: customerKey = reader.Text(); break;
                case Field.OriginOrderId: origin = reader.Text(); break;
                case Field.SignedOffAt: signedOffAt = reader.Instant(); break;
                case Field.Discount: discount = reader.Whole(); break;
                case Field.Shipping: (shipping, shippingTax) = ReadShipping(ref reader); break;
                case Field.ProcessingFee: processingFee = reader.Whole(); break;
                case Field.ChannelFee: channelFee = reader.Whole(); break;
                case Field.Rebate: rebate = reader.Whole(); break;
                case Field.ManualPayee: manualPayee = RepeatedTexts.Read(ref reader); break;
                case Field.Codes:
                    reader.StartOf(JsonTokenType.StartArray);
                    while (reader.Item()) codes.Add(RepeatedTexts.Read(ref reader));
                    break;
                case Field.Clicks:
                    reader.StartOf(JsonTokenType.StartArray);
                    while (reader.Item()) clicks.Add(ReadClick(ref reader));
                    break;
                case Field.Lines:
                    reader.StartOf(JsonTokenType.StartArray);
                    while (reader.Item()) lines.Add(ReadLine(ref reader));
                    break;
            }
        }
        return new Order
        {
            Id = new OrderId(id),
            Channel = new ChannelId(channel),
            Currency = currency,
            PlacedAt = placedAt,
            PaidAt = paidAt,
            Processor = processor is null ? null : new ProcessorId(processor),
            IsTest = test,
            PricesIncludeTax = pricesIncludeTax,
            Customer = customer,
            CustomerKey = customerKey,
            Origin = origin is null ? null : new OrderId(origin),
            SignedOffAt = signedOffAt,
            Discount = discount,
            Shipping = shipping,
            ShippingTax = shippingTax,
            ProcessingFee = processingFee,
            ChannelFee = channelFee,
            Rebate = rebate,
            ManualPayee = manualPayee is null ? null : new PayeeId(manualPayee),
            Codes = codes.Count == 0 ? [] : codes.ToArray(),
            Clicks = clicks.Count == 0 ? [] : clicks.ToArray(),
            Lines = lines.ToArray(),
        };
    }

    private static OrderLine ReadLine(ref Utf8JsonReader reader)
    {
        reader.StartOf(JsonTokenType.StartObject);
        var (id, product) = ("", "");
        string? variant = null;
        long quantity = 0, unitPrice = 0, discount = 0, tax = 0;
        var requiresShipping = false;
        int? paymentNumber = null;
        var fields = new JsonFields<LineField>(RequiredOfLine);
        while (fields.Next(ref reader, out var field))
        {
            switch (field)
            {
                case LineField.Id: id = RepeatedTexts.Read(ref reader); break;
                case LineField.Product: product = RepeatedTexts.Read(ref reader); break;
                case LineField.Variant: variant = RepeatedTexts.Read(ref reader); break;
                case LineField.Quantity: quantity = reader.Whole(); break;
                case LineField.UnitPrice: unitPrice = reader.Whole(); break;
                case LineField.Discount: discount = reader.Whole(); break;
                case LineField.Tax: tax = reader.Whole(); break;
                case LineField.RequiresShipping: requiresShipping = reader.Truth(); break;
                case LineField.PaymentNumber: paymentNumber = reader.SmallWhole(); break;
            }
        }
        return new OrderLine
        {
            Id = new LineId(id),
            Product = new ProductId(product),
            Variant = variant is null ? null : new VariantId(variant),
            Quantity = quantity,
            UnitPrice = unitPrice,
            Discount = discount,
            Tax = tax,
            RequiresShipping = requiresShipping,
            PaymentNumber = paymentNumber,
        };
    }

    private static (long Amount, long Tax) ReadShipping(ref Utf8JsonReader reader)
    {
        reader.StartOf(JsonTokenType.StartObject);
        var (amount, tax) = (0L, 0L);
        var fields = new JsonFields<ShippingField>(Both);
        while (fields.Next(ref reader, out var field))
        {
            if (field == ShippingField.Amount) amount = reader.Whole();
            else tax = reader.Whole();
        }
        return (amount, tax);
    }

    private static Click ReadClick(ref Utf8JsonReader reader)
    {
        reader.StartOf(JsonTokenType.StartObject);
        var (payee, at) = ("", default(DateTimeOffset));
        var fields = new JsonFields<ClickField>(Both);
        while (fields.Next(ref reader, out var field))
        {
            if (field == ClickField.Payee) payee = RepeatedTexts.Read(ref reader);
            else at = reader.Instant();
        }
        return new Click(new PayeeId(payee), at);
    }
}
