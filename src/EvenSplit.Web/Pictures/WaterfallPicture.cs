using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>A step of an order's waterfall. A sum is drawn from zero, a step from where the one before it ended.</summary>
public sealed record WaterfallStep(string Words, long Amount, Party Party, bool IsSum, string? Link = null);

/// <summary>The waterfall: from what was charged down to what the house keeps.</summary>
internal static class WaterfallPicture
{
    private const decimal RowHeight = 25;
    private const decimal Start = 300;
    private const decimal Width = 430;

    public static IHtmlContent Draw(IReadOnlyList<WaterfallStep> steps, Currency currency)
    {
        var (low, high) = Range(steps);
        decimal X(long amount) => Start + (high == low ? 0 : Width * (amount - low) / (high - low));
        var svg = new Svg();
        svg.Raw($"<svg class=\"picture\" viewBox=\"0 0 860 {steps.Count * RowHeight + 6:0.#}\" role=\"group\" aria-label=\"Waterfall, the figures are in the text of each step\">");
        svg.Raw($"<path class=\"axis\" d=\"M{X(0):0.#} 0V{steps.Count * RowHeight + 4:0.#}\"/>");
        long level = 0;
        for (var i = 0; i < steps.Count; i++)
        {
            var step = steps[i];
            var from = step.IsSum ? 0 : level;
            var to = step.IsSum ? step.Amount : level + step.Amount;
            level = to;
            Row(svg, step, i * RowHeight, X(Math.Min(from, to)), X(Math.Max(from, to)), X(to), currency, i < steps.Count - 1);
        }
        svg.Raw("</svg>");
        return new HtmlString(svg.ToString());
    }

    private static void Row(Svg svg, WaterfallStep step, decimal y, decimal left, decimal right, decimal end, Currency currency, bool leadsOn)
    {
        if (step.Link is not null) svg.Raw($"<a href=\"{Svg.Encode(step.Link)}\">");
        svg.Text(Start - 14, y + 17, step.Words, "", "end");
        svg.Raw($"<rect x=\"{left:0.##}\" y=\"{y + 4:0.##}\" width=\"{Math.Max(right - left, 1):0.##}\" height=\"{RowHeight - 8:0.##}\" fill=\"{PartyPatterns.Fill(step.Party)}\"/>");
        svg.Text(850, y + 17, MoneyWords.Figure(step.Amount, currency), step is { IsSum: true, Amount: < 0 } ? "figure loss" : "figure", "end");
        if (step.Link is not null) svg.Raw("</a>");
        if (leadsOn) svg.Raw($"<path class=\"axis\" d=\"M{end:0.##} {y + RowHeight - 4:0.##}V{y + RowHeight + 4:0.##}\"/>");
    }

    private static (long Low, long High) Range(IReadOnlyList<WaterfallStep> steps)
    {
        long level = 0, low = 0, high = 1;
        foreach (var step in steps)
        {
            level = step.IsSum ? step.Amount : level + step.Amount;
            (low, high) = (Math.Min(low, level), Math.Max(high, level));
        }
        return (low, high);
    }
}
