using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Reads a refund straight into what the core works from, as <see cref="OrderReader"/> reads an order.</summary>
internal static class RefundReader
{
    // In the order of the contract, section 10.
    private enum Field { Id, Order, At, Kind, Shipping, ShippingTax, ProcessingFeeReturned, DisputeFee, Lines }

    private enum LineField { Line, Quantity, Goods, Tax }

    private const uint Required = 1 << (int)Field.Id | 1 << (int)Field.Order | 1 << (int)Field.At | 1 << (int)Field.Kind;

    private const uint AllFour = 0b1111;

    [ThreadStatic]
    private static List<RefundLine>? t_lines;

    /// <inheritdoc cref="OrderReader.Read"/>
    public static Refund Read(ReadOnlySpan<byte> json)
    {
        var reader = new Utf8JsonReader(json);
        reader.Read();
        reader.StartOf(JsonTokenType.StartObject);
        var lines = t_lines ??= [];
        lines.Clear();
        var (id, order, at, kind) = ("", "", default(DateTimeOffset), default(RefundKind));
        long shipping = 0, shippingTax = 0, feeReturned = 0, disputeFee = 0;
        var fields = new JsonFields<Field>(Required);
        while (fields.Next(ref reader, out var field))
        {
            switch (field)
            {
                case Field.Id: id = reader.Text(); break;
                case Field.Order: order = reader.Text(); break;
                case Field.At: at = reader.Instant(); break;
                case Field.Kind: kind = reader.Word<RefundKind>(); break;
                case Field.Shipping: shipping = reader.Whole(); break;
                case Field.ShippingTax: shippingTax = reader.Whole(); break;
                case Field.ProcessingFeeReturned: feeReturned = reader.Whole(); break;
                case Field.DisputeFee: disputeFee = reader.Whole(); break;
                case Field.Lines:
                    reader.StartOf(JsonTokenType.StartArray);
                    while (reader.Item()) lines.Add(ReadLine(ref reader));
                    break;
            }
        }
        return new Refund
        {
            Id = new RefundId(id),
            Order = new OrderId(order),
            At = at,
            Kind = kind,
            Shipping = shipping,
            ShippingTax = shippingTax,
            ProcessingFeeReturned = feeReturned,
            DisputeFee = disputeFee,
            Lines = lines.ToArray(),
        };
    }

    private static RefundLine ReadLine(ref Utf8JsonReader reader)
    {
        reader.StartOf(JsonTokenType.StartObject);
        var line = "";
        long quantity = 0, goods = 0, tax = 0;
        var fields = new JsonFields<LineField>(AllFour);
        while (fields.Next(ref reader, out var field))
        {
            switch (field)
            {
                case LineField.Line: line = RepeatedTexts.Read(ref reader); break;
                case LineField.Quantity: quantity = reader.Whole(); break;
                case LineField.Goods: goods = reader.Whole(); break;
                case LineField.Tax: tax = reader.Whole(); break;
            }
        }
        return new RefundLine(new LineId(line), quantity, goods, tax);
    }
}
