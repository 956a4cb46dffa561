using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Writes a result that is at hand as JSON.</summary>
public static class ResultWriter
{
    public static void Write(BookResult result, Stream output)
    {
        using var text = new ResultText(result.Orders.Count);
        for (var i = 0; i < result.Orders.Count; i++) text.Take(i, result.Orders[i]);
        text.Take(result.Entries);
        text.Write(output, result.Runs, result.Exceptions);
    }
}
