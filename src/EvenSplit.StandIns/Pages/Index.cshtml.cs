using EvenSplit.StandIns.Shop;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.StandIns.Pages;

public sealed class IndexModel(ShopCatalogue catalogue) : PageModel
{
    public IReadOnlyList<ShopProduct> Products => catalogue.All;

    public void OnGet() => this.KeepVisitor();
}

/// <summary>Who is looking around: handed over by the link that led here, kept in a cookie.</summary>
internal static class Visitors
{
    private const string Cookie = "shop-visitor";

    public static void KeepVisitor(this PageModel page)
    {
        var visitor = page.Request.Query["visitor"].ToString();
        if (visitor.Length is > 0 and <= 64) page.Response.Cookies.Append(Cookie, visitor, new CookieOptions { HttpOnly = true, SameSite = SameSiteMode.Lax });
    }

    public static string Visitor(this PageModel page) => page.Request.Cookies[Cookie] ?? "";
}
