using System.Globalization;
using System.Text.Json;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Events;

/// <summary>
/// Reads a webhook's body: <c>{ "type": "order", "data": { … } }</c>. Names are the files' columns; amounts are decimal strings in major units,
/// lines stand in <c>lines</c>, coupon codes in a list. A field nobody knows is a fault, not something to pass over.
/// </summary>
public static class SalesEventJson
{
    public const int MaxBytes = 256 * 1024;

    private const int MaxLines = 1000;
    private const int MaxText = 4096;

    private static readonly string[] OrderLine = OrderColumns.All.OfLines();
    private static readonly string[] RefundLine = RefundColumns.All.OfLines();
    private static readonly string[] OrderFields = OrderColumns.All.OfWhole();
    private static readonly string[] RefundFields = RefundColumns.All.OfWhole();
    private static readonly string[] PaymentFields = ["order_id", "paid_at", "processor", "processing_fee"];
    private static readonly string[] ClickFields = [.. ClicksCsv.Columns.All];

    private static readonly JsonDocumentOptions Strict = new() { MaxDepth = 6, AllowDuplicateProperties = false };

    /// <exception cref="EventFaultException">The body cannot be read as an event.</exception>
    public static SalesEvent Read(ReadOnlyMemory<byte> body)
    {
        try
        {
            using var document = JsonDocument.Parse(body, Strict);
            return Read(document.RootElement);
        }
        catch (JsonException unreadable)
        {
            throw new EventFaultException("", $"This is not JSON that can be read: line {unreadable.LineNumber + 1}, byte {unreadable.BytePositionInLine + 1}.");
        }
        catch (InvalidOperationException)
        {
            // What System.Text.Json says of text that is not UTF-8.
            throw new EventFaultException("", "A text in it is not UTF-8.");
        }
    }

    private static SalesEvent Read(JsonElement root)
    {
        if (root.ValueKind != JsonValueKind.Object) throw new EventFaultException("", "Expected an object with type and data.");
        foreach (var property in root.EnumerateObject().Where(p => p.Name is not ("type" or "data" or "timestamp"))) throw new EventFaultException(property.Name, "there is no such field; an event has type, data and perhaps timestamp.");
        if (!root.TryGetProperty("type", out var type) || type.ValueKind != JsonValueKind.String) throw new EventFaultException("type", "expected order, payment, refund or click.");
        if (!root.TryGetProperty("data", out var data) || data.ValueKind != JsonValueKind.Object) throw new EventFaultException("data", "expected an object.");
        return type.GetString() switch
        {
            "order" => WithLines(SalesEventKind.Order, data, OrderFields, OrderLine, linesNeeded: true),
            "refund" => WithLines(SalesEventKind.Refund, data, RefundFields, RefundLine, linesNeeded: false),
            "payment" => Single(SalesEventKind.Payment, data, PaymentFields, ["order_id", "paid_at"]),
            "click" => Single(SalesEventKind.Click, data, ClickFields, ClicksCsv.Columns.Required),
            var other => throw new EventFaultException("type", $"'{Cut(other!)}' is not an event; expected order, payment, refund or click."),
        };
    }

    private static SalesEvent Single(SalesEventKind kind, JsonElement data, string[] known, IReadOnlyList<string> needed)
    {
        var cells = Cells(data, "data", known);
        foreach (var field in needed.Where(f => cells.GetValueOrDefault(f, "").Length == 0)) throw new EventFaultException("data." + field, "is missing.");
        return new SalesEvent(kind, cells.GetValueOrDefault("order_id", ""), [cells]);
    }

    private static SalesEvent WithLines(SalesEventKind kind, JsonElement data, string[] known, string[] ofLine, bool linesNeeded)
    {
        var whole = Cells(data, "data", [.. known, "lines"]);
        if (whole.GetValueOrDefault("order_id", "").Length == 0) throw new EventFaultException("data.order_id", "is missing.");
        var lines = data.TryGetProperty("lines", out var list) && list.ValueKind != JsonValueKind.Null ? list : default;
        if (lines.ValueKind is not (JsonValueKind.Array or JsonValueKind.Undefined)) throw new EventFaultException("data.lines", "expected a list of lines.");
        var count = lines.ValueKind == JsonValueKind.Array ? lines.GetArrayLength() : 0;
        if (count > MaxLines) throw new EventFaultException("data.lines", $"at most {MaxLines} lines.");
        if (count == 0 && linesNeeded) throw new EventFaultException("data.lines", "expected at least one line.");
        var order = whole["order_id"];
        // What is the refund's own, not a line's, may stand in one row only, or it would count once a line.
        var rows = new List<IReadOnlyDictionary<string, string>>();
        for (var i = 0; i < Math.Max(1, count); i++)
        {
            var cells = new Dictionary<string, string>(whole);
            if (kind == SalesEventKind.Refund && i > 0) foreach (var sum in new[] { "shipping", "shipping_tax", "processing_fee_returned", "dispute_fee" }) cells.Remove(sum);
            if (i < count)
            {
                foreach (var (name, text) in Cells(lines[i], $"data.lines[{i}]", ofLine)) cells[name] = text;
            }
            rows.Add(cells);
        }
        return new SalesEvent(kind, order, rows);
    }

    private static Dictionary<string, string> Cells(JsonElement element, string place, string[] known)
    {
        if (element.ValueKind != JsonValueKind.Object) throw new EventFaultException(place, "expected an object.");
        var cells = new Dictionary<string, string>();
        foreach (var property in element.EnumerateObject())
        {
            var at = $"{place}.{Cut(property.Name)}";
            if (!known.Contains(property.Name)) throw new EventFaultException(at, "there is no such field.");
            if (property.Name == "lines") continue;
            var text = property.Value.ValueKind switch
            {
                JsonValueKind.String => property.Value.GetString()!,
                JsonValueKind.True => "yes",
                JsonValueKind.False => "no",
                JsonValueKind.Null => "",
                JsonValueKind.Number when property.Value.TryGetInt64(out var whole) => whole.ToString(CultureInfo.InvariantCulture),
                JsonValueKind.Number => throw new EventFaultException(at, "expected a decimal in quotes, such as \"12.50\": a number may have been rounded on its way."),
                JsonValueKind.Array when property.Name == "coupon_codes" => string.Join(' ', property.Value.EnumerateArray().Select(c => c.ValueKind == JsonValueKind.String ? c.GetString()! : throw new EventFaultException(at, "expected a list of codes."))),
                _ => throw new EventFaultException(at, "expected a text."),
            };
            if (text.Length > MaxText) throw new EventFaultException(at, $"at most {MaxText} characters.");
            cells[property.Name] = text;
        }
        return cells;
    }

    private static string Cut(string text) => text.Length <= 60 ? text : text[..60] + "…";
}
