using EvenSplit.Books.Importing;
using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>A month's clicks as a bar a day; below the line the orders that they led to, to a scale of their own.</summary>
internal static class ClickDaysPicture
{
    private const decimal Width = 420, Left = 4, Top = 20, Clicks = 70, Gap = 18, Orders = 30, Label = 16;

    public static IHtmlContent Draw(Period period, IReadOnlyList<ClickDay> days)
    {
        var (mostClicks, mostOrders) = (Math.Max(1, days.Max(d => d.Clicks)), Math.Max(1, days.Max(d => d.Orders)));
        var step = Width / period.LastDay.Day;
        decimal X(DateOnly on) => Left + step * (on.Day - 1) + step * 0.15m;
        var (axis, below) = (Top + Clicks, Top + Clicks + Gap);
        var svg = new Svg();
        var height = below + (days.Any(d => d.Orders > 0) ? Orders + Label : 0) + 4;
        svg.Raw($"<svg class=\"picture clicks\" viewBox=\"0 0 {Left * 2 + Width:0} {height:0}\" role=\"img\" aria-label=\"{Svg.Encode(Told(days))}\">");
        svg.Text(Left, Top - 6, $"clicks, at most {MoneyWords.Count(mostClicks)} a day", "faint");
        svg.Raw($"<path class=\"axis\" d=\"M{Left:0.#} {axis:0.#}H{Left + Width:0.#}\"/>");
        foreach (var d in days)
        {
            svg.Raw($"<rect class=\"bar-clicks\" x=\"{X(d.On):0.##}\" y=\"{axis - Clicks * d.Clicks / mostClicks:0.##}\" width=\"{step * 0.7m:0.##}\" height=\"{Clicks * d.Clicks / mostClicks:0.##}\"/>");
            if (d.Orders > 0) svg.Raw($"<rect class=\"bar-orders\" x=\"{X(d.On):0.##}\" y=\"{below:0.##}\" width=\"{step * 0.7m:0.##}\" height=\"{Math.Max(3, Orders * d.Orders / mostOrders):0.##}\"/>");
        }
        foreach (var day in new[] { 1, 8, 15, 22, 29 }.Where(d => d <= period.LastDay.Day)) svg.Text(X(period.FirstDay.AddDays(day - 1)), axis + 12, $"{day}", "faint");
        if (days.Any(d => d.Orders > 0)) svg.Text(Left, height - 6, $"orders that they led to, at most {MoneyWords.Count(mostOrders)} a day", "faint");
        svg.Raw("</svg>");
        return new HtmlString(svg.ToString());
    }

    private static string Told(IReadOnlyList<ClickDay> days) =>
        $"{MoneyWords.Count(days.Sum(d => d.Clicks), "click")} and {MoneyWords.Count(days.Sum(d => d.Orders), "order")}, by the day of the click: {string.Join("; ", days.Select(d => $"{d.On.InWords()} {d.Clicks}{(d.Orders > 0 ? $", {MoneyWords.Count(d.Orders, "order")}" : "")}"))}.";
}
