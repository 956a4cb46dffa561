using System.Text;
using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Reads single values, each of the one form its field asks for; any other is a <see cref="JsonException"/>.</summary>
internal static class JsonValues
{
    public static string Text(this ref Utf8JsonReader reader) => Is(ref reader, JsonTokenType.String).GetString()!;

    public static long Whole(this ref Utf8JsonReader reader) =>
        Is(ref reader, JsonTokenType.Number).TryGetInt64(out var value) ? value : throw new JsonException("Not a whole number.");

    public static int SmallWhole(this ref Utf8JsonReader reader) =>
        Is(ref reader, JsonTokenType.Number).TryGetInt32(out var value) ? value : throw new JsonException("Not a whole number.");

    public static bool Truth(this ref Utf8JsonReader reader) => reader.TokenType switch
    {
        JsonTokenType.True => true,
        JsonTokenType.False => false,
        _ => throw new JsonException("Neither true nor false."),
    };

    /// <summary>ISO 8601 with an offset: without one an instant is a guess.</summary>
    public static DateTimeOffset Instant(this ref Utf8JsonReader reader)
    {
        if (reader.TokenType == JsonTokenType.String && HasOffset(reader) && reader.TryGetDateTimeOffset(out var instant)
            // Dates are taken in the book's zone, up to a day away.
            && instant.UtcDateTime.Year is > 1 and < 9999)
        {
            return instant;
        }
        throw new JsonException("Not an instant with an offset.");
    }

    public static Currency Currency(this ref Utf8JsonReader reader) =>
        Core.Currency.TryOf(RepeatedTexts.Read(ref reader), out var currency) ? currency : throw new JsonException("Not a currency.");

    public static T Word<T>(this ref Utf8JsonReader reader) where T : struct, Enum =>
        Words.TryRead<T>(RepeatedTexts.Read(ref reader), out var value) ? value : throw new JsonException("Not one of the words there are.");

    /// <summary>Asks for the beginning of an object or a list.</summary>
    public static void StartOf(this ref Utf8JsonReader reader, JsonTokenType start) => Is(ref reader, start);

    /// <summary>Moves to the next item of a list; false at its end.</summary>
    public static bool Item(this ref Utf8JsonReader reader) => reader.Read() && reader.TokenType != JsonTokenType.EndArray;

    private static bool HasOffset(in Utf8JsonReader reader)
    {
        ReadOnlySpan<byte> text = reader.ValueIsEscaped ? Encoding.UTF8.GetBytes(reader.GetString()!) : reader.ValueSpan;
        return text.Length > 16 && text[10] == 'T' && (text[^1] == 'Z' || text[^6] is (byte)'+' or (byte)'-');
    }

    private static ref Utf8JsonReader Is(ref Utf8JsonReader reader, JsonTokenType form)
    {
        if (reader.TokenType != form) throw new JsonException($"Not a {form}.");
        return ref reader;
    }
}
