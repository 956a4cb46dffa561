using System.Text.Json;
using System.Text.RegularExpressions;
using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Core;
using EvenSplit.Formats.Events;

namespace EvenSplit.Web.Doors;

/// <summary>
/// A payee's links: /go/PAYEE?to=/page leads to that page of the shop and logs the click with the page it came from. It leads nowhere but to the
/// shop; what says it is a machine is led there too, and not counted.
/// </summary>
internal static partial class GoLinks
{
    private const string VisitorCookie = "evensplit-visitor";
    private const int MostText = 500;

    public static void Map(WebApplication app) => app.MapMethods("/go/{payee}", [HttpMethods.Get, HttpMethods.Head], GoAsync).AllowAnonymous();

    private static async Task<IResult> GoAsync(string payee, string? to, HttpContext context, BookCache cache, BookClock clock, EventDoor door)
    {
        var book = cache.Find()!;
        if (book.Record.ShopAddress.Length == 0 || Find(book, payee, clock.Today) is not { } known || Page(to) is not { } page) return Results.NotFound();
        var visitor = context.Request.Cookies[VisitorCookie] is { Length: 32 } kept && kept.All(char.IsAsciiHexDigitLower) ? kept : Guid.NewGuid().ToString("N");
        if (IsPerson(context.Request))
        {
            context.Response.Cookies.Append(VisitorCookie, visitor, new CookieOptions { HttpOnly = true, SameSite = SameSiteMode.Lax, MaxAge = TimeSpan.FromDays(400), Secure = context.Request.IsHttps });
            var body = JsonSerializer.SerializeToUtf8Bytes(new
            {
                type = "click",
                data = new { payee = known.Id.Value, at = clock.GetUtcNow().ToString("o", System.Globalization.CultureInfo.InvariantCulture), visitor, page, source = Source(context.Request) },
            });
            await door.StoreAsync(new ReceivedEvent(Guid.CreateVersion7().ToString("N"), "link", SalesEventJson.Read(body), body, TimeProvider.System.GetUtcNow()), context.RequestAborted);
        }
        // As an address: a header takes no letters but those of ASCII.
        return Results.Redirect(new Uri($"{book.Record.ShopAddress}{page}{(page.Contains('?', StringComparison.Ordinal) ? '&' : '?')}visitor={visitor}").AbsoluteUri);
    }

    /// <summary>By id, or by a coupon code.</summary>
    private static Payee? Find(OpenedBook book, string payee, DateOnly today) => book.Rules.FindPayee(new PayeeId(payee)) ?? book.Rules.FindPayeeByCode(payee, today);

    /// <summary>A path of the shop; null for anything that a browser might take for another place.</summary>
    internal static string? Page(string? to)
    {
        if (string.IsNullOrEmpty(to)) return "/";
        return to.Length <= MostText && to[0] == '/' && !to.StartsWith("//", StringComparison.Ordinal) && !to.Any(c => c is '\\' or '#' or '@' || char.IsControl(c) || char.IsWhiteSpace(c)) ? to : null;
    }

    private static bool IsPerson(HttpRequest request)
    {
        var agent = request.Headers.UserAgent.ToString();
        return HttpMethods.IsGet(request.Method) && agent.Length > 0 && !Machines().IsMatch(agent)
            && !request.Headers["Sec-Purpose"].ToString().Contains("prefetch", StringComparison.OrdinalIgnoreCase) && !request.Headers["Purpose"].ToString().Contains("prefetch", StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>The page the link stood on, without what may be secret in it.</summary>
    private static string Source(HttpRequest request) =>
        Uri.TryCreate(request.Headers.Referer.ToString(), UriKind.Absolute, out var source) && source.Scheme is "http" or "https" ? Cut(source.Host + source.AbsolutePath) : "";

    private static string Cut(string text) => text.Length <= MostText ? text : text[..MostText];

    [GeneratedRegex("bot|crawl|spider|slurp|preview|scan|monitor|fetch|curl|wget|python|java/|http-client|feed", RegexOptions.IgnoreCase)]
    private static partial Regex Machines();
}
