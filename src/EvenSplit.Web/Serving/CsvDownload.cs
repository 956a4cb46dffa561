using System.Globalization;
using System.Text;
using EvenSplit.Formats.Csv;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Serving;

/// <summary>A table handed over as a CSV file.</summary>
internal sealed class CsvDownload(string fileName, IReadOnlyList<string> header, IEnumerable<IReadOnlyList<string>> rows) : IActionResult
{
    public async Task ExecuteResultAsync(ActionContext context)
    {
        var response = context.HttpContext.Response;
        response.ContentType = "text/csv; charset=utf-8";
        response.Headers.ContentDisposition = $"attachment; filename=\"{fileName}\"";
        using var text = new StringWriter();
        CsvOutput.Write(text, header, rows);
        await response.WriteAsync(text.ToString(), new UTF8Encoding(false));
    }

    public static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
