using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Web.Serving;

/// <summary>Asks a browser for a passkey and looks at what it shows. What was asked is kept in a cookie of its own until it is answered.</summary>
public sealed class PasskeyAsking(SignInManager<BookUser> signIn, UserManager<BookUser> users)
{
    public const string NotTaken = "The passkey was not taken. Try again, or use a code.";

    /// <param name="user">Whose passkeys are asked for; null for anybody's.</param>
    /// <returns>What the browser is asked with, as JSON of WebAuthn.</returns>
    public Task<string> OptionsAsync(BookUser? user) => signIn.MakePasskeyRequestOptionsAsync(user);

    /// <returns>Whose passkey it is; null where it does not answer what was asked.</returns>
    public async Task<BookUser?> WhoAsync(string credential)
    {
        if (string.IsNullOrEmpty(credential)) return null;
        PasskeyAssertionResult<BookUser> shown;
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

    public async Task<bool> IsOfAsync(BookUser user, string credential) => (await WhoAsync(credential))?.Id == user.Id;

    /// <returns>What the browser makes a new passkey with, as JSON of WebAuthn.</returns>
    public Task<string> NewAsync(BookUser user) => signIn.MakePasskeyCreationOptionsAsync(new PasskeyUserEntity { Id = user.Id, Name = user.UserName!, DisplayName = user.DisplayName });

    /// <returns>Null where it does not answer what was asked.</returns>
    public async Task<UserPasskeyInfo?> MadeAsync(string credential)
    {
        if (string.IsNullOrEmpty(credential)) return null;
        try
        {
            return await signIn.PerformPasskeyAttestationAsync(credential) is { Succeeded: true } made ? made.Passkey : null;
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }
}
