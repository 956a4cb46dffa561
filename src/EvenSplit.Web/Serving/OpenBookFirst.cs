using EvenSplit.Books;

namespace EvenSplit.Web.Serving;

/// <summary>Leads the first visitor of an empty book to its opening, and keeps everybody from it afterwards.</summary>
internal sealed class OpenBookFirst(RequestDelegate next)
{
    private static readonly PathString Setup = new("/setup");

    public async Task InvokeAsync(HttpContext context, BookCache cache)
    {
        var isSetup = context.Request.Path.Equals(Setup, StringComparison.OrdinalIgnoreCase);
        var isOpen = cache.Find() is not null;
        if (!isOpen && !isSetup)
        {
            context.Response.Redirect(Setup);
            return;
        }
        if (isSetup && isOpen)
        {
            context.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }
        await next(context);
    }
}
