using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Books;

/// <summary>Refuses passwords that are tried first: common ones with figures and signs around them, few letters again and again, and one's own name.</summary>
public sealed class PasswordsOthersHave : IPasswordValidator<BookUser>, IPasswordValidator<PayeeLogin>
{
    private const int FewestLetters = 5;
    private const int FewestBesideName = 8;

    private static readonly HashSet<string> Common = Read();

    public Task<IdentityResult> ValidateAsync(UserManager<BookUser> manager, BookUser user, string? password) =>
        Answer($"{user.UserName} {user.DisplayName}", password);

    public Task<IdentityResult> ValidateAsync(UserManager<PayeeLogin> manager, PayeeLogin user, string? password) => Answer((user.UserName ?? "").Replace('-', ' '), password);

    private static Task<IdentityResult> Answer(string names, string? password) =>
        Task.FromResult(Fault(names, (password ?? "").ToLowerInvariant()) is { } fault ? IdentityResult.Failed(new IdentityError { Code = "PasswordCommon", Description = fault }) : IdentityResult.Success);

    private static string? Fault(string names, string password)
    {
        if (password.Distinct().Count() < FewestLetters) return $"Use at least {FewestLetters} different characters.";
        var letters = string.Concat(password.Where(char.IsAsciiLetter));
        if (Common.Contains(password) || Common.Contains(letters) || Common.Any(c => c.Length * 2 <= password.Length && password.Replace(c, "", StringComparison.Ordinal).All(l => !char.IsAsciiLetter(l))))
        {
            return "This is one of the passwords that are tried first. Several words that have nothing to do with each other are better.";
        }
        var beside = password;
        foreach (var name in names.ToLowerInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(n => n.Length > 2)) beside = beside.Replace(name, "", StringComparison.Ordinal);
        return beside.Length < FewestBesideName ? "Your own name is known to others; leave it out." : null;
    }

    private static HashSet<string> Read()
    {
        using var file = new StreamReader(typeof(PasswordsOthersHave).Assembly.GetManifestResourceStream("CommonPasswords.txt")!);
        return [.. file.ReadToEnd().Split((char[])[' ', '\n', '\r'], StringSplitOptions.RemoveEmptyEntries)];
    }
}
