using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization.Metadata;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Finds every value of a file that has not the form its field asks for, and puts something harmless in its place, so that the rest can
/// still be looked at. Only files with such a fault come here; a good one is read straight.
/// </summary>
internal static class ScenarioShape
{
    /// <returns>Null where the file is no JSON at all.</returns>
    public static ScenarioDocument? Mend(ReadOnlyMemory<byte> json, FaultList faults)
    {
        JsonDocument document;
        try
        {
            document = JsonDocument.Parse(json);
        }
        catch (JsonException fault)
        {
            faults.Add("$", $"not JSON, line {fault.LineNumber + 1}, byte {fault.BytePositionInLine + 1}: {fault.Message.Split(". LineNumber")[0]}.");
            return null;
        }
        using (document)
        {
            var mended = Value(document.RootElement, typeof(ScenarioDocument), "$", faults);
            faults.Mend();
            return mended.Deserialize(ScenarioJson.Of<ScenarioDocument>());
        }
    }

    private static JsonNode Value(JsonElement element, Type type, string place, FaultList faults)
    {
        var info = ScenarioJson.Options.GetTypeInfo(type);
        switch (info.Kind)
        {
            case JsonTypeInfoKind.Object:
                if (element.ValueKind == JsonValueKind.Object) return Fields(element, info, place, faults);
                break;
            case JsonTypeInfoKind.Enumerable:
                if (element.ValueKind == JsonValueKind.Array) return Items(element, info.ElementType!, place, faults);
                break;
            default:
                if (CanRead(element, type)) return JsonNode.Parse(element.GetRawText())!;
                break;
        }
        faults.Add(place, Beyond(element, type) ?? $"{Shown(element)} is there, but {Expected(type)} was expected.");
        return Harmless(type);
    }

    private static JsonObject Fields(JsonElement element, JsonTypeInfo info, string place, FaultList faults)
    {
        var fields = new JsonObject();
        foreach (var given in element.EnumerateObject())
        {
            var at = $"{place}.{given.Name}";
            var field = info.Properties.FirstOrDefault(p => p.Name == given.Name);
            if (field is null) faults.Add(at, $"there is no such field here; there are {string.Join(", ", info.Properties.Select(p => p.Name))}.");
            else if (fields.ContainsKey(given.Name)) faults.Add(at, "this field is given twice.");
            else if (given.Value.ValueKind != JsonValueKind.Null) fields[given.Name] = Value(given.Value, field.PropertyType, at, faults);
            else if (field.IsRequired) fields[given.Name] = Missing(field, at, "null is there", faults);
        }
        foreach (var field in info.Properties.Where(p => p.IsRequired && !fields.ContainsKey(p.Name)))
        {
            fields[field.Name] = Missing(field, $"{place}.{field.Name}", "this field is missing", faults);
        }
        return fields;
    }

    private static JsonNode Missing(JsonPropertyInfo field, string place, string what, FaultList faults)
    {
        faults.Add(place, $"{what}; {Expected(field.PropertyType)} was expected.");
        return Harmless(field.PropertyType);
    }

    private static JsonArray Items(JsonElement element, Type itemType, string place, FaultList faults)
    {
        var items = new JsonArray();
        var index = 0;
        foreach (var item in element.EnumerateArray()) items.Add(Value(item, itemType, $"{place}[{index++}]", faults));
        return items;
    }

    private static bool CanRead(JsonElement element, Type type)
    {
        try
        {
            return element.Deserialize(ScenarioJson.Options.GetTypeInfo(type)) is not null;
        }
        catch (JsonException)
        {
            return false;
        }
    }

    /// <summary>Why a value of the right form is still none; null where it has not even the form.</summary>
    private static string? Beyond(JsonElement element, Type type)
    {
        var plain = Nullable.GetUnderlyingType(type) ?? type;
        var isWhole = element.ValueKind == JsonValueKind.Number && element.GetRawText().AsSpan().TrimStart('-').IndexOfAnyExceptInRange('0', '9') < 0;
        if (isWhole && plain == typeof(long)) return $"{Shown(element)} is beyond the largest amount there is.";
        if (isWhole && plain == typeof(int)) return $"{Shown(element)} is beyond {int.MaxValue}, the largest number that can stand here.";
        if (plain == typeof(DateTimeOffset) && element.ValueKind == JsonValueKind.String && element.TryGetDateTimeOffset(out var instant) && instant.UtcDateTime.Year is <= 1 or >= 9999)
        {
            return $"{Shown(element)} lies outside the years 2 to 9998.";
        }
        return null;
    }

    private static JsonNode Harmless(Type type)
    {
        var info = ScenarioJson.Options.GetTypeInfo(type);
        if (info.Kind == JsonTypeInfoKind.Enumerable) return new JsonArray();
        if (info.Kind == JsonTypeInfoKind.Object)
        {
            return new JsonObject(info.Properties.Where(p => p.IsRequired).Select(p => KeyValuePair.Create(p.Name, (JsonNode?)Harmless(p.PropertyType))));
        }
        var plain = Nullable.GetUnderlyingType(type) ?? type;
        if (plain == typeof(string)) return "";
        if (plain == typeof(bool)) return false;
        if (plain == typeof(DateOnly)) return "2000-01-01";
        return plain == typeof(DateTimeOffset) ? "2000-01-01T00:00:00Z" : 0;
    }

    private static string Expected(Type type)
    {
        var info = ScenarioJson.Options.GetTypeInfo(type);
        if (info.Kind == JsonTypeInfoKind.Enumerable) return "a list";
        if (info.Kind == JsonTypeInfoKind.Object) return "an object";
        var plain = Nullable.GetUnderlyingType(type) ?? type;
        if (plain == typeof(string)) return "a text in quotes";
        if (plain == typeof(bool)) return "true or false";
        if (plain == typeof(DateOnly)) return "a date such as \"2026-10-31\"";
        return plain == typeof(DateTimeOffset) ? "an instant with its offset such as \"2026-10-31T12:00:00+01:00\"" : "a whole number";
    }

    private static string Shown(JsonElement element)
    {
        const int enough = 40;
        var raw = element.GetRawText();
        return element.ValueKind switch
        {
            JsonValueKind.Object => "an object",
            JsonValueKind.Array => "a list",
            _ => raw.Length > enough ? raw[..enough] + "…" : raw,
        };
    }
}
