using EvenSplit.Books.Own;

namespace EvenSplit.Web.Serving;

/// <summary>What the browser in which a payee asked for a link keeps until the link is opened in it.</summary>
internal static class AskedInBrowser
{
    public static void Keep(HttpContext context, bool isBehindTls, string secret)
    {
        var cookie = Cookie(isBehindTls);
        var options = cookie.Build(context);
        // The link is opened from a mail, which is another site.
        (options.SameSite, options.MaxAge) = (SameSiteMode.Lax, PayeeSignIn.AskedLasts);
        context.Response.Cookies.Append(cookie.Name!, secret, options);
    }

    /// <summary>Empty where nothing was asked for in it.</summary>
    public static string SecretIn(HttpContext context, bool isBehindTls) => context.Request.Cookies[Cookie(isBehindTls).Name!] ?? "";

    private static CookieBuilder Cookie(bool isBehindTls)
    {
        var cookie = new CookieBuilder();
        Surroundings.Name(cookie, "evensplit-asked-link", isBehindTls);
        return cookie;
    }
}
