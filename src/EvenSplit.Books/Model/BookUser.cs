using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Books.Model;

/// <summary>Somebody who signs in to the book.</summary>
public sealed class BookUser : IdentityUser
{
    public required string DisplayName { get; set; }
}

/// <summary>The roles of a book. The approver is never the one who prepared the run.</summary>
public static class Roles
{
    public const string Lead = "lead";
    public const string Approver = "approver";
    public const string Bookkeeper = "bookkeeper";

    public static IReadOnlyList<string> All { get; } = [Lead, Approver, Bookkeeper];
}
