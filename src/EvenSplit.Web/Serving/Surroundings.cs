using System.Net;
using Microsoft.AspNetCore.HostFiltering;
using Microsoft.AspNetCore.HttpOverrides;

namespace EvenSplit.Web.Serving;

/// <summary>
/// What stands between the application and its users, by name: <c>--hosts</c> it is asked for by, <c>--proxies</c> whose word about the visitor is taken, and whether
/// they speak TLS (<c>--tls</c>). Several with a comma between. Nobody else is believed.
/// </summary>
internal static class Surroundings
{
    public static bool IsBehindTls(IConfiguration configuration) => configuration.GetValue("tls", false);

    public static void Add(WebApplicationBuilder builder)
    {
        builder.Services.Configure<HostFilteringOptions>(filter => filter.AllowedHosts = ["localhost", "127.0.0.1", "[::1]", .. Listed(builder.Configuration, "hosts")]);
        builder.Services.Configure<ForwardedHeadersOptions>(forwarded =>
        {
            forwarded.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto;
            forwarded.KnownIPNetworks.Clear();
            forwarded.KnownProxies.Clear();
            foreach (var proxy in Listed(builder.Configuration, "proxies")) forwarded.KnownProxies.Add(IPAddress.TryParse(proxy, out var address) ? address : throw new InvalidOperationException($"--proxies takes addresses, such as 10.0.0.2; '{proxy}' is none."));
        });
        builder.Services.AddHsts(_ => { });
    }

    public static void Use(WebApplication app)
    {
        // Without a proxy of that name what the headers say is the visitor's own word.
        if (Listed(app.Configuration, "proxies").Length > 0) app.UseForwardedHeaders();
        app.UseHsts();
    }

    /// <summary>Never sent elsewhere, not read by scripts; over TLS bound to this host alone.</summary>
    public static void Name(CookieBuilder cookie, string name, bool isBehindTls)
    {
        (cookie.Name, cookie.SameSite, cookie.HttpOnly) = (isBehindTls ? "__Host-" + name : name, SameSiteMode.Strict, true);
        if (isBehindTls) (cookie.SecurePolicy, cookie.Path) = (CookieSecurePolicy.Always, "/");
    }

    private static string[] Listed(IConfiguration configuration, string name) => (configuration[name] ?? "").Split((char[])[',', ' '], StringSplitOptions.RemoveEmptyEntries);
}
