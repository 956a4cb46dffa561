using System.Text;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Serving;

/// <summary>A file handed over as long as it is, however long that may be.</summary>
internal sealed class FileDownload(string fileName, string contentType, Action<Stream> write) : IActionResult
{
    public async Task ExecuteResultAsync(ActionContext context)
    {
        var response = context.HttpContext.Response;
        response.ContentType = contentType;
        response.Headers.ContentDisposition = $"attachment; filename=\"{fileName}\"";
        // Written by pieces of this size to a file of its own, since what writes it cannot wait for the network piece by piece.
        await using var written = new FileStream(Path.Combine(Path.GetTempPath(), $"{Guid.CreateVersion7():N}.part"), FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, 1 << 16, FileOptions.DeleteOnClose);
        write(written);
        written.Position = 0;
        response.ContentLength = written.Length;
        await written.CopyToAsync(response.Body, context.HttpContext.RequestAborted);
    }
}

/// <summary>A text handed over as a file while it is written, however long it is.</summary>
internal sealed class TextDownload(string fileName, string contentType, Action<TextWriter> write) : IActionResult
{
    public Task ExecuteResultAsync(ActionContext context) => new FileDownload(fileName, contentType + "; charset=utf-8", written =>
    {
        using var text = new StreamWriter(written, new UTF8Encoding(false), 1 << 16, leaveOpen: true);
        write(text);
    }).ExecuteResultAsync(context);
}
