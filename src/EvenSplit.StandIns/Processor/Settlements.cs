using System.Globalization;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.StandIns.Shop;

namespace EvenSplit.StandIns.Processor;

/// <summary>The processor: takes its fee of every charge, and writes a settlement report of what it pays out.</summary>
public sealed class Settlements(ShopState state, ShopSettings settings)
{
    private const decimal Percent = 0.0175m;
    private const long Fixed = 25;

    private static readonly string[] Header = ["settlement_id", "settled_on", "type", "order_id", "reference", "currency", "gross", "fee", "net"];

    /// <summary>What it takes of a charge, in cents: 1.75 % and 25 cents.</summary>
    public static long FeeFor(long charged) => (long)Math.Round(charged * Percent, MidpointRounding.AwayFromZero) + Fixed;

    /// <summary>Files written so far, the latest first.</summary>
    public IReadOnlyList<string> Files => [.. Directory.EnumerateFiles(settings.Folder, "settlement-*.csv").Select(f => Path.GetFileName(f)!).OrderDescending()];

    /// <summary>The processor's own week ends on Sunday: on Mondays by the shop's clock it settles by itself.</summary>
    public void SettleWhenDue()
    {
        if (state.Read(kept => kept.Today.DayOfWeek) == DayOfWeek.Monday) Settle();
    }

    /// <summary>Settles what has moved since the last report.</summary>
    /// <returns>The report's name; null where nothing has moved.</returns>
    public string? Settle() => state.Change(kept =>
    {
        if (kept.Unsettled.Count == 0) return null;
        var id = $"ST-{++kept.Settlements:D4}";
        var net = kept.Unsettled.Sum(m => m.Gross - m.Fee);
        string[] Row(string type, string order, string reference, long gross, long fee) =>
            [id, kept.Today.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), type, order, reference, "EUR", Major(gross), Major(fee), Major(gross - fee)];
        var rows = kept.Unsettled.Select((m, i) => Row(m.Type, m.Order, $"{id}-{i + 1}", m.Gross, m.Fee)).Append(Row("payout", "", id, -net, 0));
        var name = $"settlement-{kept.Today:yyyy-MM-dd}-{id}.csv";
        using (var file = new StreamWriter(Path.Combine(settings.Folder, name))) CsvOutput.Write(file, Header, rows);
        kept.Unsettled.Clear();
        return name;
    });

    private static string Major(long cents) => new Money(cents, ShopCatalogue.Euro).ToMajorText();
}
