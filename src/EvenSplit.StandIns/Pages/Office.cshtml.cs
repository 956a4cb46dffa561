using EvenSplit.StandIns.Partners;
using EvenSplit.StandIns.Processor;
using EvenSplit.StandIns.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.StandIns.Pages;

/// <summary>Refunds, chargebacks, renewals and the clock, at the press of a button.</summary>
public sealed class OfficeModel(ShopState state, Till till, Settlements settlements, MonthlyReports reports) : PageModel
{
    public DateOnly Today => state.Read(k => k.Today);

    public int Outgoing => state.Read(k => k.Outgoing.Count(o => o.Refusal is null));

    public int Refused => state.Read(k => k.Outgoing.Count(o => o.Refusal is not null));

    public IReadOnlyList<string> Settlements => settlements.Files;

    public IReadOnlyList<ShopOrder> Orders => state.Read(k => k.Orders.AsEnumerable().Reverse().Take(200).ToArray());

    public IActionResult OnPost(string what, string? order)
    {
        if (order is not null && state.Read(k => !k.Orders.Exists(o => o.Id == order))) return NotFound();
        switch (what)
        {
            case "day":
                till.NextDay();
                settlements.SettleWhenDue();
                reports.ReportWhenDue();
                break;
            case "settle": settlements.Settle(); break;
            case "report": reports.ReportNow(); break;
            case "pay" when order is not null: till.Pay(order); break;
            case "renew" when order is not null: till.Renew(order); break;
            case "refund" or "chargeback" or "cancel" when order is not null: till.TakeBack(order, what); break;
            default: return BadRequest();
        }
        return Redirect("/office");
    }
}
