using System.Reflection;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;

namespace EvenSplit.Web.Serving;

/// <summary>Tells every address that answers a GET, with what its query may say: from the routes, so that none is forgotten where all are to be measured.</summary>
internal static class PageAddresses
{
    /// <returns>One a line: the pattern, then the parameters of its query. Handlers of their own stand as handler=name.</returns>
    public static async Task<IReadOnlyList<string>> AllAsync(WebApplication app)
    {
        var loader = app.Services.GetRequiredService<PageLoader>();
        var lines = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var endpoint in ((IEndpointRouteBuilder)app).DataSources.SelectMany(s => s.Endpoints).OfType<RouteEndpoint>())
        {
            if (endpoint.Metadata.GetMetadata<PageActionDescriptor>() is not { } described) continue;
            var page = await loader.LoadAsync(described, EndpointMetadataCollection.Empty);
            var inRoute = endpoint.RoutePattern.Parameters.Select(p => p.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
            var query = page.ModelTypeInfo!.GetProperties().Select(p => (p.Name, Bind: p.GetCustomAttribute<BindPropertyAttribute>())).Where(p => p.Bind is { SupportsGet: true })
                .Select(p => (p.Bind!.Name ?? p.Name).ToLowerInvariant()).Where(n => !inRoute.Contains(n)).Order(StringComparer.Ordinal);
            foreach (var handler in page.HandlerMethods.Where(m => m.HttpMethod == "Get"))
            {
                IEnumerable<string> says = handler.Name is { } name ? [$"handler={name}"] : query;
                lines.Add(string.Join(' ', ["/" + endpoint.RoutePattern.RawText!.TrimStart('/'), .. says]));
            }
        }
        return [.. lines];
    }
}
