using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Each item of a result as JSON (contract, section 10), on one line.</summary>
internal static class ResultItems
{
    private static void Inner<T>(JsonText text, IReadOnlyList<T> items, Action<JsonText, T> write)
    {
        text.Raw("["u8);
        for (var i = 0; i < items.Count; i++)
        {
            if (i > 0) text.Raw(","u8);
            write(text, items[i]);
        }
        text.Raw("]"u8);
    }

    public static void Order(JsonText text, OrderResult order)
    {
        text.Raw("{\"id\":"u8).Text(order.Order.Id.Value).Raw(",\"status\":"u8).Text(Words.Write(order.Status)).Raw(",\"attribution\":"u8);
        if (order.Attribution is { Payee: { } payee, Via: { } via })
        {
            text.Raw("{\"payee\":"u8).Text(payee.Value).Raw(",\"via\":"u8).Text(Words.Write(via)).Raw("}"u8);
        }
        else
        {
            text.Raw("null"u8);
        }
        text.Raw(",\"charged\":"u8).Number(order.Figures?.Charged ?? 0)
            .Raw(",\"tax\":"u8).Number(order.Figures?.Tax ?? 0)
            .Raw(",\"processingFee\":"u8).Number(order.Figures?.ProcessingFee ?? 0)
            .Raw(",\"channelFee\":"u8).Number(order.Figures?.ChannelFee ?? 0)
            .Raw(",\"rebate\":"u8).Number(order.Figures?.Rebate ?? 0)
            .Raw(",\"earnings\":"u8).Number(order.Earnings)
            .Raw(",\"house\":"u8).Number(order.House)
            .Raw(",\"lines\":"u8);
        Inner(text, order.Figures?.Lines ?? [], Line);
        text.Raw("}"u8);
    }

    private static void Line(JsonText text, LineFigures line) => text
        .Raw("{\"id\":"u8).Text(line.Line.Id.Value)
        .Raw(",\"goodsNet\":"u8).Number(line.GoodsNet)
        .Raw(",\"discountExTax\":"u8).Number(line.DiscountExTax)
        .Raw(",\"tax\":"u8).Number(line.Tax)
        .Raw(",\"shipping\":"u8).Number(line.Shipping)
        .Raw(",\"shippingTax\":"u8).Number(line.ShippingTax)
        .Raw(",\"processingFee\":"u8).Number(line.ProcessingFee)
        .Raw(",\"channelFee\":"u8).Number(line.ChannelFee)
        .Raw(",\"rebate\":"u8).Number(line.Rebate)
        .Raw(",\"cost\":"u8).Number(line.Cost)
        .Raw("}"u8);

    public static void Entry(JsonText text, Entry entry) => text
        .Raw("{\"order\":"u8).Text(entry.Order.Value)
        .Raw(",\"line\":"u8).Text(entry.Line.Value)
        .Raw(",\"payee\":"u8).Text(entry.Payee.Value)
        .Raw(",\"agreement\":"u8).Text(entry.Agreement.Value)
        .Raw(",\"part\":"u8).Text(Words.Write(entry.Part))
        .Raw(",\"refund\":"u8).Text(entry.Refund?.Value)
        .Raw(",\"amount\":"u8).Number(entry.Amount.Minor)
        .Raw(",\"currency\":"u8).Text(entry.Amount.Currency.Code)
        .Raw(",\"postedOn\":"u8).Date(entry.PostedOn)
        .Raw(",\"clearsOn\":"u8).Date(entry.ClearsOn)
        .Raw("}"u8);

    public static void Run(JsonText text, RunResult run)
    {
        text.Raw("{\"id\":"u8).Text(run.Id.Value).Raw(",\"asOf\":"u8).Date(run.AsOf).Raw(",\"payees\":"u8);
        Inner(text, run.Payees, Remittance);
        text.Raw("}"u8);
    }

    private static void Remittance(JsonText text, Remittance remittance) => text
        .Raw("{\"payee\":"u8).Text(remittance.Payee.Value)
        .Raw(",\"currency\":"u8).Text(remittance.Currency.Code)
        .Raw(",\"opening\":"u8).Number(remittance.Opening)
        .Raw(",\"earned\":"u8).Number(remittance.Earned)
        .Raw(",\"adjustments\":"u8).Number(remittance.Adjustments)
        .Raw(",\"recouped\":"u8).Number(remittance.Recouped)
        .Raw(",\"withheld\":"u8).Number(remittance.Withheld)
        .Raw(",\"transferFee\":"u8).Number(remittance.TransferFee)
        .Raw(",\"paid\":"u8).Number(remittance.Paid)
        .Raw(",\"carried\":"u8).Number(remittance.Carried)
        .Raw(",\"reason\":"u8).Text(Words.WriteHyphenated(remittance.Reason))
        .Raw("}"u8);

    public static void Exception(JsonText text, CalculationException exception) => text
        .Raw("{\"code\":"u8).Text(Words.WriteHyphenated(exception.Code))
        .Raw(",\"order\":"u8).Text(exception.Order?.Value)
        .Raw(",\"line\":"u8).Text(exception.Line?.Value)
        .Raw(",\"payee\":"u8).Text(exception.Payee?.Value)
        .Raw("}"u8);
}
