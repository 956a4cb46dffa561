using System.Text.Json;
using System.Text.Json.Serialization;

namespace EvenSplit.Formats.Scenarios;

/// <summary>A coupon code: its text alone where it has no days, else an object with <c>code</c>, <c>from</c> and <c>to</c>.</summary>
[JsonConverter(typeof(Converter))]
internal sealed record PayeeCodeDocument(string Code, DateOnly? From, DateOnly? To)
{
    internal sealed record WithDays
    {
        public required string Code { get; init; }
        public DateOnly? From { get; init; }
        public DateOnly? To { get; init; }
    }

    internal sealed class Converter : JsonConverter<PayeeCodeDocument>
    {
        public override PayeeCodeDocument? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            if (reader.TokenType == JsonTokenType.String) return new PayeeCodeDocument(reader.GetString()!, null, null);
            return JsonSerializer.Deserialize(ref reader, ScenarioJson.Of<WithDays>()) is { } code ? new PayeeCodeDocument(code.Code, code.From, code.To) : null;
        }

        public override void Write(Utf8JsonWriter writer, PayeeCodeDocument value, JsonSerializerOptions options)
        {
            if (value.From is null && value.To is null) writer.WriteStringValue(value.Code);
            else JsonSerializer.Serialize(writer, new WithDays { Code = value.Code, From = value.From, To = value.To }, ScenarioJson.Of<WithDays>());
        }
    }
}
