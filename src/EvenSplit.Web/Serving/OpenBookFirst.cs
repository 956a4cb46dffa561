using System.Net;
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
        // Whoever opens the book owns it, so only somebody at the machine itself may.
        if (isSetup && (isOpen || !IsLocal(context)))
        {
            context.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }
        await next(context);
    }

    private static bool IsLocal(HttpContext context) =>
        (context.Connection.RemoteIpAddress is not { } address || IPAddress.IsLoopback(address))
        && !context.Request.Headers.ContainsKey("X-Forwarded-For") && !context.Request.Headers.ContainsKey("Forwarded");
}
