using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>With what a payee signs in besides the mailed link.</summary>
public sealed record PayeeLoginView(bool HasPassword, IReadOnlyList<UserPasskeyInfo> Passkeys);

/// <summary>
/// Passkeys, and passwords with a code of an authenticator app (RFC 6238), of payees. Neither is ever asked for: the mailed link opens always, so that nobody is locked out and no recovery codes are
/// needed. Each change ends the sign-ins elsewhere and is told by mail.
/// </summary>
public sealed class PayeeLogins(BookDbContext db, UserManager<PayeeLogin> logins, IUserStore<PayeeLogin> store, BookCache cache, BookClock clock, DetailMails mails, AuditLog audit) : IUseCase
{
    private const int CodesRemembered = 8, ShortestKey = 32, LongestName = 100;

    private IUserAuthenticatorKeyStore<PayeeLogin> Keys => (IUserAuthenticatorKeyStore<PayeeLogin>)store;

    public async Task<PayeeLoginView> OfAsync(string payee)
    {
        if (await logins.FindByIdAsync(payee) is not { } login) return new PayeeLoginView(false, []);
        return new PayeeLoginView(login.PasswordHash is not null, [.. await logins.GetPasskeysAsync(login)]);
    }

    /// <summary>What a new passkey is made for. Nothing is kept.</summary>
    public static PayeeLogin For(string payee) => new() { Id = payee, UserName = payee, NormalizedUserName = payee.ToUpperInvariant(), SecurityStamp = PayeeSignIn.NewSecret() };

    /// <summary>A key for an authenticator app, and the link that carries it. Nothing is kept until a code shows that an app has it.</summary>
    public (string Key, string Link) NewKey(string payee) => LinkOf(payee, logins.GenerateNewAuthenticatorKey());

    /// <summary>The same for a key that was shown before.</summary>
    public (string Key, string Link) LinkOf(string payee, string key)
    {
        var issuer = Uri.EscapeDataString(cache.Get(db).Record.Name);
        return (key, $"otpauth://totp/{issuer}:{Uri.EscapeDataString(payee)}?secret={Uri.EscapeDataString(key)}&issuer={issuer}&digits=6");
    }

    /// <summary>Takes a password into use, with the app that was set up with a key.</summary>
    /// <exception cref="RefusedException">The password is one that is tried first, or the code is not the app's.</exception>
    public async Task TakePasswordAsync(string payee, string password, string key, string code, string session)
    {
        if (key.Length < ShortestKey || key.Any(c => !char.IsAsciiLetterUpper(c) && !char.IsBetween(c, '2', '7'))) throw new RefusedException("Set the app up with the key shown here.", "Code");
        await using var transaction = await db.Database.BeginTransactionAsync();
        try
        {
            await TryPasswordAsync(await KeptAsync(payee), password, key, code);
        }
        catch (RefusedException)
        {
            // Nothing of it is kept: what is shown next reads the book anew.
            db.ChangeTracker.Clear();
            throw;
        }
        await ChangedAsync(payee, "sign in with a password and an app", "From now on you can also sign in with a password and a code of your app.", session);
        await transaction.CommitAsync();
    }

    private async Task TryPasswordAsync(PayeeLogin login, string password, string key, string code)
    {
        if (login.PasswordHash is not null) Demand(await logins.RemovePasswordAsync(login));
        await Keys.SetAuthenticatorKeyAsync(login, key, default);
        Demand(await logins.AddPasswordAsync(login, password));
        var digits = Digits(code);
        if (!await IsCodeAsync(login, digits)) throw new RefusedException("This is not the code of now. Type the six digits that the app shows, and see that the clock of your phone is right.", "Code");
        login.LastCodes = digits;
    }

    public async Task TakeAwayPasswordAsync(string payee, string session)
    {
        if (await logins.FindByIdAsync(payee) is not { PasswordHash: not null } login) throw new RefusedException("There is no password.");
        await using var transaction = await db.Database.BeginTransactionAsync();
        Demand(await logins.RemovePasswordAsync(login));
        await Keys.SetAuthenticatorKeyAsync(login, "", default);
        await ChangedAsync(payee, "sign in without a password", "Your password opens nothing any more.", session);
        await transaction.CommitAsync();
    }

    /// <exception cref="RefusedException">It has no name.</exception>
    public async Task TakePasskeyAsync(string payee, UserPasskeyInfo passkey, string name, string session)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Length > LongestName) throw new RefusedException("Give the passkey a short name, so that you know it again.", "PasskeyName");
        passkey.Name = name.Trim();
        await using var transaction = await db.Database.BeginTransactionAsync();
        Demand(await logins.AddOrUpdatePasskeyAsync(await KeptAsync(payee), passkey));
        await ChangedAsync(payee, $"take the passkey {passkey.Name} into use", $"From now on you can also sign in with the passkey {passkey.Name}.", session);
        await transaction.CommitAsync();
    }

    /// <param name="credential">Its id in hexadecimal.</param>
    /// <exception cref="RefusedException">It is not theirs, or out of use.</exception>
    public async Task TakeAwayPasskeyAsync(string payee, string credential, string session)
    {
        var login = await logins.FindByIdAsync(payee);
        var passkeys = login is null ? [] : await logins.GetPasskeysAsync(login);
        if (passkeys.FirstOrDefault(p => Convert.ToHexString(p.CredentialId) == credential) is not { } passkey) throw new RefusedException("This passkey is out of use already.");
        await using var transaction = await db.Database.BeginTransactionAsync();
        Demand(await logins.RemovePasskeyAsync(login!, passkey.CredentialId));
        await ChangedAsync(payee, $"take the passkey {passkey.Name} out of use", $"The passkey {passkey.Name} opens nothing any more.", session);
        await transaction.CommitAsync();
    }

    /// <summary>Whether address, password and code go together. As much work is done where they do not.</summary>
    /// <returns>The payee; null where they do not.</returns>
    public async Task<string?> WhoAsync(string email, string password, string code)
    {
        var address = email.Trim().ToLowerInvariant();
        var payee = address.Length == 0 ? null : db.Payees.AsNoTracking().Where(p => p.Email != null && p.Email.ToLower() == address).OrderBy(p => p.Position).Select(p => p.Id).FirstOrDefault();
        var login = payee is null ? null : await logins.FindByIdAsync(payee);
        if (login?.PasswordHash is null)
        {
            logins.PasswordHasher.VerifyHashedPassword(Nobody, NobodysHash, password);
            return null;
        }
        var isRight = await logins.CheckPasswordAsync(login, password);
        var digits = Digits(code);
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.Entry(login).ReloadAsync();
        var last = login.LastCodes.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (!isRight || last.Contains(digits) || !await IsCodeAsync(login, digits)) return null;
        login.LastCodes = string.Join(' ', last.Append(digits).TakeLast(CodesRemembered));
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return payee;
    }

    private static readonly PayeeLogin Nobody = For("nobody");

    private static readonly string NobodysHash = new PasswordHasher<PayeeLogin>().HashPassword(Nobody, Guid.NewGuid().ToString());

    /// <summary>The login of a payee, made where there is none.</summary>
    private async Task<PayeeLogin> KeptAsync(string payee)
    {
        if (await logins.FindByIdAsync(payee) is { } known) return known;
        var login = For(payee);
        db.PayeeLogins.Add(login);
        await db.SaveChangesAsync();
        return login;
    }

    private async Task ChangedAsync(string payee, string action, string sentence, string session)
    {
        var now = TimeProvider.System.GetUtcNow();
        audit.Note(cache.Get(db).PayeeName(payee), action, payee);
        await db.SaveChangesAsync();
        await db.PayeeSessions.Where(s => s.Payee == payee && s.Id != session && s.EndedAt == null).ExecuteUpdateAsync(set => set.SetProperty(s => s.EndedAt, now));
        mails.Tell(payee, $"how-to-sign-in-{PayeeSignIn.NewSecret()[..16]}", $"{sentence} Wherever else you were signed in, that is ended. ({clock.Today.InWords()})");
    }

    private Task<bool> IsCodeAsync(PayeeLogin login, string digits) => logins.VerifyTwoFactorTokenAsync(login, logins.Options.Tokens.AuthenticatorTokenProvider, digits);

    private static string Digits(string code) => string.Concat((code ?? "").Where(c => !char.IsWhiteSpace(c)));

    private static void Demand(IdentityResult result)
    {
        if (!result.Succeeded) throw new RefusedException(result.Errors.First().Description, "Password");
    }
}
