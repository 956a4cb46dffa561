using System.Buffers;
using System.Collections.Concurrent;
using System.Globalization;
using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Writes the result of a book as JSON (contract, section 10): a line for each order, entry, run and exception.</summary>
public static class ResultWriter
{
    /// <summary>So many items are put into words at a time; large results in several such chunks side by side.</summary>
    private const int Chunk = 4096;

    private static readonly ConcurrentDictionary<DateOnly, JsonEncodedText> Dates = [];

    /// <param name="traces">A further section, where given: the ledgers whose amounts are explained.</param>
    public static void Write(BookResult result, Stream output, (Rulebook Rules, IReadOnlyList<OrderLedger> Ledgers)? traces = null)
    {
        output.Write("{\n"u8);
        List(output, "orders", result.Orders, WriteOrder, ",\n"u8);
        List(output, "entries", result.Entries, WriteEntry, ",\n"u8);
        List(output, "runs", result.Runs, WriteRun, ",\n"u8);
        List(output, "exceptions", result.Exceptions, WriteException, traces is null ? "\n"u8 : ",\n"u8);
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

    private static void List<T>(Stream output, string name, IReadOnlyList<T> items, Action<Utf8JsonWriter, T> write, ReadOnlySpan<byte> after)
    {
        output.Write(JsonSerializer.SerializeToUtf8Bytes(name));
        output.Write(": ["u8);
        var chunks = Enumerable.Range(0, (items.Count + Chunk - 1) / Chunk).Select(c => c * Chunk);
        foreach (var text in chunks.AsParallel().AsOrdered().WithMergeOptions(ParallelMergeOptions.NotBuffered).Select(start => Lines(items, start, write)))
        {
            output.Write(text.WrittenSpan);
        }
        output.Write("\n]"u8);
        output.Write(after);
    }

    private static ArrayBufferWriter<byte> Lines<T>(IReadOnlyList<T> items, int start, Action<Utf8JsonWriter, T> write)
    {
        var text = new ArrayBufferWriter<byte>();
        using var json = new Utf8JsonWriter(text, new JsonWriterOptions { SkipValidation = true });
        for (var i = start; i < Math.Min(start + Chunk, items.Count); i++)
        {
            text.Write(i == 0 ? "\n"u8 : ",\n"u8);
            json.Reset();
            json.WriteStartObject();
            write(json, items[i]);
            json.WriteEndObject();
            json.Flush();
        }
        return text;
    }

    private static void Array<T>(Utf8JsonWriter json, JsonEncodedText name, IReadOnlyList<T> items, Action<Utf8JsonWriter, T> write)
    {
        json.WriteStartArray(name);
        for (var i = 0; i < items.Count; i++)
        {
            json.WriteStartObject();
            write(json, items[i]);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void WriteOrder(Utf8JsonWriter json, OrderResult order)
    {
        json.WriteString(Names.Id, order.Order.Id.Value);
        json.WriteString(Names.Status, Words.Write(order.Status));
        if (order.Attribution is { Payee: { } payee, Via: { } via })
        {
            json.WriteStartObject(Names.Attribution);
            json.WriteString(Names.Payee, payee.Value);
            json.WriteString(Names.Via, Words.Write(via));
            json.WriteEndObject();
        }
        else
        {
            json.WriteNull(Names.Attribution);
        }
        json.WriteNumber(Names.Charged, order.Figures?.Charged ?? 0);
        json.WriteNumber(Names.Tax, order.Figures?.Tax ?? 0);
        json.WriteNumber(Names.ProcessingFee, order.Figures?.ProcessingFee ?? 0);
        json.WriteNumber(Names.ChannelFee, order.Figures?.ChannelFee ?? 0);
        json.WriteNumber(Names.Rebate, order.Figures?.Rebate ?? 0);
        json.WriteNumber(Names.Earnings, order.Earnings);
        json.WriteNumber(Names.House, order.House);
        Array(json, Names.Lines, order.Figures?.Lines ?? [], WriteLine);
    }

    private static void WriteLine(Utf8JsonWriter json, LineFigures line)
    {
        json.WriteString(Names.Id, line.Line.Id.Value);
        json.WriteNumber(Names.GoodsNet, line.GoodsNet);
        json.WriteNumber(Names.DiscountExTax, line.DiscountExTax);
        json.WriteNumber(Names.Tax, line.Tax);
        json.WriteNumber(Names.Shipping, line.Shipping);
        json.WriteNumber(Names.ShippingTax, line.ShippingTax);
        json.WriteNumber(Names.ProcessingFee, line.ProcessingFee);
        json.WriteNumber(Names.ChannelFee, line.ChannelFee);
        json.WriteNumber(Names.Rebate, line.Rebate);
        json.WriteNumber(Names.Cost, line.Cost);
    }

    private static void WriteEntry(Utf8JsonWriter json, Entry entry)
    {
        json.WriteString(Names.Order, entry.Order.Value);
        json.WriteString(Names.Line, entry.Line.Value);
        json.WriteString(Names.Payee, entry.Payee.Value);
        json.WriteString(Names.Agreement, entry.Agreement.Value);
        json.WriteString(Names.Part, Words.Write(entry.Part));
        json.WriteString(Names.Refund, entry.Refund?.Value);
        json.WriteNumber(Names.Amount, entry.Amount.Minor);
        json.WriteString(Names.Currency, entry.Amount.Currency.Code);
        json.WriteString(Names.PostedOn, Date(entry.PostedOn));
        if (entry.ClearsOn is { } clears) json.WriteString(Names.ClearsOn, Date(clears));
        else json.WriteNull(Names.ClearsOn);
    }

    private static void WriteRun(Utf8JsonWriter json, RunResult run)
    {
        json.WriteString(Names.Id, run.Id.Value);
        json.WriteString(Names.AsOf, Date(run.AsOf));
        Array(json, Names.Payees, run.Payees, WriteRemittance);
    }

    private static void WriteRemittance(Utf8JsonWriter json, Remittance remittance)
    {
        json.WriteString(Names.Payee, remittance.Payee.Value);
        json.WriteString(Names.Currency, remittance.Currency.Code);
        json.WriteNumber(Names.Opening, remittance.Opening);
        json.WriteNumber(Names.Earned, remittance.Earned);
        json.WriteNumber(Names.Adjustments, remittance.Adjustments);
        json.WriteNumber(Names.Recouped, remittance.Recouped);
        json.WriteNumber(Names.Withheld, remittance.Withheld);
        json.WriteNumber(Names.TransferFee, remittance.TransferFee);
        json.WriteNumber(Names.Paid, remittance.Paid);
        json.WriteNumber(Names.Carried, remittance.Carried);
        json.WriteString(Names.Reason, Words.WriteHyphenated(remittance.Reason));
    }

    private static void WriteException(Utf8JsonWriter json, CalculationException exception)
    {
        json.WriteString(Names.Code, Words.WriteHyphenated(exception.Code));
        json.WriteString(Names.Order, exception.Order?.Value);
        json.WriteString(Names.Line, exception.Line?.Value);
        json.WriteString(Names.Payee, exception.Payee?.Value);
    }

    private static JsonEncodedText Date(DateOnly date) =>
        Dates.GetOrAdd(date, static d => JsonEncodedText.Encode(d.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)));

    /// <summary>The names of the result's fields, encoded once.</summary>
    private static class Names
    {
        public static readonly JsonEncodedText Id = Of("id"), Status = Of("status"), Attribution = Of("attribution"), Payee = Of("payee"), Via = Of("via"),
            Charged = Of("charged"), Tax = Of("tax"), ProcessingFee = Of("processingFee"), ChannelFee = Of("channelFee"), Rebate = Of("rebate"),
            Earnings = Of("earnings"), House = Of("house"), Lines = Of("lines"), GoodsNet = Of("goodsNet"), DiscountExTax = Of("discountExTax"),
            Shipping = Of("shipping"), ShippingTax = Of("shippingTax"), Cost = Of("cost"), Order = Of("order"), Line = Of("line"),
            Agreement = Of("agreement"), Part = Of("part"), Refund = Of("refund"), Amount = Of("amount"), Currency = Of("currency"),
            PostedOn = Of("postedOn"), ClearsOn = Of("clearsOn"), AsOf = Of("asOf"), Payees = Of("payees"), Opening = Of("opening"),
            Earned = Of("earned"), Adjustments = Of("adjustments"), Recouped = Of("recouped"), Withheld = Of("withheld"), TransferFee = Of("transferFee"),
            Paid = Of("paid"), Carried = Of("carried"), Reason = Of("reason"), Code = Of("code");

        private static JsonEncodedText Of(string name) => JsonEncodedText.Encode(name);
    }
}
