using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Goes through the fields of one object, strictly: an unknown one, one given twice, a null where a value must be or a required one left
/// out is a <see cref="JsonException"/>. The names are those of the enum, in camel case.
/// </summary>
/// <param name="required">A bit for each field that must be there: <c>1 &lt;&lt; (int)field</c>.</param>
internal ref struct JsonFields<TField>(uint required) where TField : unmanaged, Enum
{
    private static readonly byte[][] Names = [.. Words.All<TField>().Select(Encoding.UTF8.GetBytes)];

    private uint _seen;
    private int _expected;

    /// <summary>Moves to the next value that is not null; false at the end of the object.</summary>
    /// <param name="reader">At the start of the object, or at the end of the value before.</param>
    public bool Next(ref Utf8JsonReader reader, out TField field)
    {
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var index = IndexOf(reader.ValueSpan);
            var bit = 1u << index;
            if ((_seen & bit) != 0) throw new JsonException("A field is given twice.");
            _seen |= bit;
            reader.Read();
            if (reader.TokenType != JsonTokenType.Null)
            {
                field = Unsafe.BitCast<int, TField>(index);
                return true;
            }
            if ((required & bit) != 0) throw new JsonException("A null is where a value must be.");
        }
        if ((_seen & required) != required) throw new JsonException("A required field is missing.");
        field = default;
        return false;
    }

    /// <summary>Fields mostly come in the order in which the format lists them.</summary>
    private int IndexOf(ReadOnlySpan<byte> name)
    {
        for (var i = _expected; i < Names.Length; i++)
        {
            if (name.SequenceEqual(Names[i])) return Found(i);
        }
        for (var i = 0; i < _expected; i++)
        {
            if (name.SequenceEqual(Names[i])) return Found(i);
        }
        throw new JsonException("There is no such field.");
    }

    private int Found(int index)
    {
        _expected = index + 1;
        return index;
    }
}
