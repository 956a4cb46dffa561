using System.Security.Claims;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;

namespace EvenSplit.Web.Serving;

/// <summary>
/// The sign-in of a payee, apart from that of the house: another cookie, another scheme, no role. What it says is whose pages are shown; every use case is asked for that
/// payee and no other.
/// </summary>
internal static class PayeeCookie
{
    public const string Scheme = "payee";

    /// <summary>The claim that names the payee; nobody of the house has it.</summary>
    public const string Payee = "payee";

    private const string Session = "payee-session", SeenBy = "seen-by";

    public static void Add(IServiceCollection services, bool isBehindTls)
    {
        services.AddAuthentication().AddCookie(Scheme, cookie =>
        {
            Surroundings.Name(cookie.Cookie, "evensplit-me", isBehindTls);
            cookie.LoginPath = "/me/sign-in";
            cookie.AccessDeniedPath = "/me/sign-in";
            cookie.ExpireTimeSpan = PayeeSignIn.SessionLasts;
            // Counted from the sign-in: looking on does not lengthen it, for whoever of the house looks neither.
            cookie.SlidingExpiration = false;
            cookie.Events.OnValidatePrincipal = ValidateAsync;
        });
        services.AddAuthorizationBuilder()
            .AddPolicy(Policies.Own, policy => policy.AddAuthenticationSchemes(Scheme).RequireClaim(Payee))
            .AddPolicy(Policies.OwnChange, policy => policy.AddAuthenticationSchemes(Scheme).RequireClaim(Payee).RequireAssertion(c => !c.User.HasClaim(claim => claim.Type == SeenBy)));
    }

    public static Task StartAsync(HttpContext context, PayeeSessionRecord session, string name) =>
        context.SignInAsync(Scheme, Principal(new(Payee, session.Payee), new(Session, session.Id), new(DisplayNameClaims.Type, name)), new AuthenticationProperties { IsPersistent = true });

    /// <summary>Somebody of the house sees what a payee sees, for a while, and changes nothing.</summary>
    public static Task StartSeenByAsync(HttpContext context, string payee, string by) =>
        context.SignInAsync(Scheme, Principal(new(Payee, payee), new(SeenBy, by), new(DisplayNameClaims.Type, by)), new AuthenticationProperties { ExpiresUtc = DateTimeOffset.UtcNow.AddMinutes(15) });

    public static string? PayeeOf(ClaimsPrincipal user) => user.FindFirstValue(Payee);

    public static string? SeenByWhom(ClaimsPrincipal user) => user.FindFirstValue(SeenBy);

    public static string? SessionOf(ClaimsPrincipal user) => user.FindFirstValue(Session);

    private static ClaimsPrincipal Principal(params Claim[] claims) => new(new ClaimsIdentity(claims, Scheme));

    private static async Task ValidateAsync(CookieValidatePrincipalContext context)
    {
        var services = context.HttpContext.RequestServices;
        var isOpen = context.Principal is { } user && PayeeOf(user) is { } payee && services.GetRequiredService<BookCache>().Find()?.Rules.FindPayee(new Core.PayeeId(payee)) is not null
            && (SeenByWhom(user) is not null || (SessionOf(user) is { } id && services.GetRequiredService<PayeeSignIn>().Session(id)?.Payee == payee));
        if (isOpen) return;
        context.RejectPrincipal();
        await context.HttpContext.SignOutAsync(Scheme);
    }
}
