using System.Globalization;
using EvenSplit.Books.People;
using EvenSplit.Core;
using EvenSplit.Web.Pictures;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Refund rates over time, against the lead's limit.</summary>
public sealed class RefundRatesPage(RefundRates rates) : BookPage
{
    private const int Width = 96;
    private const int Height = 18;

    public int Months => RefundRates.MonthsOfMarks;

    [BindProperty]
    public string Limit { get; set; } = "";

    public IReadOnlyList<RefundRateRow> Rows { get; private set; } = [];

    public void OnGet()
    {
        Limit = (Book.Record.RefundLimit.Value * 100).ToString("0.####", CultureInfo.InvariantCulture);
        Show();
    }

    public override void Show() => Rows = rates.Find(Period, Months);

    public IActionResult OnPostLimit()
    {
        rates.SetLimit(Limit, By);
        Done = "The limit is set.";
        return RedirectToPage();
    }

    public IActionResult OnPostHold(string payee)
    {
        rates.PutOnHold(payee, By);
        Done = $"{Book.PayeeName(payee)} is on hold: runs pay nothing until that is taken off on their page.";
        return RedirectToPage();
    }

    public static string Percent(Rate rate) => rate.Millionths == 0 ? "–" : (rate.Value * 100).ToString("0.0", CultureInfo.InvariantCulture) + " %";

    /// <summary>Bars of the share of money taken back, a month each, with the limit as a line; all of it is the full height.</summary>
    public string Line(RefundRateRow row)
    {
        var limit = Math.Min(1m, Book.Record.RefundLimit.Value * 2);
        var step = Width / (decimal)row.ByMonth.Count;
        var svg = new Svg().Raw($"<svg class=\"rate-line\" viewBox=\"0 0 {Width} {Height}\" role=\"img\" aria-label=\"{Svg.Encode(Told(row))}\">");
        for (var i = 0; i < row.ByMonth.Count; i++)
        {
            if (row.ByMonth[i] is not { } share || limit == 0) continue;
            var height = Math.Min(Height, Height * (share / (decimal)Rate.One) / limit);
            svg.Raw($"<rect class=\"{(height > Height / 2m ? "less" : "more")}\" x=\"{i * step + 1:0.#}\" y=\"{Height - height:0.#}\" width=\"{step - 2:0.#}\" height=\"{height:0.#}\"/>");
        }
        return svg.Raw($"<path class=\"axis\" d=\"M0 {Height / 2}H{Width}M0 {Height - 0.5m:0.#}H{Width}\"/></svg>").ToString();
    }

    private static string Told(RefundRateRow row) => "Taken back month by month: " + string.Join(", ", row.ByMonth.Select(m => m is { } share ? Percent(new Rate(share)) : "nothing earned"));
}
