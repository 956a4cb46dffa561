using EvenSplit.Core;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>
/// An offer path from left to right: each offer a box in the column of how many came before it. What follows on accepting is a full line, on
/// declining a broken one, and each line says which it is.
/// </summary>
public static class PathPicture
{
    private const int BoxWidth = 186;
    private const int BoxHeight = 54;
    private const int Column = 316;
    private const int Row = 104;
    private const int Margin = 12;
    /// <summary>How far from its row a line passes other offers: accepted above, declined below.</summary>
    private const int Lane = 16;
    /// <summary>Room for the word at a line's beginning; only behind it does the line turn, so that none crosses its word.</summary>
    private const int Word = 66;
    private const int EndWords = 92;
    private const int Turn = 44;

    /// <param name="name">The words of a step's product, such as its name and price.</param>
    public static IHtmlContent Draw(OfferPath path, Func<OfferStep, string> name)
    {
        if (path.Steps.Count == 0) return HtmlString.Empty;
        var places = Places(path);
        var (width, height) = (places.Max(p => p.X) + BoxWidth + EndWords, places.Max(p => p.Y) + BoxHeight + Margin + Lane);
        var svg = new Svg().Raw($"<svg class=\"picture path\" width=\"{width}\" height=\"{height}\" viewBox=\"0 0 {width} {height}\" role=\"img\" aria-label=\"").Raw(Svg.Encode(Told(path, name))).Raw("\">");
        for (var i = 0; i < path.Steps.Count; i++)
        {
            Answer(svg, places, i, path.Steps[i].OnAccept, accepted: true);
            Answer(svg, places, i, path.Steps[i].OnDecline, accepted: false);
        }
        for (var i = 0; i < path.Steps.Count; i++)
        {
            var (x, y) = places[i];
            svg.Raw($"<rect class=\"offer\" x=\"{x}\" y=\"{y}\" width=\"{BoxWidth}\" height=\"{BoxHeight}\" rx=\"2\"/>").Text(x + 10, y + 21, $"{i + 1}.", "faint").Text(x + 30, y + 21, Cut(name(path.Steps[i]), 22)).Text(x + 30, y + 40, Cut(name(path.Steps[i]), 22, rest: true), "figure");
        }
        return new HtmlString(svg.Raw("</svg>").ToString());
    }

    private static void Answer(Svg svg, (int X, int Y)[] places, int from, int? to, bool accepted)
    {
        var (x, y) = (places[from].X + BoxWidth, places[from].Y + (accepted ? 16 : BoxHeight - 14));
        var style = accepted ? "accepted" : "declined";
        if (to is not { } step)
        {
            svg.Raw($"<path class=\"answer {style}\" d=\"M{x} {y}H{x + 24}\"/><circle class=\"end\" cx=\"{x + 27}\" cy=\"{y}\" r=\"3\"/>").Text(x + 6, y - 6, style + ": ends", "faint");
            return;
        }
        var (endX, endY) = (places[step].X, places[step].Y + (accepted ? 16 : BoxHeight - 14));
        // Between the rows there is room for what passes by other offers; the turns are made in the gaps between the columns.
        var passes = endX - x > Column - BoxWidth;
        var lane = places[from].Y + (accepted ? -Lane : BoxHeight + Lane);
        var line = passes
            ? Curve(x + Word, y, x + Column - BoxWidth, lane) + $"H{endX - Turn}" + Curve(endX - Turn, lane, endX - 7, endY)
            : Curve(x + Word, y, endX - 7, endY);
        svg.Raw($"<path class=\"answer {style}\" d=\"M{x} {y}H{x + Word}{line}\"/><path class=\"head\" d=\"M{endX} {endY}l-8 -4v8z\"/>").Text(x + 6, y - 6, style, "faint");
    }

    /// <summary>From level to level, beginning and ending without a slope.</summary>
    private static string Curve(int x, int y, int toX, int toY) => $"C{(x + toX) / 2} {y} {(x + toX) / 2} {toY} {toX} {toY}";

    /// <summary>What follows on accepting stays in its row as long as it can; each declined offer begins a row of its own.</summary>
    private static (int X, int Y)[] Places(OfferPath path)
    {
        var depths = path.Depths();
        var rows = new int?[path.Steps.Count];
        var last = -1;
        for (var i = 0; i < rows.Length; i++) Settle(i, null);
        // What nobody is led to stands by itself behind the others.
        var behind = (depths.Max() ?? 0) + 1;
        return [.. depths.Select((depth, i) => (Margin + (depth ?? behind) * Column, Margin + Lane + rows[i]!.Value * Row))];

        void Settle(int step, int? row)
        {
            if (rows[step] is not null) return;
            rows[step] = row ?? ++last;
            if (path.Steps[step].OnAccept is { } accepted) Settle(accepted, rows[step]);
            if (path.Steps[step].OnDecline is { } declined) Settle(declined, null);
        }
    }

    private static string Told(OfferPath path, Func<OfferStep, string> name) => string.Join(" ", path.Steps.Select((s, i) =>
        $"{i + 1}. {name(s)}: accepted {After(s.OnAccept)}, declined {After(s.OnDecline)}."));

    private static string After(int? step) => step is { } next ? $"leads to {next + 1}" : "ends the path";

    private static string Cut(string words, int most, bool rest = false)
    {
        var comma = words.LastIndexOf(", ", StringComparison.Ordinal);
        var (first, last) = comma > 0 ? (words[..comma], words[(comma + 2)..]) : (words, "");
        return rest ? last : first.Length <= most ? first : first[..(most - 1)] + "…";
    }
}
