using EvenSplit.Books.Desk;
using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>What will have cleared, as a line of steps over the days ahead; the runs that come stand on it.</summary>
internal static class ClearingLinePicture
{
    private const decimal Width = 852;
    private const decimal Left = 4;
    private const decimal Top = 20;
    private const decimal Height = 76;

    /// <param name="runs">The days as of which runs come.</param>
    public static IHtmlContent Draw(ClearingLine line, IReadOnlyList<DateOnly> runs)
    {
        var today = line.Days[0].On;
        var (low, high) = (Math.Min(0, line.Days.Min(d => d.Cleared.Minor)), Math.Max(1, line.Days.Max(d => d.Cleared.Minor)));
        decimal X(DateOnly on) => Left + Width * (on.DayNumber - today.DayNumber) / (line.Until.DayNumber - today.DayNumber);
        decimal Y(long minor) => Top + Height - Height * (minor - low) / (high - low);
        var path = FormattableString.Invariant($"M{X(today):0.#} {Y(line.Days[0].Cleared.Minor):0.#}");
        foreach (var (on, cleared) in line.Days.Skip(1)) path += FormattableString.Invariant($"H{X(on):0.#}V{Y(cleared.Minor):0.#}");
        path += FormattableString.Invariant($"H{Left + Width:0.#}");
        var svg = new Svg();
        svg.Raw($"<svg class=\"picture\" viewBox=\"0 0 {Left + Width + 4:0} {Top + Height + 20:0}\" role=\"img\" aria-label=\"{Svg.Encode(Told(line))}\">");
        svg.Raw($"<path class=\"axis\" d=\"M{Left:0.#} {Y(0):0.#}H{Left + Width:0.#}\"/>");
        foreach (var run in runs.Where(r => r > today && r <= line.Until))
        {
            svg.Raw($"<path class=\"run-day\" d=\"M{X(run):0.#} {Top:0.#}V{Top + Height:0.#}\"/>");
            svg.Text(X(run) > Width * 0.8m ? X(run) - 4 : X(run) + 4, Top + Height + 15, $"run {run.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)}", "faint", X(run) > Width * 0.8m ? "end" : "start");
        }
        svg.Raw($"<path class=\"step\" d=\"{path}\"/>");
        svg.Text(Left, Top - 6, $"{line.Days[0].Cleared.InWords()} today", "figure");
        svg.Text(Left + Width, Top - 6, $"{line.Days[^1].Cleared.InWords()} by {line.Until.InWords()}", "figure", "end");
        svg.Raw("</svg>");
        return new HtmlString(svg.ToString());
    }

    private static string Told(ClearingLine line) =>
        $"Cleared where no run takes it: {line.Days[0].Cleared.InWords()} today; {string.Join("; ", line.Days.Skip(1).Where((_, i) => i % Math.Max(1, line.Days.Count / 6) == 0).Select(d => $"{d.Cleared.InWords()} on {d.On.InWords()}"))}; {line.Days[^1].Cleared.InWords()} by {line.Until.InWords()}.";
}
