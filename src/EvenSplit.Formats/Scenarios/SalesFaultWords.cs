using System.Globalization;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Faults of orders and refunds in the terms of the scenario file: a path in the JSON and what is wrong there.</summary>
internal static class SalesFaultWords
{
    public static void SaleAt(this FaultList faults, string place, in SalesFault fault)
    {
        var at = place + Path(fault);
        switch (fault.Kind)
        {
            case SalesFaultKind.Empty: faults.NotEmptyAt(at, "", fault.Field == SalesField.Code ? "a code" : "an id"); break;
            case SalesFaultKind.Unknown when fault.Field == SalesField.RefundLine:
                if (!faults.MayMiss("$.orders")) faults.Add(at, $"order '{fault.Other}' has no line '{fault.Text}'.");
                break;
            case SalesFaultKind.Unknown: faults.UnknownAt(at, Thing(fault.Field), fault.Text); break;
            case SalesFaultKind.Twice: faults.Add(at, $"line '{fault.Text}' is there already; an id is used once in an order."); break;
            default: faults.Add(at, Said(fault)); break;
        }
    }

    private static string Said(in SalesFault fault) => fault.Kind switch
    {
        SalesFaultKind.None => "an order has at least one line.",
        SalesFaultKind.OfOther => $"variant '{fault.Text}' is product '{fault.Other}', not this line's.",
        SalesFaultKind.Below => fault.Field switch
        {
            SalesField.Quantity => $"{fault.Value} is no quantity; a line sells at least 1.",
            SalesField.PaymentNumber => $"{fault.Value} is below 0; 0 is a trial.",
            SalesField.RefundQuantity => $"{fault.Value} is below 0.",
            _ => ValueFaults.Amount((long)fault.Value),
        },
        SalesFaultKind.ListBeyond => $"price × quantity is {fault.Value}, beyond {fault.Limit}, the largest amount there is.",
        SalesFaultKind.Beyond => fault.Field switch
        {
            SalesField.Lines => $"together the lines come to {fault.Value}, beyond {fault.Limit}, the largest amount there is.",
            SalesField.Quantity => $"{fault.Value} is beyond {fault.Limit}, the largest quantity there is.",
            _ => ValueFaults.Amount((long)fault.Value),
        },
        _ => fault.Field switch
        {
            SalesField.ShippingTax => $"{fault.Value} is above the shipping of {fault.Limit}, though prices include tax.",
            SalesField.LineTax => $"{fault.Value} is above the {fault.Limit} left after discounts, though prices include tax.",
            _ => $"{fault.Value} is above the {fault.Limit} it is taken from.",
        },
    };

    private static string Thing(SalesField field) => field switch
    {
        SalesField.Product => "product",
        SalesField.Variant => "variant",
        SalesField.RefundedOrder => "order",
        _ => "payee",
    };

    private static string Path(in SalesFault fault)
    {
        var index = fault.Index.ToString(CultureInfo.InvariantCulture);
        return fault.Field switch
        {
            SalesField.Id => ".id",
            SalesField.Channel => ".channel",
            SalesField.Processor => ".processor",
            SalesField.Origin => ".originOrderId",
            SalesField.RefundedOrder => ".order",
            SalesField.Discount => ".discount",
            SalesField.Shipping => ".shipping.amount",
            SalesField.ShippingTax => ".shipping.tax",
            SalesField.ProcessingFee => ".processingFee",
            SalesField.ChannelFee => ".channelFee",
            SalesField.Rebate => ".rebate",
            SalesField.ManualPayee => ".manualPayee",
            SalesField.Code => $".codes[{index}]",
            SalesField.ClickPayee => $".clicks[{index}].payee",
            SalesField.Lines => ".lines",
            SalesField.LineId => $".lines[{index}].id",
            SalesField.Product => $".lines[{index}].product",
            SalesField.Variant => $".lines[{index}].variant",
            SalesField.Quantity or SalesField.RefundQuantity => $".lines[{index}].quantity",
            SalesField.UnitPrice => $".lines[{index}].unitPrice",
            SalesField.LineDiscount => $".lines[{index}].discount",
            SalesField.LineTax or SalesField.RefundTax => $".lines[{index}].tax",
            SalesField.PaymentNumber => $".lines[{index}].paymentNumber",
            SalesField.RefundShipping => ".shipping",
            SalesField.RefundShippingTax => ".shippingTax",
            SalesField.FeeReturned => ".processingFeeReturned",
            SalesField.DisputeFee => ".disputeFee",
            SalesField.RefundLine => $".lines[{index}].line",
            _ => $".lines[{index}].goods",
        };
    }
}
