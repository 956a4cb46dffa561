using System.Diagnostics;
using System.Globalization;

namespace EvenSplit.Web.Serving;

/// <summary>What every answer carries: a policy that lets nothing in from elsewhere and no inline script or style, and how long the server took.</summary>
internal sealed class ResponseHeaders(RequestDelegate next)
{
    private const string ContentSecurityPolicy =
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
        + "form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

    public Task InvokeAsync(HttpContext context)
    {
        var started = Stopwatch.GetTimestamp();
        context.Response.OnStarting(() =>
        {
            var headers = context.Response.Headers;
            headers.ContentSecurityPolicy = ContentSecurityPolicy;
            headers.XContentTypeOptions = "nosniff";
            headers["Referrer-Policy"] = "same-origin";
            headers["Cross-Origin-Opener-Policy"] = "same-origin";
            if (!context.Request.Path.StartsWithSegments("/built")) headers.CacheControl = "no-store";
            headers["Server-Timing"] = "app;dur=" + Stopwatch.GetElapsedTime(started).TotalMilliseconds.ToString("F1", CultureInfo.InvariantCulture);
            return Task.CompletedTask;
        });
        return next(context);
    }
}
