using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace EvenSplit.Formats.Scenarios;

/// <summary>How scenario files are read: strictly, since what is not understood would be left out of somebody's money.</summary>
internal static class ScenarioJson
{
    public static JsonSerializerOptions Options { get; } = Make();

    private static JsonSerializerOptions Make()
    {
        var options = new JsonSerializerOptions(JsonSerializerDefaults.Web)
        {
            PropertyNameCaseInsensitive = false,
            NumberHandling = JsonNumberHandling.Strict,
            UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
            AllowDuplicateProperties = false,
            RespectNullableAnnotations = true,
            RespectRequiredConstructorParameters = true,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
            Converters = { new Instants() },
        };
        options.MakeReadOnly(populateMissingResolver: true);
        return options;
    }

    /// <summary>ISO 8601 with an offset: without one an instant is a guess.</summary>
    private sealed class Instants : JsonConverter<DateTimeOffset>
    {
        public override DateTimeOffset Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            if (reader.TokenType == JsonTokenType.String && HasOffset(reader) && reader.TryGetDateTimeOffset(out var instant)
                // Dates are taken in the book's zone, up to a day away.
                && instant.UtcDateTime.Year is > 1 and < 9999)
            {
                return instant;
            }
            throw new JsonException("Not an instant with an offset.");
        }

        public override void Write(Utf8JsonWriter writer, DateTimeOffset value, JsonSerializerOptions options) => writer.WriteStringValue(value);

        private static bool HasOffset(in Utf8JsonReader reader)
        {
            ReadOnlySpan<byte> text = reader.ValueIsEscaped ? Encoding.UTF8.GetBytes(reader.GetString()!) : reader.ValueSpan;
            return text.Length > 16 && text[10] == 'T' && (text[^1] == 'Z' || text[^6] is (byte)'+' or (byte)'-');
        }
    }
}
