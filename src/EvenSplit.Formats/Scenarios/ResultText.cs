using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// The result of a book as JSON (contract, section 10), a line for each order, entry, run and exception. What comes is put into words at once and waits as
/// text, since orders are listed as the facts list them and before the entries.
/// </summary>
/// <param name="orders">How many orders the facts have.</param>
public sealed class ResultText(int orders) : IResultTaker, IDisposable
{
    private readonly WaitingText _orders = new();
    private readonly WaitingText _entries = new();
    private readonly (long Start, int Length)[] _places = new (long, int)[orders];

    public void Take(IReadOnlyList<Entry> entries)
    {
        for (var i = 0; i < entries.Count; i++)
        {
            var text = _entries.Next();
            text.Raw(_entries.Length == 0 ? "\n"u8 : ",\n"u8);
            ResultItems.Entry(text, entries[i]);
        }
    }

    public void Take(int index, OrderResult order)
    {
        var text = _orders.Next();
        var start = _orders.Length;
        text.Raw(index == 0 ? "\n"u8 : ",\n"u8);
        ResultItems.Order(text, order);
        _places[index] = (start, (int)(_orders.Length - start));
    }

    /// <summary>Writes all of it. Every order must have been taken.</summary>
    /// <param name="traces">A further section, where given: the ledgers whose amounts are explained.</param>
    public void Write(
        Stream output, IReadOnlyList<RunResult> runs, IReadOnlyList<CalculationException> exceptions, (Rulebook Rules, IReadOnlyList<OrderLedger> Ledgers)? traces = null)
    {
        output.Write("{\n\"orders\": ["u8);
        WriteOrders(output);
        output.Write("\n],\n\"entries\": ["u8);
        _entries.CopyTo(output, 0, _entries.Length);
        output.Write("\n],\n"u8);
        List(output, "\"runs\": ["u8, runs, ResultItems.Run);
        output.Write(",\n"u8);
        List(output, "\"exceptions\": ["u8, exceptions, ResultItems.Exception);
        if (traces is { } explained)
        {
            output.Write(",\n"u8);
            TraceWriter.WriteAll(output, explained.Rules, explained.Ledgers);
        }
        output.Write("\n}\n"u8);
    }

    /// <summary>Orders that were taken one after another as they are listed are copied together.</summary>
    private void WriteOrders(Stream output)
    {
        for (var i = 0; i < _places.Length;)
        {
            var (start, length) = (_places[i].Start, (long)_places[i].Length);
            for (i++; i < _places.Length && _places[i].Start == start + length; i++) length += _places[i].Length;
            _orders.CopyTo(output, start, length);
        }
    }

    private static void List<T>(Stream output, ReadOnlySpan<byte> beginning, IReadOnlyList<T> items, Action<JsonText, T> write)
    {
        output.Write(beginning);
        var text = new JsonText();
        for (var i = 0; i < items.Count; i++)
        {
            text.Raw(i == 0 ? "\n"u8 : ",\n"u8);
            write(text, items[i]);
            output.Write(text.Written);
            text.Clear();
        }
        output.Write("\n]"u8);
    }

    public void Dispose()
    {
        _orders.Dispose();
        _entries.Dispose();
    }
}
