using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// The result of a book as JSON (contract, section 10), a line for each order, entry, run and exception. What comes is put into words at once and waits as
/// text, since orders are listed as the facts list them and before the entries.
/// </summary>
public sealed class ResultText : IResultTaker, IDisposable
{
    private const int OutputPortion = 1 << 20;
    private const int OrdersInPart = 1 << 14;
    private const int MostParts = 64;

    // Orders come as they were paid and are listed as the facts have them: those listed near each other wait together and are read back at once.
    private readonly WaitingText[] _orders;
    private readonly int _ordersInPart;
    private readonly (long Start, int Length)[] _places;
    private readonly WaitingText _entries = new();

    /// <param name="orders">How many orders the facts have.</param>
    public ResultText(int orders)
    {
        _ordersInPart = Math.Max(OrdersInPart, orders / MostParts + 1);
        _orders = [.. Enumerable.Range(0, orders / _ordersInPart + 1).Select(_ => new WaitingText())];
        _places = new (long, int)[orders];
    }

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
        var part = _orders[index / _ordersInPart];
        var text = part.Next();
        var start = part.Length;
        text.Raw(index == 0 ? "\n"u8 : ",\n"u8);
        ResultItems.Order(text, order);
        _places[index] = (start, (int)(part.Length - start));
    }

    /// <summary>Writes all of it. Every order must have been taken.</summary>
    /// <param name="traces">A further section, where given: the ledgers whose amounts are explained.</param>
    public void Write(
        Stream file, IReadOnlyList<RunResult> runs, IReadOnlyList<CalculationException> exceptions, (Rulebook Rules, IReadOnlyList<OrderLedger> Ledgers)? traces = null)
    {
        // Orders are written in pieces, each a call of the system otherwise.
        var output = new BufferedStream(file, OutputPortion);
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
        output.Flush();
    }

    private void WriteOrders(Stream output)
    {
        for (var i = 0; i < _places.Length; i++)
        {
            var part = _orders[i / _ordersInPart];
            part.CopyTo(output, _places[i].Start, _places[i].Length);
            if ((i + 1) % _ordersInPart == 0) part.Dispose();
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
        foreach (var part in _orders) part.Dispose();
        _entries.Dispose();
    }
}
