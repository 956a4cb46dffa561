using System.Globalization;
using EvenSplit.Books;
using Microsoft.AspNetCore.Mvc.Filters;

namespace EvenSplit.Web.Serving;

/// <summary>Marks what puts a whole thing in the place of what was there: then nobody's change in between is lost.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class OverwritesAttribute : Attribute;

/// <summary>
/// A form that overwrites a thing knows which deed it was shown after. Where there is a later one, what was done is told field by field, what was typed stays beside
/// what is in the book by now, and sending the form again puts what was chosen in its place.
/// </summary>
internal sealed class ChangesOfOthers(LastDeed deeds, BookCache cache) : IPageFilter
{
    public const string Field = "seen.deed";

    /// <summary>Says to the page that both are to be shown beside each other: what was typed, and what is in the book by now.</summary>
    public const string Changed = "ChangedMeanwhile";

    private const int MostTold = 12;

    public void OnPageHandlerSelected(PageHandlerSelectedContext context)
    {
    }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        var http = context.HttpContext;
        if (context.Result is not null || context.HandlerInstance is not Pages.BookPage { About: { } thing } page) return;
        if (context.HandlerMethod?.MethodInfo.IsDefined(typeof(OverwritesAttribute), false) != true) return;
        if (!long.TryParse(http.Request.Form[Field], NumberStyles.None, CultureInfo.InvariantCulture, out var seen) || deeds.Since(thing, seen) is not { Count: > 0 } since) return;
        context.ModelState.AddModelError("", Told(since, cache.Find()!));
        page.ViewData[Changed] = true;
        page.Show();
        http.Response.StatusCode = StatusCodes.Status409Conflict;
        context.Result = page.Page();
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
    }

    private static string Told(IReadOnlyList<DeedSince> since, OpenedBook book)
    {
        var changes = since.SelectMany(d => d.Changes).Select(c => $"{c.Of}, {c.Field}: from {c.From ?? "nothing"} to {c.To ?? "nothing"}").ToArray();
        var last = since[^1];
        return $"{last.By} changed this {book.Local(last.At)}, after you had opened it. {string.Join("; ", changes.Take(MostTold))}{(changes.Length > MostTold ? $"; and {changes.Length - MostTold} more under History" : "")}. "
            + "Nothing of yours is saved yet, and all of it is below, with what is in the book by now where it differs: choose for each, then send it again.";
    }
}
