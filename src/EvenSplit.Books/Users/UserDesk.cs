using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Somebody who signs in, or did.</summary>
/// <param name="MadeBy">Who gave them their role or their sign-in last, as long as nobody else has confirmed it.</param>
public sealed record UserView(string Id, string Name, string UserName, string Role, string? MadeBy, DateTimeOffset? EndedAt, bool HasSecondFactor, IReadOnlyList<SessionRecord> Sessions);

/// <summary>Who signs in: added, renamed, given another role, reset and ended by a lead; each of these confirmed by somebody else before it counts as another pair of eyes.</summary>
public sealed class UserDesk(BookDbContext db, UserManager<BookUser> users, BookSessions sessions, BookClock clock, AuditLog audit) : IUseCase
{
    public IReadOnlyList<UserView> List()
    {
        var open = sessions.Open().ToLookup(s => s.UserId);
        var withPasskeys = db.UserPasskeys.AsNoTracking().Select(p => p.UserId).ToHashSet();
        return [.. db.Users.AsNoTracking().OrderBy(u => u.EndedAt != null).ThenBy(u => u.DisplayName).AsEnumerable()
            .Select(u => new UserView(u.Id, u.DisplayName, u.UserName ?? "", RoleOf(u.Id), u.MadeBy, u.EndedAt, u.TwoFactorEnabled || withPasskeys.Contains(u.Id), [.. open[u.Id]]))];
    }

    /// <summary>Says that somebody has their role rightly.</summary>
    /// <exception cref="RefusedException">It is confirmed already, or by whoever gave it, by themselves, or by somebody of a lesser role.</exception>
    public void Confirm(string id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var user = Active(id);
        if (user.MadeBy is not { } maker) throw new RefusedException($"{user.DisplayName} is confirmed already.");
        if (by == maker) throw new RefusedException($"{by} gave {user.DisplayName} this, so somebody else must confirm it.");
        if (by == user.DisplayName) throw new RefusedException("Nobody confirms their own role.");
        var own = db.Users.Where(u => u.DisplayName == by).Select(u => u.Id).FirstOrDefault();
        if (own is null || Rank(RoleOf(own)) < Rank(RoleOf(id)) || db.Users.Any(u => u.Id == own && u.MadeBy != null))
        {
            throw new RefusedException($"The role of {user.DisplayName} is confirmed by somebody who has at least that role, confirmed themselves.");
        }
        ConfirmedBy(user, by);
        transaction.Commit();
    }

    /// <summary>Confirms somebody from the machine itself, where there is nobody else who could.</summary>
    public void ConfirmAtTheMachine(string userName, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var user = db.Users.SingleOrDefault(u => u.NormalizedUserName == users.NormalizeName(userName)) ?? throw new RefusedException($"Nobody signs in as {userName}.");
        ConfirmedBy(user, $"{by} at the machine");
        transaction.Commit();
    }

    /// <exception cref="RefusedException">It is their own, or that of the last lead.</exception>
    public async Task ChangeRoleAsync(string id, string role, string by)
    {
        if (!Roles.All.Contains(role)) throw new RefusedException("Choose a role.");
        await using var transaction = await db.Database.BeginTransactionAsync();
        var user = Active(id);
        var was = RoleOf(id);
        if (user.DisplayName == by) throw new RefusedException("Nobody changes their own role; ask another lead.");
        if (was == role) throw new RefusedException($"{user.DisplayName} is {role} already.");
        if (was == Roles.Lead) KeepOneLead(id);
        await users.RemoveFromRoleAsync(user, was);
        await users.AddToRoleAsync(user, role);
        BookUsers.EndWorkingAlone(db, role);
        user.MadeBy = by;
        audit.Note(by, $"change a role from {was} to {role}", user.DisplayName);
        await db.SaveChangesAsync();
        sessions.EndAll(id);
        await transaction.CommitAsync();
    }

    /// <summary>Ends somebody's sign-in for good; their name stays beside what they did.</summary>
    public void End(string id, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var user = Active(id);
        if (user.DisplayName == by) throw new RefusedException("Nobody ends their own sign-in; ask another lead.");
        if (RoleOf(id) == Roles.Lead) KeepOneLead(id);
        user.EndedAt = clock.GetUtcNow();
        audit.Note(by, "end a sign-in", user.DisplayName);
        db.SaveChanges();
        sessions.EndAll(id);
        transaction.Commit();
    }

    /// <summary>Takes away what somebody has lost: the app and the passkeys, so that they set another up.</summary>
    public async Task TakeSecondFactorAwayAsync(string id, string by)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var user = Active(id);
        if (user.DisplayName == by) throw new RefusedException("Change your own second factor where it says so.");
        await users.SetTwoFactorEnabledAsync(user, false);
        await users.ResetAuthenticatorKeyAsync(user);
        foreach (var passkey in await users.GetPasskeysAsync(user)) await users.RemovePasskeyAsync(user, passkey.CredentialId);
        await users.GenerateNewTwoFactorRecoveryCodesAsync(user, 0);
        user.MadeBy = by;
        audit.Note(by, "take a second factor away", user.DisplayName);
        await db.SaveChangesAsync();
        sessions.EndAll(id);
        await transaction.CommitAsync();
    }

    /// <summary>Lets somebody sign in under another name. The name beside what they did stays as it is.</summary>
    /// <exception cref="RefusedException">The name is empty or taken.</exception>
    public async Task RenameAsync(string id, string userName, string by)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var user = Active(id);
        if (string.IsNullOrWhiteSpace(userName)) throw new RefusedException("Give the name to sign in with.");
        var was = user.UserName;
        var result = await users.SetUserNameAsync(user, userName.Trim());
        if (!result.Succeeded) throw new RefusedException(result.Errors.First().Description);
        audit.Note(by, $"rename a sign-in from {was}", user.DisplayName);
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
    }

    /// <summary>Makes a link with which somebody sets a new password, once, within a day.</summary>
    public async Task<string> ResetTokenAsync(string id, string by)
    {
        var user = Active(id);
        if (user.DisplayName == by) throw new RefusedException("Change your own password where it says so.");
        var token = await users.GeneratePasswordResetTokenAsync(user);
        user.MadeBy = by;
        audit.Note(by, "reset a sign-in", user.DisplayName);
        await db.SaveChangesAsync();
        sessions.EndAll(id);
        return token;
    }

    /// <exception cref="RefusedException">The link was used, is too old or not theirs, or the password is too weak.</exception>
    public async Task ResetAsync(string id, string token, string password)
    {
        var user = db.Users.SingleOrDefault(u => u.Id == id && u.EndedAt == null);
        var result = user is null ? null : await users.ResetPasswordAsync(user, token, password);
        if (result is not { Succeeded: true })
        {
            var fault = result?.Errors.FirstOrDefault();
            throw fault?.Code.StartsWith("Password", StringComparison.Ordinal) == true
                ? new RefusedException(fault.Description, "Password")
                : new RefusedException("This link was used already, or is older than a day. Ask a lead for another.", "Password");
        }
        audit.Note(user!.DisplayName, "set a new password by link", user.DisplayName);
        await db.SaveChangesAsync();
    }

    /// <exception cref="RefusedException">The old one is wrong, or the new one too weak.</exception>
    public async Task ChangePasswordAsync(string by, string old, string password, string session)
    {
        var user = db.Users.Single(u => u.DisplayName == by);
        var result = await users.ChangePasswordAsync(user, old, password);
        if (result.Errors.FirstOrDefault() is { } fault)
        {
            throw fault.Code == "PasswordMismatch" ? new RefusedException("The password you have now is another.", "OldPassword") : new RefusedException(fault.Description, "NewPassword");
        }
        audit.Note(by, "change their password", by);
        await db.SaveChangesAsync();
        sessions.EndAll(user.Id, but: session);
    }

    private void ConfirmedBy(BookUser user, string by)
    {
        user.MadeBy = null;
        audit.Note(by, $"confirm the role {RoleOf(user.Id)}", user.DisplayName);
        db.SaveChanges();
    }

    private BookUser Active(string id) => db.Users.SingleOrDefault(u => u.Id == id && u.EndedAt == null) ?? throw new RefusedException("There is nobody of that name who signs in.");

    private string RoleOf(string id) => db.UserRoles.Where(r => r.UserId == id).Join(db.Roles, r => r.RoleId, r => r.Id, (_, r) => r.Name).FirstOrDefault() ?? "";

    private void KeepOneLead(string but)
    {
        var lead = db.Roles.Where(r => r.Name == Roles.Lead).Select(r => r.Id).FirstOrDefault();
        if (!db.UserRoles.Any(r => r.RoleId == lead && r.UserId != but && db.Users.Any(u => u.Id == r.UserId && u.EndedAt == null))) throw new RefusedException("This is the last lead; a book has one.");
    }

    private static int Rank(string role) => role switch { Roles.Lead => 2, Roles.Approver => 1, _ => 0 };
}
