using System.Globalization;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>The small book with a processor that takes 2 % and 30 cents, and what is held against its orders.</summary>
internal sealed class BenchBook : IDisposable
{
    private const string OrderHeader = "order_id,channel,placed_at,paid_at,currency,processor,coupon_codes,line_id,product,quantity,unit_price,test";
    private const string SettlementHeader = "settlement_id,settled_on,type,order_id,reference,refund_id,currency,gross,fee,net";

    public TestBook Book { get; } = new();

    public BenchBook()
    {
        Book.Do<RateDesk>(r => r.Save(new Processor(new ProcessorId("card"), Rate.Parse("0.02"), 30, Currency.Of("EUR")), TestBook.Lead));
        Book.Recalculate();
        Book.MoveTo(new DateOnly(2026, 11, 3));
    }

    public void Dispose() => Book.Dispose();

    /// <summary>Orders of 100.00 each, paid on 25 October by card.</summary>
    public void Orders(params string[] ids) => Book.Import(ImportKind.Orders, OrderHeader, [.. ids.Select(id => Order(id))]);

    public static string Order(string id, string paid = "2026-10-25T12:00:00Z", string test = "", string code = "") => $"{id},shop,2026-10-25T12:00:00Z,{paid},EUR,card,{code},1,guide,1,100.00,{test}";

    public ImportRecord Import(params string[] orders) => Book.Import(ImportKind.Orders, OrderHeader, orders);

    public ImportRecord Settle(params string[] lines) => Book.Import(ImportKind.Settlement, SettlementHeader, lines);

    /// <summary>A line of the settlement ST-1, of 2 November.</summary>
    public static string Line(string type, string order, string reference, string gross = "100.00", string fee = "2.30", string refund = "", string currency = "EUR", string settlement = "ST-1") => string.Create(
        CultureInfo.InvariantCulture, $"{settlement},2026-11-02,{type},{order},{reference},{refund},{currency},{gross},{fee},{decimal.Parse(gross, CultureInfo.InvariantCulture) - decimal.Parse(fee, CultureInfo.InvariantCulture):0.00}");

    /// <summary>A bench as it is exported: by line id, or by what is ours, the columns ours, state and findings.</summary>
    public Dictionary<string, string> Rows(Bench bench = Bench.Processors, DateOnly? asOf = null) =>
        Cells(bench, asOf).ToDictionary(c => c["line_id"].Length > 0 ? c["line_id"] : c["ours"], c => $"{c["ours"]} {c["state"]} {c["findings"]}".Trim());

    public IReadOnlyList<Dictionary<string, string>> Cells(Bench bench = Bench.Processors, DateOnly? asOf = null)
    {
        using var text = new StringWriter();
        Book.Do<MatchesExport>(e => e.Write(bench, asOf, text));
        var rows = text.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(r => r.TrimEnd('\r').Split(',')).ToArray();
        return [.. rows.Skip(1).Select(r => rows[0].Zip(r).ToDictionary(c => c.First, c => c.Second))];
    }

    public long IdOf(string lineId) => Book.Get<BookDbContext, long>(db => db.OutsideLines.AsNoTracking().Single(l => l.LineId == lineId).Id);

    public BenchRow RowOf(string lineId) => new(IdOf(lineId), null);
}
