using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>An adjustment as a file says it.</summary>
/// <param name="Reference">Of what the row says and how often the file says it, so that the same file twice is known again.</param>
/// <param name="Kind">bonus, recharge or correction.</param>
public sealed record FiledAdjustment(string Reference, PayeeId Payee, DateOnly On, Money Amount, string Kind, string Note);

/// <summary>adjustments.csv: a row is an adjustment; a recharge has a minus.</summary>
public static class AdjustmentsCsv
{
    public static CsvColumns Columns { get; } = new("adjustments", ["payee", "on", "amount", "currency", "kind", "note"], []);

    public static (IReadOnlyList<FiledAdjustment> Adjustments, IReadOnlyList<RowFault> Faults) Read(IEnumerable<CsvRow> rows, Rulebook rules)
    {
        var (read, faults, times) = (new List<FiledAdjustment>(), new List<RowFault>(), new Dictionary<string, int>());
        foreach (var row in rows)
        {
            var cells = new CellReader(row, rules.Policy.Time);
            var payee = new PayeeId(cells.Required("payee"));
            if (payee.Value.Length > 0 && rules.FindPayee(payee) is null) cells.Refuse("payee", "the id of a payee in the book");
            var on = cells.Date("on");
            var currency = cells.Currency("currency");
            Money amount = default;
            if (currency.Code is not null && !Money.TryParseMajor(row["amount"].Replace('−', '-'), currency, out amount, out var expected)) cells.Refuse("amount", expected!);
            else if (amount.Minor == 0) cells.Refuse("amount", "an amount other than 0, such as 25.00 or -12.50");
            var kind = row["kind"].ToLowerInvariant();
            if (kind is not ("bonus" or "recharge" or "correction")) cells.Refuse("kind", "bonus, recharge or correction");
            var note = cells.Required("note");
            faults.AddRange(cells.Faults);
            if (cells.Faults.Count > 0) continue;
            var says = string.Create(CultureInfo.InvariantCulture, $"{payee.Value}\n{on:yyyy-MM-dd}\n{amount.Minor}\n{currency.Code}\n{kind}\n{note}");
            times[says] = times.GetValueOrDefault(says) + 1;
            read.Add(new FiledAdjustment("file-" + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{says}\n{times[says]}")))[..32], payee, on, amount, kind, note));
        }
        return (faults.Count == 0 ? read : [], faults);
    }
}
