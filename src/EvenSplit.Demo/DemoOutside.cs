using System.Globalization;
using System.Text;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Demo;

/// <summary>
/// What processors, the bank and partners wrote in the demonstration's fourteen months, as they would have: right until September, and in October with a fault of every kind.
/// </summary>
internal sealed class DemoOutside(IServiceProvider services, string lead)
{
    private static readonly DateOnly FirstFault = new(2026, 10, 1), Today = new(2026, 11, 3);
    private const string Network = "stone-wall-podcast";
    private static readonly Period Faulty = new(202610);
    private static readonly string[] SettlementHeader = ["settlement_id", "settled_on", "type", "order_id", "reference", "refund_id", "currency", "gross", "fee", "net"];
    private static readonly string[] StatementHeader = ["id", "account", "booked_on", "amount", "currency", "reference", "name", "note", "balance_after"];
    private static readonly string[] OutsideHeader = ["report", "line_id", "payee", "order_id", "from", "to", "amount", "currency", "note", "invoice", "issued_on", "due_on"];

    /// <summary>A line of a settlement before it is written; amounts in cents.</summary>
    private sealed record Line(string Type, string Order, string Refund, string Currency, long Gross, long Fee);

    /// <summary>Payouts that have arrived, for the bank.</summary>
    private readonly List<(DateOnly On, string Settlement, long Cents)> _payouts = [];

    private int _settlements;
    private int _sales;

    public async Task BringInAsync()
    {
        Do<FindMatches>(m => m.RunAll());
        var expected = Read(db => db.Awaited.AsNoTracking().Where(a => a.Bench == Books.Model.Bench.Processors).AsEnumerable().OrderBy(a => a.On).ThenBy(a => a.Ours, StringComparer.Ordinal).ToArray());
        var unpaid = Read(db => db.Orders.AsNoTracking().Where(o => o.Status == OrderStatus.Unpaid && o.Processor == "card" && o.Period == 202610).OrderBy(o => o.OrderId).Select(o => o.OrderId).First());
        foreach (var processor in expected.GroupBy(a => a.Source).OrderBy(g => g.Key, StringComparer.Ordinal))
        {
            foreach (var month in processor.GroupBy(a => Monday(a.On)).Where(w => w.Key <= Today).GroupBy(w => Period.Of(w.Key))) await SettleAsync(processor.Key, month.Key, month, unpaid);
        }
        foreach (var account in Read(db => db.PayingAccounts.AsNoTracking().OrderBy(a => a.Currency).ToArray())) await BankAsync(account);
        await PartnersAsync();
        Do<FindMatches>(m => m.RunAll());
        SettleTheOrdinary();
    }

    /// <summary>A week is settled on the Monday after it.</summary>
    private static DateOnly Monday(DateOnly on) => on.AddDays(7 - (((int)on.DayOfWeek + 6) % 7));

    private async Task SettleAsync(string processor, Period month, IEnumerable<IGrouping<DateOnly, AwaitedRecord>> weeks, string unpaid)
    {
        var rows = new List<string[]>();
        foreach (var week in weeks.OrderBy(w => w.Key))
        {
            var id = string.Create(CultureInfo.InvariantCulture, $"{(processor == "card" ? "ST" : processor == "market-pay" ? "MP" : "GV")}-{++_settlements:D4}");
            var isFaulty = Period.Of(week.Key) == Faulty && processor == "card";
            var lines = week.Where(a => a.Currency == "EUR").Select(Written).ToList();
            if (lines.Count == 0) continue;
            if (isFaulty) lines = WithFaults(week.Key, lines, unpaid);
            if (week.Key.Day <= 7) lines.Add(new Line("fee", "", "", "EUR", 0, processor == "card" ? 1200 : 300));
            var net = lines.Where(l => l.Currency == "EUR").Sum(l => l.Gross - l.Fee);
            // In the third week of October a few cents are missing from the payout itself.
            var paid = isFaulty && week.Key.Day is > 14 and <= 21 ? net - 10 : net;
            rows.AddRange(lines.Select((l, i) => Row(id, week.Key, l, i + 1)));
            foreach (var foreign in lines.Where(l => l.Currency != "EUR")) rows.Add(Row(id, week.Key, new Line("payout", "", "", foreign.Currency, -(foreign.Gross - foreign.Fee), 0), rows.Count + 1));
            if (paid > 0)
            {
                rows.Add(Row(id, week.Key, new Line("payout", "", "", "EUR", -paid, 0), lines.Count + 1));
                // One payout of October has not arrived.
                if (!(isFaulty && week.Key.Day is > 7 and <= 14)) _payouts.Add((week.Key.AddDays(2), id, paid));
            }
        }
        if (rows.Count > 0) await ImportAsync(ImportKind.Settlement, $"settlement-{processor}-{month}.csv", SettlementHeader, rows);
    }

    private static Line Written(AwaitedRecord a) => new(a.Kind.ToString().ToLowerInvariant(), a.Order, a.Kind == MovementKind.Sale ? "" : a.Ours[(a.Ours.IndexOf(':', StringComparison.Ordinal) + 1)..], a.Currency, a.Gross, a.Fee);

    private List<Line> WithFaults(DateOnly settledOn, List<Line> lines, string unpaid)
    {
        // From 3 October on the processor takes a little more of every fifteenth sale.
        for (var i = 0; i < lines.Count; i++)
        {
            if (lines[i].Type == "sale" && settledOn >= new DateOnly(2026, 10, 5) && ++_sales % 15 == 0) lines[i] = lines[i] with { Fee = (long)Math.Round(lines[i].Gross * 0.0179m, MidpointRounding.AwayFromZero) + 25 };
        }
        var sale = lines.FindIndex(l => l.Type == "sale" && l.Gross > 2000);
        switch (settledOn.Day)
        {
            case <= 7:
                // One sale is missing, and one was settled at five euro less.
                lines.RemoveAt(sale);
                sale = lines.FindIndex(l => l.Type == "sale" && l.Gross > 2000);
                lines[sale] = lines[sale] with { Gross = lines[sale].Gross - 500 };
                break;
            case <= 14:
                lines.Add(lines[sale]);
                lines.Add(new Line("sale", unpaid, "", "EUR", 2400, 67));
                break;
            case <= 21:
                // The id was written wrongly; the amount and the day tell which it is.
                sale = lines.FindLastIndex(l => l.Type == "sale");
                lines[sale] = lines[sale] with { Order = lines[sale].Order.Replace("HS-", "SH-", StringComparison.Ordinal) };
                lines.Add(new Line("sale", "PX-4471", "", "EUR", 3150, 80));
                break;
            default:
                lines[sale] = lines[sale] with { Currency = "GBP" };
                break;
        }
        return lines;
    }

    private static string[] Row(string id, DateOnly on, Line l, int number) =>
        [id, Day(on), l.Type, l.Order, string.Create(CultureInfo.InvariantCulture, $"{id}-{number}"), l.Refund, l.Currency, Major(l.Gross, l.Currency), Major(l.Fee, l.Currency), Major(l.Gross - l.Fee, l.Currency)];

    private async Task BankAsync(PayingAccountRecord account)
    {
        var currency = Currency.Of(account.Currency);
        var number = StatementRow.Number(account.Iban);
        var paid = Read(db => db.Remittances.AsNoTracking().Where(r => r.Currency == account.Currency && r.Paid > 0 && r.PaidOn != null && r.Reference != null).OrderBy(r => r.PaidOn).ThenBy(r => r.Id)
            .Select(r => new { r.PaidOn, r.Reference, r.Paid, Name = db.Payees.Where(p => p.Id == r.Payee).Select(p => p.Name).First() }).ToArray());
        var moves = paid.Select(r => (On: r.PaidOn!.Value, Cents: -r.Paid, Reference: r.Reference!, r.Name, Note: "")).ToList();
        if (account.Currency == "EUR")
        {
            moves.AddRange(_payouts.Select(p => (p.On, p.Cents, "", p.Settlement.StartsWith("MP", StringComparison.Ordinal) ? "Open Field Market" : "Card settlements", $"Settlement {p.Settlement}")));
            for (var month = Period.Of(DemoPeople.Start).Next; month.LastDay < Today; month = month.Next) moves.Add((month.LastDay, -950, "", "", "Account charges"));
            Faults(moves);
        }
        if (moves.Count == 0) return;
        var balance = 5_000_000L;
        var (rows, lines) = (new List<string[]>(), moves.OrderBy(m => m.On).ToArray());
        for (var i = 0; i < lines.Length; i++)
        {
            var (on, cents, reference, name, note) = lines[i];
            balance += cents;
            rows.Add([string.Create(CultureInfo.InvariantCulture, $"{account.Currency}{on:yyMM}-{i + 1:D4}"), number, Day(on), Major(cents, account.Currency), account.Currency, reference, name, note, Major(balance, account.Currency)]);
        }
        var pages = rows.GroupBy(r => r[2][..7]).ToArray();
        // A page is missing between October and November of one account: what comes next does not begin where the last ended.
        if (account.Currency == "EUR" && pages[^1].Key == "2026-11") foreach (var row in pages[^1]) row[8] = Major(long.Parse(row[8].Replace(".", "", StringComparison.Ordinal), CultureInfo.InvariantCulture) + 2500, "EUR");
        foreach (var page in pages) await ImportAsync(ImportKind.Statement, $"statement-{account.Currency}-{page.Key}.csv", StatementHeader, page.ToList());
    }

    private static void Faults(List<(DateOnly On, long Cents, string Reference, string Name, string Note)> moves)
    {
        var october = moves.Select((m, i) => (m, i)).Where(m => m.m.On >= FirstFault && m.m.On < new DateOnly(2026, 11, 1) && m.m.Reference.Length > 0).Select(m => m.i).ToArray();
        moves[october[0]] = moves[october[0]] with { Cents = moves[october[0]].Cents - 100 };
        // Without its reference; the amount and the name tell whose it is.
        moves[october[1]] = moves[october[1]] with { Reference = "", Note = "Transfer" };
        moves.Add(moves[october[2]] with { On = moves[october[2]].On.AddDays(1) });
        moves.RemoveAt(october[3]);
        moves.Add((new DateOnly(2026, 10, 30), 112, "", "", "Interest"));
    }

    private async Task PartnersAsync()
    {
        var month = Faulty;
        for (var earlier = Period.Of(DemoPeople.Start).Next; earlier.Number <= month.Number; earlier = earlier.Next)
        {
            var isOctober = earlier == month;
            var rows = new List<string[]>();
            foreach (var (payee, i) in new[] { "brackenside-joinery", "lowmeadow-seeds" }.Select((p, i) => (p, i)))
            {
                foreach (var (currency, sum) in Earned(payee, earlier))
                {
                    rows.Add([$"INV-{earlier}-{payee}", $"{rows.Count + 1}", payee, "", Day(earlier.FirstDay), Day(earlier.LastDay), Major(sum + (isOctober && i == 0 ? 420 : 0), currency), currency, "", $"{(i == 0 ? "BJ" : "LS")}-{earlier.Number}", Day(earlier.LastDay.AddDays(1)), Day(earlier.LastDay.AddDays(30))]);
                }
            }
            if (rows.Count > 0) await ImportAsync(ImportKind.Outside, $"invoices-{earlier}.csv", OutsideHeader, rows);
        }
        var network = Read(db => db.Entries.AsNoTracking().Where(e => e.Payee == Network && e.PostedOn >= month.FirstDay && e.PostedOn <= month.LastDay).Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { o.OrderId, e.Currency, e.Amount })
            .GroupBy(e => new { e.OrderId, e.Currency }).Select(g => new { g.Key.OrderId, g.Key.Currency, Sum = g.Sum(e => e.Amount) }).OrderBy(e => e.OrderId).ToArray()).Where(e => e.Sum != 0).ToArray();
        if (network.Length < 3) return;
        // The network lacks the first order, has one nobody knows, and works with another rate on one.
        await ImportAsync(ImportKind.Outside, $"report-stone-wall-{month}.csv", OutsideHeader,
        [
            .. network.Skip(1).Select((e, i) => new[] { $"STONE-WALL-{month}", $"{i + 1}", Network, e.OrderId, Day(month.FirstDay), Day(month.LastDay), Major(e.Sum + (i == 0 ? 150 : 0), e.Currency), e.Currency, "", "", "", "" }),
            [$"STONE-WALL-{month}", "X1", Network, "HS-99999", Day(month.FirstDay), Day(month.LastDay), "3.20", "EUR", "", "", "", ""],
        ]);
    }

    private (string Currency, long Sum)[] Earned(string payee, Period month) => Read(db => db.Entries.AsNoTracking().Where(e => e.Payee == payee && e.PostedOn >= month.FirstDay && e.PostedOn <= month.LastDay)
        .GroupBy(e => e.Currency).Select(g => new { g.Key, Sum = g.Sum(e => e.Amount) }).AsEnumerable().Where(e => e.Sum != 0).Select(e => (e.Key, e.Sum)).ToArray());

    /// <summary>What was plain in earlier months was settled then.</summary>
    private void SettleTheOrdinary()
    {
        var charges = Read(db => db.OutsideLines.AsNoTracking().Where(l => l.Bench == Books.Model.Bench.Bank && l.State == MatchState.Open && l.On < FirstFault && l.Note == "Account charges").Select(l => l.Id).ToArray());
        Do<SettleFindings>(s => s.BookTo([.. charges.Select(id => new BenchRow(id, null))], "Expenses:Bank charges", "", lead));
    }

    private async Task ImportAsync(ImportKind kind, string name, string[] header, IReadOnlyList<string[]> rows)
    {
        using var text = new StringWriter();
        CsvOutput.Write(text, header, rows);
        using var scope = services.CreateScope();
        using var content = new MemoryStream(Encoding.UTF8.GetBytes(text.ToString()));
        var id = await scope.ServiceProvider.GetRequiredService<ImportFiles>().QueueAsync(kind, name, content, lead);
        var import = scope.ServiceProvider.GetRequiredService<ReadImport>().Run(id);
        if (import.State != ImportState.Done || import.Quarantined > 0) throw new InvalidOperationException($"{name}: {import.Fault} {import.Quarantined} rows in quarantine.");
    }

    private static string Day(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static string Major(long minor, string currency) => new Money(minor, Currency.Of(currency)).ToMajorText();

    private void Do<T>(Action<T> action) where T : notnull
    {
        using var scope = services.CreateScope();
        action(scope.ServiceProvider.GetRequiredService<T>());
    }

    private T Read<T>(Func<BookDbContext, T> read)
    {
        using var scope = services.CreateScope();
        return read(scope.ServiceProvider.GetRequiredService<BookDbContext>());
    }
}
