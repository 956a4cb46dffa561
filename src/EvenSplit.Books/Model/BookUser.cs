using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Books.Model;

/// <summary>Somebody who signs in to the book.</summary>
public sealed class BookUser : IdentityUser
{
    public required string DisplayName { get; set; }
    /// <summary>Who gave them their role or their sign-in last; null once somebody else has confirmed it, or where that was done at the machine itself.</summary>
    public string? MadeBy { get; set; }
    /// <summary>From when on they sign in no more.</summary>
    public DateTimeOffset? EndedAt { get; set; }
    /// <summary>The codes of an authenticator app that were taken last, with a space between: each is good once, even while it would still be valid.</summary>
    public string LastCodes { get; set; } = "";
}

/// <summary>One sign-in.</summary>
public sealed class SessionRecord
{
    public required string Id { get; set; }
    public required string UserId { get; set; }
    public DateTimeOffset StartedAt { get; set; }
    public DateTimeOffset? EndedAt { get; set; }
    /// <summary>An address on the network.</summary>
    public required string Origin { get; set; }
    /// <summary>When a second factor was shown last; null while it was opened by password alone.</summary>
    public DateTimeOffset? ProvedAt { get; set; }
}

/// <summary>The roles of a book. The approver is never the one who prepared the run.</summary>
public static class Roles
{
    public const string Lead = "lead";
    public const string Approver = "approver";
    public const string Bookkeeper = "bookkeeper";

    public static IReadOnlyList<string> All { get; } = [Lead, Approver, Bookkeeper];
}
