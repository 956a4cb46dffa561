using EvenSplit.Books;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace EvenSplit.Web.Serving;

/// <summary>
/// What a use case refuses is told on the page that asked, at the field where there is one; what was typed stays. A form about a thing that has gone is answered as
/// its page is: there is nothing at this address.
/// </summary>
internal sealed class RefusedFilter : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context)
    {
    }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        if (HttpMethods.IsPost(context.HttpContext.Request.Method) && context.HandlerInstance is Pages.BookPage { IsThere: false }) context.Result = new NotFoundResult();
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (context.Exception is not RefusedException refused || context.HandlerInstance is not Pages.BookPage page) return;
        context.ModelState.AddModelError(refused.Field ?? "", refused.Message);
        context.ExceptionHandled = true;
        if (!page.IsThere)
        {
            context.Result = new NotFoundResult();
            return;
        }
        page.Show();
        context.HttpContext.Response.StatusCode = StatusCodes.Status409Conflict;
        context.Result = page.Page();
    }
}
