using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>The step chart: how a term's rate goes up along order values, or along what the payee has reached. Where nothing is earned it is hatched.</summary>
internal static class StepPicture
{
    private const decimal Left = 44;
    private const decimal Width = 330;
    private const decimal Height = 120;
    private const decimal Top = 10;

    public static string Words(StepAxis axis) => axis switch
    {
        StepAxis.OrderValue => "order value",
        StepAxis.Sales => "sales reached",
        StepAxis.Orders => "orders reached",
        _ => "earnings reached",
    };

    /// <param name="lines">Of one term along one axis: one for each kind of customer and payment it tells apart.</param>
    public static IHtmlContent Draw(IReadOnlyList<RateSteps> lines, Currency currency)
    {
        var svg = new Svg();
        // Steps are spread evenly, not to scale: a first threshold of 10 beside one of 10,000 would not be seen.
        var thresholds = lines.SelectMany(l => l.Steps).Select(s => s.From).Distinct().Order().ToArray();
        var highest = Math.Max(lines.SelectMany(l => l.Steps).Select(s => Percent(s.Case)).DefaultIfEmpty().Max(), 0.01m);
        decimal X(int step) => Left + Width * step / thresholds.Length;
        decimal Y(decimal percent) => Top + Height - Height * percent / highest;
        svg.Raw($"<svg class=\"picture\" viewBox=\"0 0 400 {Top + Height + 34:0}\" role=\"img\" aria-label=\"{Svg.Encode(Told(lines, currency))}\">");
        svg.Raw($"<path class=\"axis\" d=\"M{Left:0} {Top:0}V{Top + Height:0}H{Left + Width:0}\"/>");
        svg.Text(Left - 4, Top + 10, (highest * 100).ToString("0.##", System.Globalization.CultureInfo.InvariantCulture) + " %", "figure", "end");
        for (var i = 0; i < thresholds.Length; i++) svg.Text(X(i), Top + Height + 16, TermReview.At(lines[0].Axis == StepAxis.Orders ? StepAxis.Orders : StepAxis.OrderValue, thresholds[i], currency), "figure", i == 0 ? "start" : "middle");
        for (var number = 0; number < lines.Count; number++) DrawLine(number);
        svg.Raw("</svg>");
        return new HtmlContentBuilder().AppendHtml(svg.ToString()).AppendHtml("<p class=\"lead\">").Append(Told(lines, currency)).AppendHtml("</p>");

        void DrawLine(int number)
        {
            var steps = lines[number].Steps;
            var path = "";
            for (var i = 0; i < steps.Count; i++)
            {
                var from = X(Array.IndexOf(thresholds, steps[i].From));
                var to = i + 1 < steps.Count ? X(Array.IndexOf(thresholds, steps[i + 1].From)) : Left + Width;
                if (steps[i].Case is not { } holds)
                {
                    svg.Raw($"<rect class=\"gap\" x=\"{from:0.#}\" y=\"{Top:0}\" width=\"{to - from:0.#}\" height=\"{Height:0}\"/>");
                    if (number == 0) svg.Text((from + to) / 2, Top + Height / 2, "nothing", "loss", "middle");
                    path = "";
                    continue;
                }
                var y = Y(Percent(holds)) + number * 3;
                path += FormattableString.Invariant($"{(path.Length == 0 ? "M" : "L")}{from:0.#} {y:0.#}H{to:0.#}");
                svg.Text(from + 4, y > Top + 16 ? y - 5 : y + 14, Label(holds.Rate, currency), "figure");
                if (i + 1 == steps.Count || steps[i + 1].Case is null)
                {
                    svg.Raw($"<path class=\"step line-{number}\" d=\"{path}\"/>");
                    path = "";
                }
            }
        }
    }

    /// <summary>What the payee gets of the base; the rest where the rate says what the house keeps.</summary>
    private static decimal Percent(TermCase? termCase) => termCase?.Rate switch
    {
        null => 0,
        { Of: RateOf.House, Percent: var kept } => 1 - (kept?.Value ?? 0),
        var rate => rate.Percent?.Value ?? 0,
    };

    private static string Label(ShareRate rate, Currency currency) => rate switch
    {
        { IsEmpty: true } => "nothing",
        { Of: RateOf.House } => "the rest",
        { HasFlatAmount: false } => rate.Percent!.Value.ToPercentText(),
        { Percent: { } percent } => percent.ToPercentText() + " + flat",
        _ => TermWords.Rate(rate, currency),
    };

    private static string Told(IReadOnlyList<RateSteps> lines, Currency currency) => string.Join(" ", lines.Select(line =>
        (line.For.Length > 0 ? Capital(line.For) + ": " : "") + string.Join("; ", line.Steps.Select(s =>
            $"from {TermReview.At(line.Axis, s.From, currency)}, {(s.Case is null ? "nothing" : TermWords.Rate(s.Case.Rate, currency))}")) + "."));

    private static string Capital(string words) => char.ToUpperInvariant(words[0]) + words[1..];
}
