using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Pictures;

/// <summary>A bar to the right for more and to the left for less, beside the figure it draws.</summary>
internal static class DifferencePicture
{
    private const decimal Half = 50;

    /// <param name="largest">The largest difference of the column, either way: its bar is full.</param>
    public static IHtmlContent Draw(long difference, long largest)
    {
        var width = largest == 0 ? 0 : Half * Math.Abs(difference) / largest;
        var x = difference < 0 ? Half - width : Half;
        return new HtmlString(new Svg()
            .Raw($"<svg class=\"difference\" viewBox=\"0 0 100 12\" aria-hidden=\"true\"><path class=\"axis\" d=\"M{Half:0} 0V12\"/><rect class=\"{(difference < 0 ? "less" : "more")}\" x=\"{x:0.#}\" y=\"2\" width=\"{width:0.#}\" height=\"8\"/></svg>")
            .ToString());
    }
}
