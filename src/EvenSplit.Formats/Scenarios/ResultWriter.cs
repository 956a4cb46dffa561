using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Writes the result of a book as JSON (contract, section 10): a line for each order, entry, run and exception.</summary>
public static class ResultWriter
{
    /// <summary>So many items are put into words at a time; large results in several such chunks side by side.</summary>
    private const int Chunk = 4096;

    /// <param name="traces">A further section, where given: the ledgers whose amounts are explained.</param>
    public static void Write(BookResult result, Stream output, (Rulebook Rules, IReadOnlyList<OrderLedger> Ledgers)? traces = null)
    {
        output.Write("{\n"u8);
        List(output, "orders"u8, result.Orders, WriteOrder, ",\n"u8);
        List(output, "entries"u8, result.Entries, WriteEntry, ",\n"u8);
        List(output, "runs"u8, result.Runs, WriteRun, ",\n"u8);
        List(output, "exceptions"u8, result.Exceptions, WriteException, traces is null ? "\n"u8 : ",\n"u8);
        if (traces is { } explained) WriteTraces(output, explained.Rules, explained.Ledgers);
        output.Write("}\n"u8);
    }

    private static void WriteTraces(Stream output, Rulebook rules, IReadOnlyList<OrderLedger> ledgers)
    {
        var teller = new TraceTeller(rules, new Naming(p => p.Value, a => a.Value, p => p.Value));
        output.Write("\"traces\": "u8);
        using var json = new Utf8JsonWriter(output);
        json.WriteStartArray();
        foreach (var ledger in ledgers)
        {
            TraceWriter.Write(json, rules, ledger, teller);
            json.Flush();
            output.Write("\n"u8);
        }
        json.WriteEndArray();
        json.Flush();
        output.Write("\n"u8);
    }

    private static void List<T>(Stream output, ReadOnlySpan<byte> name, IReadOnlyList<T> items, Action<JsonText, T> write, ReadOnlySpan<byte> after)
    {
        output.Write("\""u8);
        output.Write(name);
        output.Write("\": ["u8);
        var texts = new JsonText[Environment.ProcessorCount];
        for (var c = 0; c < texts.Length; c++) texts[c] = new JsonText();
        for (var start = 0; start < items.Count; start += texts.Length * Chunk)
        {
            var first = start;
            Parallel.For(0, Math.Min(texts.Length, (items.Count - start + Chunk - 1) / Chunk), c => Lines(texts[c], items, first + c * Chunk, write));
            foreach (var text in texts)
            {
                output.Write(text.Written);
                text.Clear();
            }
        }
        output.Write("\n]"u8);
        output.Write(after);
    }

    private static void Lines<T>(JsonText text, IReadOnlyList<T> items, int start, Action<JsonText, T> write)
    {
        for (var i = start; i < Math.Min(start + Chunk, items.Count); i++)
        {
            text.Raw(i == 0 ? "\n"u8 : ",\n"u8);
            write(text, items[i]);
        }
    }

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

    private static void WriteOrder(JsonText text, OrderResult order)
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
        Inner(text, order.Figures?.Lines ?? [], WriteLine);
        text.Raw("}"u8);
    }

    private static void WriteLine(JsonText text, LineFigures line) => text
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

    private static void WriteEntry(JsonText text, Entry entry) => text
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

    private static void WriteRun(JsonText text, RunResult run)
    {
        text.Raw("{\"id\":"u8).Text(run.Id.Value).Raw(",\"asOf\":"u8).Date(run.AsOf).Raw(",\"payees\":"u8);
        Inner(text, run.Payees, WriteRemittance);
        text.Raw("}"u8);
    }

    private static void WriteRemittance(JsonText text, Remittance remittance) => text
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

    private static void WriteException(JsonText text, CalculationException exception) => text
        .Raw("{\"code\":"u8).Text(Words.WriteHyphenated(exception.Code))
        .Raw(",\"order\":"u8).Text(exception.Order?.Value)
        .Raw(",\"line\":"u8).Text(exception.Line?.Value)
        .Raw(",\"payee\":"u8).Text(exception.Payee?.Value)
        .Raw("}"u8);
}
