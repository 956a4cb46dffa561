using System.Security.Claims;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;

namespace EvenSplit.Web.Serving;

/// <summary>Carries the person's own name with the sign-in: it stands beside everything they do.</summary>
internal sealed class DisplayNameClaims(UserManager<BookUser> users, RoleManager<IdentityRole> roles, IOptions<IdentityOptions> options)
    : UserClaimsPrincipalFactory<BookUser, IdentityRole>(users, roles, options)
{
    public const string Type = "display-name";

    protected override async Task<ClaimsIdentity> GenerateClaimsAsync(BookUser user)
    {
        var identity = await base.GenerateClaimsAsync(user);
        identity.AddClaim(new Claim(Type, user.DisplayName));
        return identity;
    }
}

internal static class SignedIn
{
    /// <summary>The name that stands beside what the person does.</summary>
    public static string DisplayName(this ClaimsPrincipal user) => user.FindFirstValue(DisplayNameClaims.Type) ?? "";
}
