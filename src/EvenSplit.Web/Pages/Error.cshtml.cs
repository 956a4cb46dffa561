using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

// A form that is refused for want of its token is answered here too, with words: after the filter that asks every page for it.
[AllowAnonymous, IgnoreAntiforgeryToken(Order = 2000)]
public sealed class ErrorPage : BookPage
{
    [BindProperty(SupportsGet = true)]
    public int? Code { get; set; }

    private string? Trouble => EvenSplit.Books.BookTrouble.Of(HttpContext.Features.Get<Microsoft.AspNetCore.Diagnostics.IExceptionHandlerFeature>()?.Error);

    public string Heading => Code switch
    {
        404 => "There is nothing at this address",
        400 => "The form could not be read",
        413 => "The file is too large",
        403 => "This is not yours to do",
        _ => Trouble is null ? "Something went wrong" : "The book cannot be written",
    };

    public string What => Code switch
    {
        404 => "It may have been written differently, or what it showed is no longer in the book.",
        400 => "It was open for too long, or was sent from elsewhere. Nothing was changed. Go back, reload the page and send it again.",
        413 => "A file may have up to 500 MB. Nothing was taken from it. Split it in two and send both.",
        403 => "Your role does not include it. Nothing was changed.",
        _ => Trouble ?? "What you were doing was not carried out, and nothing was lost or half done. Try it again; if it happens again, the application's log says why.",
    };

    public void OnGet()
    {
    }

    [WriteBy(Policies.Anyone)]
    public void OnPost()
    {
    }
}
