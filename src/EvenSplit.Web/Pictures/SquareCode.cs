using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Html;
using QRCoder;

namespace EvenSplit.Web.Pictures;

/// <summary>A text as a QR code, for a phone's camera: dark on light in either theme, with the margin that readers need.</summary>
internal static class SquareCode
{
    /// <param name="label">What it is, for who does not see it.</param>
    public static IHtmlContent Draw(string text, string label = "The key as a picture for the app")
    {
        using var generator = new QRCodeGenerator();
        using var code = generator.CreateQrCode(text, QRCodeGenerator.ECCLevel.M);
        var path = new StringBuilder();
        for (var y = 0; y < code.ModuleMatrix.Count; y++)
        {
            for (var x = 0; x < code.ModuleMatrix[y].Count; x++)
            {
                if (code.ModuleMatrix[y][x]) path.Append(CultureInfo.InvariantCulture, $"M{x} {y}h1v1h-1z");
            }
        }
        var size = code.ModuleMatrix.Count.ToString(CultureInfo.InvariantCulture);
        return new HtmlString($"<svg class=\"square-code\" viewBox=\"0 0 {size} {size}\" role=\"img\" aria-label=\"{label}\" shape-rendering=\"crispEdges\"><rect width=\"{size}\" height=\"{size}\" fill=\"#fff\"/><path d=\"{path}\" fill=\"#000\"/></svg>");
    }
}
