using EvenSplit.Books;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;

namespace EvenSplit.Web.Pages;

/// <summary>A page of a payee's own. Whose it is, is said by the sign-in and by nothing in the address.</summary>
[Authorize(Policy = Policies.Own)]
public abstract class OwnPage(BookCache cache) : BookPage
{
    public string PayeeId => PayeeCookie.PayeeOf(User)!;

    public string PayeeName => Book.PayeeName(PayeeId);

    public string BookName => cache.Find()!.Record.Name;

    /// <summary>Who of the house looks at it; null for the payee.</summary>
    public string? SeenBy => PayeeCookie.SeenByWhom(User);

    protected string Site => $"{Request.Scheme}://{Request.Host}";

    public string Local(DateTimeOffset at) => Book.Local(at);
}
