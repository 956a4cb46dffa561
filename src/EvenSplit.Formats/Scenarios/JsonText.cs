using System.Buffers;
using System.Buffers.Text;
using System.Globalization;
using System.Text;
using System.Text.Json;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// JSON put together from pieces written out before, such as <c>{"id":</c>, and values between them. A result has millions of values and
/// only a few dozen different pieces; a general writer looks at each name anew.
/// </summary>
internal sealed class JsonText
{
    /// <summary>What stands in JSON as it is.</summary>
    private static readonly SearchValues<char> Plain = SearchValues.Create(
        "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789 -_./:,;#@!()=*~|?$%^[]{}");

    private const int LongestNumber = 20;
    private const int LongestDate = 10;

    private byte[] _bytes = new byte[1 << 16];
    private int _length;

    public ReadOnlySpan<byte> Written => _bytes.AsSpan(0, _length);

    public void Clear() => _length = 0;

    public JsonText Raw(ReadOnlySpan<byte> piece)
    {
        piece.CopyTo(Room(piece.Length));
        _length += piece.Length;
        return this;
    }

    /// <summary>A text in quotes, or null.</summary>
    public JsonText Text(string? value)
    {
        if (value is null) return Raw("null"u8);
        if (value.AsSpan().ContainsAnyExcept(Plain)) return Raw("\""u8).Raw(JsonEncodedText.Encode(value).EncodedUtf8Bytes).Raw("\""u8);
        var room = Room(value.Length + 2);
        room[0] = (byte)'"';
        Encoding.ASCII.GetBytes(value, room[1..]);
        room[value.Length + 1] = (byte)'"';
        _length += value.Length + 2;
        return this;
    }

    public JsonText Number(long value)
    {
        Utf8Formatter.TryFormat(value, Room(LongestNumber), out var written);
        _length += written;
        return this;
    }

    /// <summary>A date in quotes, or null.</summary>
    public JsonText Date(DateOnly? value)
    {
        if (value is not { } date) return Raw("null"u8);
        Raw("\""u8);
        date.TryFormat(Room(LongestDate), out var written, "O", CultureInfo.InvariantCulture);
        _length += written;
        return Raw("\""u8);
    }

    private Span<byte> Room(int length)
    {
        if (_bytes.Length - _length < length) Array.Resize(ref _bytes, Math.Max(_bytes.Length * 2, _length + length));
        return _bytes.AsSpan(_length);
    }
}
