using EvenSplit.Books;
using EvenSplit.Books.Model;

namespace EvenSplit.Web.Serving;

/// <summary>Where the book asks for a second factor, whoever has none sets one up before anything else.</summary>
internal sealed class SecondFactorFirst(RequestDelegate next)
{
    public const string SetUp = "/second-factor";

    private static readonly string[] Free = [SetUp, "/sign-out", "/sign-in", "/error", "/refused"];

    public async Task InvokeAsync(HttpContext context)
    {
        if (context.User.Identity?.IsAuthenticated == true && SignInCookie.ProvedAt(context) is null && !Free.Contains(context.Request.Path.Value)
            && Roles.All.FirstOrDefault(context.User.IsInRole) is { } role && context.RequestServices.GetRequiredService<SecondFactors>().IsDemandedOf(role))
        {
            context.Response.Redirect(SetUp);
            return;
        }
        await next(context);
    }
}
