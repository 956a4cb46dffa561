using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

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
        options.TypeInfoResolver = ScenarioTypes.Default;
        options.MakeReadOnly();
        return options;
    }

    public static JsonTypeInfo<T> Of<T>() => (JsonTypeInfo<T>)Options.GetTypeInfo(typeof(T));

    private sealed class Instants : JsonConverter<DateTimeOffset>
    {
        public override DateTimeOffset Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => reader.Instant();

        public override void Write(Utf8JsonWriter writer, DateTimeOffset value, JsonSerializerOptions options) => writer.WriteStringValue(value);
    }
}

/// <summary>The documents of a scenario file, known when compiled: nothing is looked up by reflection as a file is read.</summary>
[JsonSourceGenerationOptions(GenerationMode = JsonSourceGenerationMode.Metadata)]
[JsonSerializable(typeof(ScenarioDocument))]
[JsonSerializable(typeof(PayeeCodeDocument.WithDays))]
internal sealed partial class ScenarioTypes : JsonSerializerContext;
