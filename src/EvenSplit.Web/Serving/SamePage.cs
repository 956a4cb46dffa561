using EvenSplit.Core;

namespace EvenSplit.Web.Serving;

/// <summary>The page one is on, in another month.</summary>
internal static class SamePage
{
    /// <summary>What of an address is about one row or one place in a list, and not a filter.</summary>
    private static readonly HashSet<string> OfOneRow = new(StringComparer.OrdinalIgnoreCase) { "handler", "after", "entry", "order", "refund", "find" };

    /// <returns>Its address with its filters; null where the page is about a single thing.</returns>
    public static string? Of(HttpRequest request, RouteData route, Period period)
    {
        if (route.Values.Keys.Any(k => k is not ("page" or "period" or "handler")) || !route.Values.TryGetValue("period", out var here)) return null;
        var path = request.Path.Value!;
        var rest = path[($"/{here}".Length)..];
        var filters = request.Query.Where(q => !OfOneRow.Contains(q.Key)).SelectMany(q => q.Value.Select(v => KeyValuePair.Create(q.Key, v)));
        return $"/{period}{rest}{QueryString.Create(filters)}";
    }
}
