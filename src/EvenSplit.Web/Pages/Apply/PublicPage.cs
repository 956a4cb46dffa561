using EvenSplit.Books;
using EvenSplit.Web.Serving;

namespace EvenSplit.Web.Pages;

/// <summary>A page for anybody, in the book's name.</summary>
public abstract class PublicPage(BookCache cache) : BookPage
{
    public string BookName => cache.Find()!.Record.Name;

    /// <summary>Where this application is reached: the host is one of those it answers to.</summary>
    protected string Site => $"{Request.Scheme}://{Request.Host}";

    protected string From => HttpContext.Connection.RemoteIpAddress?.ToString() ?? "";

    /// <summary>What a person does not see was filled in.</summary>
    protected bool IsMachine => Request.HasFormContentType && Request.Form[ApplyThrottle.Trap].ToString().Length > 0;
}
