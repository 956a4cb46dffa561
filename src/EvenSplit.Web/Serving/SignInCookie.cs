using System.Security.Claims;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Web.Serving;

/// <summary>Signs in and out: the cookie names a session of the book, and is asked for at every request whether that is still open.</summary>
public sealed class SignInCookie(SignInManager<BookUser> signIn, BookSessions sessions, AuditLog audit)
{
    private const string Session = "session";

    /// <param name="isProved">Whether a second factor was shown.</param>
    public async Task StartAsync(BookUser user, bool isProved = false)
    {
        var session = sessions.Start(user.Id, isProved);
        await signIn.SignInWithClaimsAsync(user, new AuthenticationProperties(), [new Claim(Session, session)]);
        audit.NoteAlone(user.DisplayName, isProved ? "sign in with a second factor" : "sign in", user.UserName ?? "");
    }

    public async Task EndAsync(ClaimsPrincipal user)
    {
        if (SessionOf(user) is { } session) sessions.End(session);
        await signIn.SignOutAsync();
        audit.NoteAlone(user.DisplayName(), "sign out", user.Identity?.Name ?? "");
    }

    public static string? SessionOf(ClaimsPrincipal user) => user.FindFirstValue(Session);

    /// <summary>When the second factor was shown last in the session of a request; null where it was not.</summary>
    public static DateTimeOffset? ProvedAt(HttpContext context) => (context.Items[Session] as SessionRecord)?.ProvedAt;

    public static async Task ValidateAsync(CookieValidatePrincipalContext context)
    {
        var services = context.HttpContext.RequestServices;
        if (context.Principal is { } user && SessionOf(user) is { } session && services.GetRequiredService<BookSessions>().Find(session) is { } open)
        {
            context.HttpContext.Items[Session] = open;
            return;
        }
        context.RejectPrincipal();
        await context.HttpContext.SignOutAsync(IdentityConstants.ApplicationScheme);
    }
}
