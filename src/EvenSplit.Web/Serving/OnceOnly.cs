using System.Collections.Concurrent;
using EvenSplit.Books;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.Web.Serving;

/// <summary>A form does what it does once: Enter twice, a double click, back and send again, a second tab of the same page lead where the first led, and nothing is done anew.</summary>
internal sealed class OnceOnly(SentForms forms) : IAsyncPageFilter
{
    public const string Field = "once";

    private const int LongestToken = 64;

    /// <summary>Who sends the same form at one moment waits for the first.</summary>
    private static readonly ConcurrentDictionary<string, SemaphoreSlim> Turns = new();

    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        var http = context.HttpContext;
        var token = HttpMethods.IsPost(http.Request.Method) && http.Request.HasFormContentType ? http.Request.Form[Field].ToString() : "";
        if (token.Length is 0 or > LongestToken)
        {
            await next();
            return;
        }
        var turn = Turns.GetOrAdd(token, _ => new SemaphoreSlim(1));
        await turn.WaitAsync(http.RequestAborted);
        try
        {
            if (forms.Find(token) is { } sent)
            {
                // Set where the property keeps it: the page itself is passed over.
                if (context.HandlerInstance is Pages.BookPage page) page.TempData[nameof(page.Done)] = "This was sent before and is done; it was not done again.";
                context.Result = new LocalRedirectResult(sent.LedTo ?? http.Request.Path);
                return;
            }
            forms.MarkWithDeed(token);
            var executed = await next();
            if (executed.Exception is not null && !executed.ExceptionHandled) return;
            var address = executed.Result switch
            {
                RedirectResult redirect => redirect.Url,
                LocalRedirectResult redirect => redirect.Url,
                RedirectToPageResult to => ((PageModel)context.HandlerInstance).Url.Page(to.PageName, to.PageHandler, to.RouteValues),
                _ => null,
            };
            if (address is not null) forms.Done(token, address);
            // What was refused may be sent again as it is, whatever was kept of it meanwhile.
            else if (http.Response.StatusCode >= StatusCodes.Status400BadRequest) forms.Forget(token);
        }
        finally
        {
            turn.Release();
            Turns.TryRemove(token, out _);
        }
    }
}
