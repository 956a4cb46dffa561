using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>What somebody signs in with besides their password.</summary>
/// <param name="HasApp">Whether an authenticator app gives them codes.</param>
/// <param name="RecoveryCodes">How many are not used yet.</param>
public sealed record SecondFactorView(bool HasApp, int RecoveryCodes, IReadOnlyList<UserPasskeyInfo> Passkeys)
{
    public bool IsSet => HasApp || Passkeys.Count > 0;
}

/// <summary>The second factor of each person: codes of an authenticator app (RFC 6238, six digits), passkeys, and recovery codes for when both are lost.</summary>
public sealed class SecondFactors(BookDbContext db, UserManager<BookUser> users, BookCache cache, BookSessions sessions, AuditLog audit) : IUseCase
{
    private const int RecoveryCodes = 10;

    /// <summary>More than are valid at one time.</summary>
    private const int CodesRemembered = 8;

    /// <summary>Whether the book asks a second factor of somebody with this role.</summary>
    public bool IsDemandedOf(string role) => role is Roles.Lead or Roles.Approver && cache.Find()?.Record.AsksSecondFactor == true;

    public async Task<SecondFactorView> OfAsync(BookUser user) =>
        new(user.TwoFactorEnabled, await users.CountRecoveryCodesAsync(user), [.. await users.GetPasskeysAsync(user)]);

    /// <summary>The person who does something, by the name that stands beside it.</summary>
    public BookUser Person(string by) => db.Users.Single(u => u.DisplayName == by);

    /// <summary>The key an app is set up with, and the link that carries it; the same until it is confirmed.</summary>
    public async Task<(string Key, string Link)> KeyAsync(BookUser user)
    {
        if (user.TwoFactorEnabled || await users.GetAuthenticatorKeyAsync(user) is null) await users.ResetAuthenticatorKeyAsync(user);
        var key = (await users.GetAuthenticatorKeyAsync(user))!;
        var issuer = Uri.EscapeDataString(cache.Find()!.Record.Name);
        return (key, $"otpauth://totp/{issuer}:{Uri.EscapeDataString(user.UserName!)}?secret={key}&issuer={issuer}&digits=6");
    }

    /// <summary>Takes an app into use, once it gives the right code, and signs the person out everywhere else.</summary>
    /// <returns>Recovery codes, shown this once.</returns>
    /// <exception cref="RefusedException">One is in use already, or the code is not the one of now.</exception>
    public async Task<IReadOnlyList<string>> TakeAppAsync(string by, string code, string session)
    {
        var user = Person(by);
        if (user.TwoFactorEnabled) throw new RefusedException("An app is in use already. Take it away first, then set the new one up.");
        if (!await IsCodeAsync(user, Digits(code))) throw new RefusedException("This is not the code of now. See that the clock of your phone is right, and type the six digits that the app shows.", "Code");
        await using var transaction = await db.Database.BeginTransactionAsync();
        await users.SetTwoFactorEnabledAsync(user, true);
        var codes = await NewRecoveryCodesAsync(user);
        audit.Note(by, "take an authenticator app into use", by);
        await EndAsync(user, session);
        await transaction.CommitAsync();
        return codes;
    }

    /// <returns>Recovery codes, where the person had none.</returns>
    public async Task<IReadOnlyList<string>> TakePasskeyAsync(string by, UserPasskeyInfo passkey, string name, string session)
    {
        if (string.IsNullOrWhiteSpace(name)) throw new RefusedException("Give the passkey a name, so that you know it again.", "PasskeyName");
        var user = Person(by);
        passkey.Name = name.Trim();
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await users.AddOrUpdatePasskeyAsync(user, passkey) is { Succeeded: false } refused) throw new RefusedException(refused.Errors.First().Description);
        var codes = await users.CountRecoveryCodesAsync(user) == 0 ? await NewRecoveryCodesAsync(user) : [];
        audit.Note(by, "take a passkey into use", passkey.Name);
        await EndAsync(user, session);
        await transaction.CommitAsync();
        return codes;
    }

    /// <exception cref="RefusedException">It is the last one, and the book asks for one.</exception>
    public async Task TakeAwayAppAsync(string by)
    {
        var user = Person(by);
        if (!user.TwoFactorEnabled) throw new RefusedException("No app is in use.");
        await DemandAnotherAsync(user, (await users.GetPasskeysAsync(user)).Count > 0);
        await using var transaction = await db.Database.BeginTransactionAsync();
        await users.SetTwoFactorEnabledAsync(user, false);
        await users.ResetAuthenticatorKeyAsync(user);
        audit.Note(by, "take an authenticator app out of use", by);
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
    }

    /// <exception cref="RefusedException">It is the last one, and the book asks for one; or it is not theirs.</exception>
    public async Task TakeAwayPasskeyAsync(string by, string credential)
    {
        var user = Person(by);
        var passkeys = await users.GetPasskeysAsync(user);
        if (passkeys.FirstOrDefault(p => Convert.ToHexString(p.CredentialId) == credential) is not { } passkey) throw new RefusedException("This passkey is out of use already.");
        await DemandAnotherAsync(user, user.TwoFactorEnabled || passkeys.Count > 1);
        await using var transaction = await db.Database.BeginTransactionAsync();
        await users.RemovePasskeyAsync(user, passkey.CredentialId);
        audit.Note(by, "take a passkey out of use", passkey.Name ?? "");
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
    }

    /// <summary>New recovery codes; those from before are worth nothing.</summary>
    public async Task<IReadOnlyList<string>> RenewRecoveryCodesAsync(string by)
    {
        var user = Person(by);
        if (!(await OfAsync(user)).IsSet) throw new RefusedException("Set an app or a passkey up first: recovery codes stand in for it.");
        await using var transaction = await db.Database.BeginTransactionAsync();
        var codes = await NewRecoveryCodesAsync(user);
        audit.Note(by, "make new recovery codes", by);
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return codes;
    }

    /// <summary>Whether a code of the app, or a recovery code, is right; each is good once.</summary>
    public async Task<bool> IsRightAsync(BookUser user, string code)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var digits = Digits(code);
        var isRight = user.TwoFactorEnabled && await IsCodeAsync(user, digits);
        if (isRight)
        {
            var last = (await db.Users.AsNoTracking().Where(u => u.Id == user.Id).Select(u => u.LastCodes).SingleAsync()).Split(' ', StringSplitOptions.RemoveEmptyEntries);
            if (last.Contains(digits)) return false;
            var codes = string.Join(' ', last.Append(digits).TakeLast(CodesRemembered));
            await db.Users.Where(u => u.Id == user.Id).ExecuteUpdateAsync(set => set.SetProperty(u => u.LastCodes, codes));
        }
        else if ((await users.RedeemTwoFactorRecoveryCodeAsync(user, code.Trim().ToUpperInvariant())).Succeeded)
        {
            isRight = true;
            audit.Note(user.DisplayName, "use a recovery code", user.DisplayName);
            await db.SaveChangesAsync();
        }
        await transaction.CommitAsync();
        return isRight;
    }

    private Task<bool> IsCodeAsync(BookUser user, string digits) => users.VerifyTwoFactorTokenAsync(user, users.Options.Tokens.AuthenticatorTokenProvider, digits);

    private async Task<IReadOnlyList<string>> NewRecoveryCodesAsync(BookUser user) => [.. (await users.GenerateNewTwoFactorRecoveryCodesAsync(user, RecoveryCodes))!];

    private async Task EndAsync(BookUser user, string session)
    {
        await db.SaveChangesAsync();
        sessions.EndAll(user.Id, but: session);
        sessions.Proved(session);
    }

    private async Task DemandAnotherAsync(BookUser user, bool isThereAnother)
    {
        if (isThereAnother) return;
        foreach (var role in await users.GetRolesAsync(user))
        {
            if (IsDemandedOf(role)) throw new RefusedException("The book asks for a second factor, and this is your last one. Set another up first.");
        }
    }

    /// <summary>Apps show six digits in two groups.</summary>
    private static string Digits(string code) => string.Concat((code ?? "").Where(c => !char.IsWhiteSpace(c)));
}
