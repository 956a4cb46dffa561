using System.Reflection;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.ViewFeatures;

namespace EvenSplit.Web.Serving;

/// <summary>Marks what moves money, or who may move it: whoever has a second factor shows it again.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class AskAgainAttribute : Attribute;

/// <summary>What the page shows that asks again: the form as it was sent, to be sent once more with the code.</summary>
/// <param name="Address">Where the form goes.</param>
public sealed record AskAgainView(string Address, IReadOnlyList<KeyValuePair<string, string>> Fields, SecondFactorView Has, string? PasskeyOptions, string? Fault);

/// <summary>Asks for the second factor again where the last was shown too long ago; then what was asked for is done, with everything as it was typed.</summary>
internal sealed class AskAgainFilter(SecondFactors factors, PasskeyAsking<BookUser> passkeys, BookSessions sessions, SignInThrottle throttle, AuditLog audit, IModelMetadataProvider metadata) : IAsyncPageFilter
{
    public const string CodeField = "again.code", PasskeyField = "again.passkey";

    /// <summary>For how long one showing is enough.</summary>
    private static readonly TimeSpan Enough = TimeSpan.FromMinutes(5);

    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        var http = context.HttpContext;
        if (context.HandlerMethod?.MethodInfo.GetCustomAttribute<AskAgainAttribute>() is null || SignInCookie.ProvedAt(http) + Enough > TimeProvider.System.GetUtcNow())
        {
            await next();
            return;
        }
        var user = factors.Person(http.User.DisplayName());
        var has = await factors.OfAsync(user);
        if (!has.IsSet || await IsShownAsync(http, user) is not { } fault)
        {
            await next();
            return;
        }
        var fields = http.Request.Form.Where(f => f.Key is not (CodeField or PasskeyField)).SelectMany(f => f.Value.Select(v => KeyValuePair.Create(f.Key, v ?? ""))).ToArray();
        var options = has.Passkeys.Count > 0 ? await passkeys.OptionsAsync(user) : null;
        context.Result = new ViewResult
        {
            ViewName = "/Pages/Account/_AskAgain.cshtml",
            StatusCode = StatusCodes.Status401Unauthorized,
            ViewData = new ViewDataDictionary<AskAgainView>(metadata, context.ModelState) { Model = new AskAgainView(http.Request.Path + http.Request.QueryString, fields, has, options, fault.Length > 0 ? fault : null) },
        };
    }

    /// <returns>Null where it was shown; else what is wrong, empty where it is asked for the first time.</returns>
    private async Task<string?> IsShownAsync(HttpContext http, BookUser user)
    {
        var (code, passkey) = (http.Request.Form[CodeField].ToString(), http.Request.Form[PasskeyField].ToString());
        if (code.Length + passkey.Length == 0) return "";
        if (throttle.IsTooManyCodes(user.Id)) return SignInThrottle.TooMany;
        if (passkey.Length > 0 ? await passkeys.IsOfAsync(user, passkey) : await factors.IsRightAsync(user, code))
        {
            sessions.Proved(SignInCookie.SessionOf(http.User)!);
            return null;
        }
        throttle.FailedCode(user.Id);
        audit.NoteAlone(user.DisplayName, "fail to show the second factor", user.UserName ?? "");
        return passkey.Length > 0 ? PasskeyAsking.NotTaken : "This is not the code of now, or it was used already. Wait for the next one.";
    }
}
