using System.Text;
using System.Text.Json;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Texts that come again and again in a file, such as the ids of products: one object for each as long as it is not crowded out. May be
/// asked from several threads.
/// </summary>
internal static class RepeatedTexts
{
    private const int LongestKept = 32;

    // A place is only ever replaced whole, so that whoever looks finds one text or another.
    private static readonly string?[] Kept = new string?[4096];

    /// <exception cref="JsonException">The value is no text.</exception>
    public static string Read(ref Utf8JsonReader reader)
    {
        if (reader.TokenType != JsonTokenType.String || reader.ValueIsEscaped || reader.ValueSpan.Length > LongestKept) return reader.Text();
        ref var kept = ref Kept[Place(reader.ValueSpan)];
        if (kept is { } text && Ascii.Equals(reader.ValueSpan, text)) return text;
        return kept = reader.GetString()!;
    }

    private static int Place(ReadOnlySpan<byte> text)
    {
        var hash = (uint)text.Length;
        foreach (var b in text) hash = unchecked(hash * 31 + b);
        return (int)(hash % (uint)Kept.Length);
    }
}
