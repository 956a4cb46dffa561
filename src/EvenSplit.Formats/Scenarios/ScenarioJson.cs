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

    private sealed class Instants : JsonConverter<DateTimeOffset>
    {
        public override DateTimeOffset Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => reader.Instant();

        public override void Write(Utf8JsonWriter writer, DateTimeOffset value, JsonSerializerOptions options) => writer.WriteStringValue(value);
    }
}
