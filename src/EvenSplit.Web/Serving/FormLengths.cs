using System.ComponentModel.DataAnnotations;
using System.Reflection;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace EvenSplit.Web.Serving;

/// <summary>
/// No field of a form takes more than it can use: a line 300 characters, a text what its property says with <see cref="StringLengthAttribute"/>; and no form is taken with a day that is none. Told at the field;
/// what was typed stays.
/// </summary>
internal sealed class FormLengths : IPageFilter
{
    private const int Line = 300;

    /// <summary>A cell of a row in quarantine may hold a list.</summary>
    private const int Cell = 4000;

    /// <summary>Written by the application itself, or by the browser.</summary>
    private static readonly HashSet<string> Ours = ["__RequestVerificationToken", "Half", "Passkey", AskAgainFilter.PasskeyField, "token", "sums"];

    public void OnPageHandlerSelected(PageHandlerSelectedContext context)
    {
    }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        var http = context.HttpContext;
        if (!HttpMethods.IsPost(http.Request.Method) || !http.Request.HasFormContentType || context.HandlerInstance is not Pages.BookPage page) return;
        foreach (var (name, values) in http.Request.Form)
        {
            if (Ours.Contains(name) || !values.Any(v => v?.Length > MostOf(page, name))) continue;
            var length = values.Max(v => v?.Length ?? 0);
            context.ModelState.Remove(name);
            context.ModelState.AddModelError(name[(name.LastIndexOf('.') + 1)..], $"This has {length:N0} characters; at most {MostOf(page, name):N0} can be kept.");
            context.ModelState.AddModelError("", "Something that was typed is too long; nothing was changed.");
        }
        if (http.Items.ContainsKey(DayBinder.Unread)) context.ModelState.AddModelError("", "A day cannot be read; nothing was changed.");
        if (context.ModelState.ErrorCount == 0 || !context.ModelState.ContainsKey("")) return;
        http.Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        page.Show();
        context.Result = page.Page();
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
    }

    /// <summary>By the property that the field is bound to, in the page or in what it holds.</summary>
    private static int MostOf(PageModel page, string name)
    {
        if (name.StartsWith("cell-", StringComparison.Ordinal)) return Cell;
        var (type, most) = (page.GetType(), Line);
        foreach (var part in name.Split('.'))
        {
            var property = type.GetProperty(part.Split('[')[0], BindingFlags.Public | BindingFlags.Instance | BindingFlags.IgnoreCase);
            if (property is null) return Line;
            most = property.GetCustomAttribute<StringLengthAttribute>()?.MaximumLength ?? Line;
            type = property.PropertyType is { IsGenericType: true } list ? list.GetGenericArguments()[0] : property.PropertyType;
        }
        return most;
    }
}
