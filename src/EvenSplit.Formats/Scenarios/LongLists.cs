using System.Buffers;
using System.Text.Json;

namespace EvenSplit.Formats.Scenarios;

/// <summary>A list in a scenario that is read apart from the rest.</summary>
internal interface ILongList : IDisposable
{
    string Name { get; }

    /// <summary>Whether there is one.</summary>
    bool IsFound { get; }

    /// <summary>Takes up the list that opens at <paramref name="start"/>.</summary>
    /// <returns>Where what follows its closing bracket begins; null where anything but objects with commas between them is in it.</returns>
    int? PastEnd(ReadOnlyMemory<byte> json, int start);
}

/// <summary>Parts a scenario into its long lists and the rest, which is short.</summary>
internal static class LongLists
{
    /// <returns>The scenario with an empty list in the place of each; null where one of them has not the form it must have.</returns>
    /// <exception cref="JsonException">The rest is no JSON.</exception>
    public static ReadOnlyMemory<byte>? TakeOut(ReadOnlyMemory<byte> json, params ILongList[] lists)
    {
        var rest = new ArrayBufferWriter<byte>();
        var from = 0;
        var reader = new Utf8JsonReader(json.Span);
        if (!reader.Read() || reader.TokenType != JsonTokenType.StartObject) return null;
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var list = Named(lists, ref reader);
            var atName = reader.CurrentState;
            reader.Read();
            if (list is null || reader.TokenType != JsonTokenType.StartArray)
            {
                reader.Skip();
                continue;
            }
            var start = from + (int)reader.TokenStartIndex;
            if (list.PastEnd(json, start) is not { } end) return null;
            rest.Write(json.Span[from..start]);
            rest.Write(Empty);
            from = end;
            reader = new Utf8JsonReader(json.Span[end..], isFinalBlock: true, PastEmptyList(atName));
        }
        rest.Write(json.Span[from..]);
        return rest.WrittenMemory;
    }

    private static ReadOnlySpan<byte> Empty => "[]"u8;

    /// <summary>The list whose name was read, where it was not found before: a name that stands twice is a fault which is told elsewhere.</summary>
    private static ILongList? Named(ILongList[] lists, ref Utf8JsonReader reader)
    {
        foreach (var list in lists)
        {
            if (!list.IsFound && reader.ValueTextEquals(list.Name)) return list;
        }
        return null;
    }

    /// <summary>Where a reader is that has found an empty list after a name.</summary>
    private static JsonReaderState PastEmptyList(JsonReaderState atName)
    {
        var reader = new Utf8JsonReader(Empty, isFinalBlock: false, atName);
        while (reader.Read())
        {
        }
        return reader.CurrentState;
    }
}
