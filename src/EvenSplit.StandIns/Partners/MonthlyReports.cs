using System.Globalization;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.StandIns.Shop;

namespace EvenSplit.StandIns.Partners;

/// <summary>Partners of the seller: two vendors who send an invoice of each month, and a marketplace that reports what it thinks a payee has earned by it.</summary>
public sealed class MonthlyReports(ShopState state, ShopSettings settings)
{
    private const int DaysToPay = 30;

    private static readonly string[] Header = ["report", "line_id", "payee", "order_id", "from", "to", "amount", "currency", "note", "invoice", "issued_on", "due_on"];

    /// <summary>What a partner counts: its products or its code, and its share of the goods without tax. None of them takes fees off, as its agreement says.</summary>
    private sealed record Partner(string Report, string Payee, string InvoicePrefix, Func<ShopOrder, bool> Counts, decimal Share);

    private static readonly Partner[] Partners =
    [
        new("brackenside", "brackenside-joinery", "BJ", o => o.Product.StartsWith("box-", StringComparison.Ordinal), 0.68m),
        new("lowmeadow", "lowmeadow-seeds", "LS", o => o.Product.StartsWith("seed-", StringComparison.Ordinal), 0.55m),
        new("open-field-market", "stone-wall-podcast", "", o => o.Code.StartsWith("STONE", StringComparison.OrdinalIgnoreCase), 0.10m),
    ];

    /// <summary>On the first of a month by the shop's clock each reports of the month before.</summary>
    public void ReportWhenDue()
    {
        if (state.Read(kept => kept.Today) is { Day: 1 } today) Report(today.AddMonths(-1), today.AddDays(-1), today);
    }

    /// <summary>Reports of the month up to now, as if it were over.</summary>
    public void ReportNow()
    {
        var today = state.Read(kept => kept.Today);
        Report(new DateOnly(today.Year, today.Month, 1), today, today);
    }

    private void Report(DateOnly from, DateOnly to, DateOnly issuedOn)
    {
        foreach (var partner in Partners)
        {
            var orders = state.Read(kept => kept.Orders.Where(o => o.PaidAt is { } paid && !o.IsTest && !o.IsTakenBack && partner.Counts(o) && DateOnly.FromDateTime(paid.UtcDateTime) >= from && DateOnly.FromDateTime(paid.UtcDateTime) <= to).ToArray());
            if (orders.Length == 0) continue;
            var report = string.Create(CultureInfo.InvariantCulture, $"{partner.Report}-{to:yyyy-MM-dd}");
            var isInvoice = partner.InvoicePrefix.Length > 0;
            string[] invoice = isInvoice ? [$"{partner.InvoicePrefix}-{to:yyyyMMdd}", Day(issuedOn), Day(issuedOn.AddDays(DaysToPay))] : ["", "", ""];
            Write($"{report}.csv", orders.Select((o, i) => (string[])
            [
                report, $"{i + 1}", partner.Payee, o.Id, Day(from), Day(to), new Money((long)Math.Round((o.Charged - o.Tax) * partner.Share, MidpointRounding.AwayFromZero), ShopCatalogue.Euro).ToMajorText(), "EUR", $"{o.Quantity} × {o.Product}", .. invoice,
            ]));
        }
    }

    /// <summary>It is whole once it has its name.</summary>
    private void Write(string name, IEnumerable<string[]> rows)
    {
        var whole = Path.Combine(Directory.CreateDirectory(Path.Combine(settings.Partners, "out")).FullName, name);
        using (var file = new StreamWriter(whole + ".part")) CsvOutput.Write(file, Header, rows);
        File.Move(whole + ".part", whole, overwrite: true);
    }

    private static string Day(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
