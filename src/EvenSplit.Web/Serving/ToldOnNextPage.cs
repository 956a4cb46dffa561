using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.Extensions.Options;

namespace EvenSplit.Web.Serving;

/// <summary>
/// What was done is told on the page that is looked at next. A script that asks for a part of a page beside that neither takes the words nor clears them: its answer
/// may come between the form's and the next page.
/// </summary>
internal sealed class ToldOnNextPage(CookieTempDataProvider cookie, IOptions<CookieTempDataProviderOptions> options) : ITempDataProvider
{
    public IDictionary<string, object> LoadTempData(HttpContext context) => IsByScript(context.Request) ? new Dictionary<string, object>() : cookie.LoadTempData(context);

    public void SaveTempData(HttpContext context, IDictionary<string, object> values)
    {
        if (IsByScript(context.Request)) return;
        if (values.Count > 0 || context.Request.Cookies.ContainsKey(options.Value.Cookie.Name!)) cookie.SaveTempData(context, values);
    }

    /// <summary>A script asks for anything, a browser's page for HTML.</summary>
    private static bool IsByScript(HttpRequest request) => request.Headers.Accept == "*/*";
}
