using EvenSplit.Books;
using Microsoft.AspNetCore.Mvc.Filters;

namespace EvenSplit.Web.Serving;

/// <summary>What a use case refuses is told on the page that asked, at the field where there is one; what was typed stays.</summary>
internal sealed class RefusedFilter : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context)
    {
    }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (context.Exception is not RefusedException refused || context.HandlerInstance is not Pages.BookPage page) return;
        context.ModelState.AddModelError(refused.Field ?? "", refused.Message);
        context.ExceptionHandled = true;
        page.Show();
        context.HttpContext.Response.StatusCode = StatusCodes.Status409Conflict;
        context.Result = page.Page();
    }
}
