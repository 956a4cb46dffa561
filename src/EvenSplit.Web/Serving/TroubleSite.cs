namespace EvenSplit.Web.Serving;

/// <summary>Serves one page in place of a book that cannot be worked on: what is wrong, and what to do. Nothing is taken on meanwhile.</summary>
internal static class TroubleSite
{
    /// <param name="trouble">In words, for the console and the page.</param>
    public static void Run(string[] args, string trouble)
    {
        Console.Error.WriteLine(trouble);
        var builder = WebApplication.CreateBuilder(args);
        builder.Logging.ClearProviders();
        Surroundings.Add(builder);
        var app = builder.Build();
        app.UseMiddleware<ResponseHeaders>();
        app.UseStaticFiles();
        var page = Page(trouble);
        app.Run(context =>
        {
            context.Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
            context.Response.ContentType = "text/html; charset=utf-8";
            context.Response.Headers.RetryAfter = "60";
            return context.Response.WriteAsync(page);
        });
        app.Run();
    }

    private static string Page(string trouble) =>
        $"""
        <!doctype html>
        <html lang="en-GB">
        <head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Cannot work · Even Split</title><link rel="stylesheet" href="/built/app.css"></head>
        <body><main class="sign-in" id="work"><h1>The book cannot be worked on</h1><p class="note bad" role="alert">{System.Net.WebUtility.HtmlEncode(trouble)}</p><p>Nothing was changed. When it is put right, start the application again.</p></main></body>
        </html>
        """;
}
