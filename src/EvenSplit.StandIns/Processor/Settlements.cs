using System.Globalization;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.StandIns.Bank;
using EvenSplit.StandIns.Shop;
using Movement = EvenSplit.StandIns.Shop.Movement;

namespace EvenSplit.StandIns.Processor;

/// <summary>The processor: takes its fee of every charge, and writes a settlement report of what it pays out.</summary>
public sealed class Settlements(ShopState state, ShopSettings settings, BankState bank)
{
    /// <summary>What it takes each month beside its fees of charges, in cents.</summary>
    private const long MonthlyFee = 1200;

    /// <summary>One charge in so many is settled with a cent more of a fee than agreed: nobody is without fault.</summary>
    private const int FaultyOf = 10;

    private const int DaysToArrive = 2;

    private const decimal Percent = 0.0175m;
    private const long Fixed = 25;

    private static readonly string[] Header = ["settlement_id", "settled_on", "type", "order_id", "reference", "refund_id", "currency", "gross", "fee", "net"];

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
        var id = $"SP-{++kept.Settlements:D4}";
        var lines = kept.Unsettled.Select(m => m.Type == "sale" && IsFaulty(m.Order) ? m with { Fee = m.Fee + 1 } : m).ToList();
        var month = (kept.Today.Year * 100) + kept.Today.Month;
        if (kept.FeeTakenFor != month) lines.Add(new Movement("fee", "", kept.Today, 0, MonthlyFee));
        kept.FeeTakenFor = month;
        var net = lines.Sum(m => m.Gross - m.Fee);
        string[] Row(string type, string order, string reference, string refund, long gross, long fee) =>
            [id, kept.Today.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), type, order, reference, refund, "EUR", Major(gross), Major(fee), Major(gross - fee)];
        var rows = lines.Select((m, i) => Row(m.Type, m.Order, $"{id}-{i + 1}", m.Refund, m.Gross, m.Fee)).Append(Row("payout", "", id, "", -net, 0));
        var name = $"settlement-{kept.Today:yyyy-MM-dd}-{id}.csv";
        using (var file = new StreamWriter(Path.Combine(settings.Folder, name))) CsvOutput.Write(file, Header, rows);
        kept.Unsettled.Clear();
        Leave(name);
        // What is owed to the processor is taken off the next payout.
        if (net > 0) bank.Change(b => b.Credits.Count + Add(b, new Credit(kept.Today.AddDays(DaysToArrive), net / 100m, $"Settlement {id}")));
        return name;
    });

    private static int Add(BankState.Kept bank, Credit credit)
    {
        bank.Credits.Add(credit);
        return 1;
    }

    private static bool IsFaulty(string order) => int.TryParse(order[(order.IndexOf('-', StringComparison.Ordinal) + 1)..], CultureInfo.InvariantCulture, out var number) && number % FaultyOf == 0;

    /// <summary>Lays a copy where it is fetched; it is whole once it has its name.</summary>
    private void Leave(string name)
    {
        var whole = Path.Combine(Directory.CreateDirectory(Path.Combine(settings.Processor, "out")).FullName, name);
        File.Copy(Path.Combine(settings.Folder, name), whole + ".part", overwrite: true);
        File.Move(whole + ".part", whole, overwrite: true);
    }

    private static string Major(long cents) => new Money(cents, ShopCatalogue.Euro).ToMajorText();
}
