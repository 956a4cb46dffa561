using EvenSplit.Books;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.Rendering;

namespace EvenSplit.Web.Pages;

/// <summary>A page of the book: the month is part of its address.</summary>
public abstract class BookPage : PageModel
{
    [BindProperty(SupportsGet = true, Name = "period")]
    public string PeriodText { get; set; } = "";

    public Period Period => Period.TryParse(PeriodText, out var period) ? period : default;

    private OpenedBook? _book;

    /// <summary>The book as it stands when it is first asked for.</summary>
    protected OpenedBook Book => _book ??= HttpContext.RequestServices.GetRequiredService<BookCache>().Find()!;

    /// <summary>Who is doing it.</summary>
    protected string By => User.DisplayName();

    /// <summary>Whether somebody else looks at it than those who prepared it, and so may confirm it; who works alone may.</summary>
    public bool IsAnother(params ReadOnlySpan<string?> preparers) => Book.Record.WorksAlone || !preparers.Contains(By);

    /// <summary>What the page changes, as the record of deeds names it; null where its forms overwrite nothing.</summary>
    internal virtual string? About => null;

    /// <summary>Whether what the page is about is in the book; asked before a form is taken.</summary>
    internal virtual bool IsThere => true;

    /// <summary>Told once on the page that is shown next.</summary>
    [TempData]
    public string? Done { get; set; }

    /// <summary>Fetches what the page shows; also after something was refused.</summary>
    public virtual void Show()
    {
    }

    /// <summary>Keeps a file whose columns are not called as ours and asks which is which; null for one of ours.</summary>
    protected async Task<IActionResult?> AskColumnsAsync(FileColumns columns, IFormFile file, ImportKind kind, CancellationToken cancellation)
    {
        await using (var look = file.OpenReadStream())
        {
            if (FileColumns.IsOurs(look, kind)) return null;
        }
        return await ShowColumnsAsync(columns, file, kind, cancellation);
    }

    /// <summary>Keeps a file and shows how it would be taken.</summary>
    protected async Task<IActionResult> ShowColumnsAsync(FileColumns columns, IFormFile file, ImportKind kind, CancellationToken cancellation)
    {
        await using var content = file.OpenReadStream();
        var import = await columns.ReceiveAsync(kind, file.FileName, content, By, cancellation);
        return Redirect($"/{Period}/sales/imports/{import.Id}/columns");
    }

    /// <summary>What the form had in a field that was refused, so that it is still there; null where no form was sent.</summary>
    public string? AsSent(string field) => Request.HasFormContentType ? Request.Form[field].FirstOrDefault() : null;

    /// <summary>The first thing wrong with a field, for the words beside it.</summary>
    public string? FaultAt(string field) => ModelState.FaultAt(field);

    /// <summary>The same as a paragraph, for a field among others in a row.</summary>
    public IHtmlContent FaultBelow(string field)
    {
        if (FaultAt(field) is not { } fault) return HtmlString.Empty;
        var words = new TagBuilder("p");
        words.AddCssClass("fault");
        words.InnerHtml.Append(fault);
        return words;
    }

    /// <summary>What the browser should not have sent: a word in a number's place.</summary>
    protected FieldFault[] Unreadable() => [.. ModelState.Where(f => f.Value!.Errors.Count > 0)
        .Select(f => new FieldFault(f.Key.Replace("Draft.", "", StringComparison.Ordinal), "This cannot be read as a number or a date; type it again."))];

    protected void Refuse(IEnumerable<FieldFault> faults)
    {
        foreach (var fault in faults) ModelState.AddModelError(fault.Field, fault.Message);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
    }

    /// <summary>The page anew with what was done, or as it was filled in with what is wrong.</summary>
    protected IActionResult Answer(IReadOnlyList<FieldFault> faults, string done)
    {
        if (faults.Count == 0)
        {
            Done = done;
            return RedirectToPage();
        }
        Refuse(faults);
        Show();
        return Page();
    }
}
