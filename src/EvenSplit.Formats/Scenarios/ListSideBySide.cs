using System.Text.Json;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Reads a long list of a scenario, which its orders are most of, in portions side by side: one pass finds where each item begins and ends, and
/// what is found is read meanwhile.
/// </summary>
/// <param name="name">The list's name among the fields of the scenario.</param>
/// <param name="read">Reads one item, an object and nothing else.</param>
internal sealed class ListSideBySide<T>(string name, ListSideBySide<T>.ReadItem read)
{
    private const int Portion = 512;

    public delegate T ReadItem(ReadOnlySpan<byte> json);

    private readonly record struct Piece(int Start, int Length);

    /// <returns>The items, and the file with an empty list in their place; null where it has no such list in the form it must have.</returns>
    /// <exception cref="JsonException">Some field has not the form it must have.</exception>
    /// <exception cref="InvalidOperationException">A text is no text: half of a surrogate pair.</exception>
    public (T[] Items, ReadOnlyMemory<byte> Remainder)? TakeOut(ReadOnlyMemory<byte> json)
    {
        var portions = new List<Task<T[]>>();
        try
        {
            if (Find(json, portions) is not { } list) return null;
            byte[] remainder = [.. json.Span[..list.Start], .. "[]"u8, .. json.Span[(list.Start + list.Length)..]];
            return ([.. portions.SelectMany(p => p.GetAwaiter().GetResult())], remainder);
        }
        finally
        {
            // Nothing goes on in the background once the answer is there; a fault among them has been told by the first.
            Task.WhenAll(portions).ContinueWith(_ => { }, TaskScheduler.Default).Wait();
        }
    }

    /// <summary>Where the list is; starts reading portions as they are found.</summary>
    private Piece? Find(ReadOnlyMemory<byte> json, List<Task<T[]>> portions)
    {
        var reader = new Utf8JsonReader(json.Span);
        if (!reader.Read() || reader.TokenType != JsonTokenType.StartObject) return null;
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var isFound = reader.ValueTextEquals(name);
            reader.Read();
            if (isFound) return reader.TokenType == JsonTokenType.StartArray ? InPortions(json, (int)reader.TokenStartIndex, portions) : null;
            reader.Skip();
        }
        return null;
    }

    /// <summary>From the list's opening bracket to its closing one; null where anything but objects with commas between them is in it.</summary>
    private Piece? InPortions(ReadOnlyMemory<byte> json, int start, List<Task<T[]>> portions)
    {
        var text = json.Span;
        var found = new List<Piece>(Portion);
        for (var at = PastSpace(text, start + 1); at < text.Length; at = PastSpace(text, at + 1))
        {
            if (text[at] == ']' && found.Count == 0 && portions.Count == 0) return new Piece(start, at + 1 - start);
            var end = EndOfObject(text, at);
            if (end < 0) return null;
            found.Add(new Piece(at, end - at));
            at = PastSpace(text, end);
            var isLast = at < text.Length && text[at] == ']';
            if (isLast || found.Count == Portion)
            {
                portions.Add(Start(json, found));
                found = new List<Piece>(Portion);
            }
            if (isLast) return new Piece(start, at + 1 - start);
            if (at == text.Length || text[at] != ',') return null;
        }
        return null;
    }

    private static int PastSpace(ReadOnlySpan<byte> text, int at)
    {
        while (at < text.Length && text[at] is (byte)' ' or (byte)'\n' or (byte)'\r' or (byte)'\t') at++;
        return at;
    }

    /// <summary>
    /// Past the brace that closes the object which begins here; below 0 where none does. What is between is not looked at: who reads it does.
    /// </summary>
    private static int EndOfObject(ReadOnlySpan<byte> text, int at)
    {
        if (text[at] != '{') return -1;
        for (var depth = 0; at < text.Length; at++)
        {
            switch (text[at])
            {
                case (byte)'{':
                    depth++;
                    break;
                case (byte)'}':
                    if (--depth == 0) return at + 1;
                    break;
                case (byte)'"':
                    for (at++; at < text.Length && text[at] != '"'; at++)
                    {
                        if (text[at] == '\\') at++;
                    }
                    break;
            }
        }
        return -1;
    }

    private Task<T[]> Start(ReadOnlyMemory<byte> json, List<Piece> pieces) => Task.Run(() =>
    {
        var items = new T[pieces.Count];
        for (var i = 0; i < items.Length; i++) items[i] = read(json.Span.Slice(pieces[i].Start, pieces[i].Length));
        return items;
    });
}
