using System.Text.Json;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// A long list of a scenario, which its orders are most of, read in portions side by side: one pass finds where each item begins and ends, and
/// what is found is read meanwhile.
/// </summary>
/// <param name="name">The list's name among the fields of the scenario.</param>
/// <param name="read">Reads one item, an object and nothing else.</param>
internal sealed class ListSideBySide<T>(string name, ListSideBySide<T>.ReadItem read) : ILongList
{
    private const int Portion = 512;

    private readonly List<Task<T[]>> _portions = [];

    public delegate T ReadItem(ReadOnlySpan<byte> json);

    private readonly record struct Piece(int Start, int Length);

    public string Name => name;

    public bool IsFound { get; private set; }

    /// <summary>What was read; waits for it.</summary>
    /// <exception cref="JsonException">Some field has not the form it must have.</exception>
    /// <exception cref="InvalidOperationException">A text is no text: half of a surrogate pair.</exception>
    public T[] Items() => [.. _portions.SelectMany(p => p.GetAwaiter().GetResult())];

    /// <summary>Nothing goes on in the background once the file is let go; a fault among the portions has been told by the first.</summary>
    public void Dispose() => Task.WhenAll(_portions).ContinueWith(_ => { }, TaskScheduler.Default).Wait();

    public int? PastEnd(ReadOnlyMemory<byte> json, int start)
    {
        IsFound = true;
        var text = json.Span;
        var found = new List<Piece>(Portion);
        for (var at = PastSpace(text, start + 1); at < text.Length; at = PastSpace(text, at + 1))
        {
            if (text[at] == ']' && found.Count == 0 && _portions.Count == 0) return at + 1;
            var end = EndOfObject(text, at);
            if (end < 0) return null;
            found.Add(new Piece(at, end - at));
            at = PastSpace(text, end);
            var isLast = at < text.Length && text[at] == ']';
            if (isLast || found.Count == Portion)
            {
                _portions.Add(Start(json, found));
                found = new List<Piece>(Portion);
            }
            if (isLast) return at + 1;
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
        for (var depth = 0; ; at++)
        {
            var next = text[at..].IndexOfAny((byte)'"', (byte)'{', (byte)'}');
            if (next < 0) return -1;
            at += next;
            switch (text[at])
            {
                case (byte)'{':
                    depth++;
                    break;
                case (byte)'}':
                    if (--depth == 0) return at + 1;
                    break;
                default:
                    at = EndOfText(text, at + 1);
                    if (at < 0) return -1;
                    break;
            }
        }
    }

    /// <summary>The quote that closes the text which begins here; below 0 where none does.</summary>
    private static int EndOfText(ReadOnlySpan<byte> text, int at)
    {
        while (at < text.Length)
        {
            var next = text[at..].IndexOfAny((byte)'"', (byte)'\\');
            if (next < 0) return -1;
            at += next;
            if (text[at] == '"') return at;
            at += 2;
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
