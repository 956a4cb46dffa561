using System.Globalization;
using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Writes the result of a book as JSON (contract, section 10).</summary>
public static class ResultWriter
{
    private const int FlushAt = 1 << 16;

    public static void Write(BookResult result, Stream output)
    {
        using var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true });
        json.WriteStartObject();
        List(json, "orders", result.Orders, WriteOrder);
        List(json, "entries", result.Entries, WriteEntry);
        List(json, "runs", result.Runs, WriteRun);
        List(json, "exceptions", result.Exceptions, WriteException);
        json.WriteEndObject();
    }

    private static void List<T>(Utf8JsonWriter json, string name, IEnumerable<T> items, Action<Utf8JsonWriter, T> write)
    {
        json.WriteStartArray(name);
        foreach (var item in items)
        {
            json.WriteStartObject();
            write(json, item);
            json.WriteEndObject();
            if (json.BytesPending > FlushAt) json.Flush();
        }
        json.WriteEndArray();
    }

    private static void WriteOrder(Utf8JsonWriter json, OrderResult order)
    {
        json.WriteString("id", order.Order.Id.Value);
        json.WriteString("status", Words.Write(order.Status));
        if (order.Attribution is { Payee: { } payee, Via: { } via })
        {
            json.WriteStartObject("attribution");
            json.WriteString("payee", payee.Value);
            json.WriteString("via", Words.Write(via));
            json.WriteEndObject();
        }
        else
        {
            json.WriteNull("attribution");
        }
        json.WriteNumber("charged", order.Figures?.Charged ?? 0);
        json.WriteNumber("tax", order.Figures?.Tax ?? 0);
        json.WriteNumber("processingFee", order.Figures?.ProcessingFee ?? 0);
        json.WriteNumber("channelFee", order.Figures?.ChannelFee ?? 0);
        json.WriteNumber("rebate", order.Figures?.Rebate ?? 0);
        json.WriteNumber("earnings", order.Earnings);
        json.WriteNumber("house", order.House);
        List(json, "lines", order.Figures?.Lines ?? [], WriteLine);
    }

    private static void WriteLine(Utf8JsonWriter json, LineFigures line)
    {
        json.WriteString("id", line.Line.Id.Value);
        json.WriteNumber("goodsNet", line.GoodsNet);
        json.WriteNumber("discountExTax", line.DiscountExTax);
        json.WriteNumber("tax", line.Tax);
        json.WriteNumber("shipping", line.Shipping);
        json.WriteNumber("shippingTax", line.ShippingTax);
        json.WriteNumber("processingFee", line.ProcessingFee);
        json.WriteNumber("channelFee", line.ChannelFee);
        json.WriteNumber("rebate", line.Rebate);
        json.WriteNumber("cost", line.Cost);
    }

    private static void WriteEntry(Utf8JsonWriter json, Entry entry)
    {
        json.WriteString("order", entry.Order.Value);
        json.WriteString("line", entry.Line.Value);
        json.WriteString("payee", entry.Payee.Value);
        json.WriteString("agreement", entry.Agreement.Value);
        json.WriteString("part", Words.Write(entry.Part));
        json.WriteString("refund", entry.Refund?.Value);
        json.WriteNumber("amount", entry.Amount.Minor);
        json.WriteString("currency", entry.Amount.Currency.Code);
        json.WriteString("postedOn", Date(entry.PostedOn));
        json.WriteString("clearsOn", entry.ClearsOn is { } clears ? Date(clears) : null);
    }

    private static void WriteRun(Utf8JsonWriter json, RunResult run)
    {
        json.WriteString("id", run.Id.Value);
        json.WriteString("asOf", Date(run.AsOf));
        List(json, "payees", run.Payees, WriteRemittance);
    }

    private static void WriteRemittance(Utf8JsonWriter json, Remittance remittance)
    {
        json.WriteString("payee", remittance.Payee.Value);
        json.WriteString("currency", remittance.Currency.Code);
        json.WriteNumber("opening", remittance.Opening);
        json.WriteNumber("earned", remittance.Earned);
        json.WriteNumber("adjustments", remittance.Adjustments);
        json.WriteNumber("recouped", remittance.Recouped);
        json.WriteNumber("withheld", remittance.Withheld);
        json.WriteNumber("transferFee", remittance.TransferFee);
        json.WriteNumber("paid", remittance.Paid);
        json.WriteNumber("carried", remittance.Carried);
        json.WriteString("reason", Words.WriteHyphenated(remittance.Reason));
    }

    private static void WriteException(Utf8JsonWriter json, CalculationException exception)
    {
        json.WriteString("code", Words.WriteHyphenated(exception.Code));
        json.WriteString("order", exception.Order?.Value);
        json.WriteString("line", exception.Line?.Value);
        json.WriteString("payee", exception.Payee?.Value);
    }

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
