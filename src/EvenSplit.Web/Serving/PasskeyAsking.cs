using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Web.Serving;

/// <summary>What is said where a passkey does not fit.</summary>
public static class PasskeyAsking
{
    public const string NotTaken = "The passkey was not taken. Try again, or use a code.";
}

/// <summary>Asks a browser for a passkey and looks at what it shows. What was asked is kept in a cookie of its own until it is answered.</summary>
public sealed class PasskeyAsking<TUser>(SignInManager<TUser> signIn, UserManager<TUser> users) where TUser : IdentityUser
{
    /// <param name="user">Whose passkeys are asked for; null for anybody's.</param>
    /// <returns>What the browser is asked with, as JSON of WebAuthn.</returns>
    public Task<string> OptionsAsync(TUser? user) => signIn.MakePasskeyRequestOptionsAsync(user);

    /// <returns>Whose passkey it is; null where it does not answer what was asked.</returns>
    public async Task<TUser?> WhoAsync(string credential)
    {
        if (string.IsNullOrEmpty(credential)) return null;
        PasskeyAssertionResult<TUser> shown;
        try
        {
            shown = await signIn.PerformPasskeyAssertionAsync(credential);
        }
        catch (InvalidOperationException)
        {
            // It was not asked for, or too long ago.
            return null;
        }
        if (!shown.Succeeded) return null;
        // How often it was used is kept with it, so that a copy of it is noticed.
        await users.AddOrUpdatePasskeyAsync(shown.User, shown.Passkey);
        return shown.User;
    }

    public async Task<bool> IsOfAsync(TUser user, string credential) => (await WhoAsync(credential))?.Id == user.Id;

    /// <param name="name">How the browser calls whose it is.</param>
    /// <returns>What the browser makes a new passkey with, as JSON of WebAuthn.</returns>
    public Task<string> NewAsync(TUser user, string name) => signIn.MakePasskeyCreationOptionsAsync(new PasskeyUserEntity { Id = user.Id, Name = user.UserName!, DisplayName = name });

    /// <param name="user">The id of whose it is to be.</param>
    /// <returns>Null where it does not answer what was asked.</returns>
    public async Task<UserPasskeyInfo?> MadeAsync(string credential, string user)
    {
        if (string.IsNullOrEmpty(credential)) return null;
        try
        {
            return await signIn.PerformPasskeyAttestationAsync(credential) is { Succeeded: true } made && made.UserEntity.Id == user ? made.Passkey : null;
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }
}
