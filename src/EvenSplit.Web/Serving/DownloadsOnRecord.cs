using EvenSplit.Books;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace EvenSplit.Web.Serving;

/// <summary>Whoever takes a file away is on record: payment files, advices, exports.</summary>
internal sealed class DownloadsOnRecord(AuditLog audit) : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context)
    {
    }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (context.Result is not (FileResult or CsvDownload or TextDownload)) return;
        var request = context.HttpContext.Request;
        audit.NoteAlone(context.HttpContext.User.DisplayName(), "take a file away", request.Path + request.QueryString);
    }
}
