using System.Reflection;
using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.AspNetCore.Mvc.ViewFeatures;

namespace EvenSplit.Web.Serving;

/// <summary>Marks what posts a difference that the page itself has shown.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class ShowsItselfAttribute : Attribute;

/// <summary>Marks what takes a file that changes rules: its text goes with the form that is agreed to, in a field of its own.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class KeepsFileAsAttribute(string field) : Attribute
{
    public string Field { get; } = field;
}

/// <summary>The form as it was sent, to be sent once more by whoever agrees to what it would post.</summary>
/// <param name="Back">The page it stands on.</param>
/// <param name="Beside">How far the difference is that is worked out by the side; null where none is.</param>
public sealed record ShownFirstView(string Address, string Back, IReadOnlyList<KeyValuePair<string, string>> Fields, PostedDifference Difference, OpenedBook Book, LargeDifference? Beside);

/// <summary>What a change of rules would post for sales of the past is shown first; agreed to, just that is posted.</summary>
internal sealed class ShownFirstFilter(ShownFirst shown, LargeDifferences large, BookCache cache, IModelMetadataProvider metadata) : IPageFilter
{
    public const string Field = "seen.difference";

    public void OnPageHandlerSelected(PageHandlerSelectedContext context)
    {
    }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        var request = context.HttpContext.Request;
        if (!HttpMethods.IsPost(request.Method) || !request.HasFormContentType) return;
        // Figures of the book are for the house.
        if (!Roles.All.Any(context.HttpContext.User.IsInRole)) return;
        // A file cannot be sent a second time by itself: its text is, or what it changes is shown on a page of its own.
        shown.Asks = (request.Form.Files.Count == 0 || KeptAs(context.HandlerMethod) is not null) && context.HandlerMethod?.MethodInfo.IsDefined(typeof(ShowsItselfAttribute), false) != true;
        shown.Seen = request.Form[Field].ToString();
        shown.WorkedOut = large.Find(KeyOf(request))?.Difference;
    }

    /// <summary>The same form, sent again before any rule has changed, is the same change.</summary>
    private string KeyOf(HttpRequest request)
    {
        var fields = request.Form.Where(f => f.Key is not (Field or OnceOnly.Field or ChangesOfOthers.Field or "__RequestVerificationToken")).OrderBy(f => f.Key, StringComparer.Ordinal).Select(f => $"{f.Key}={string.Join('\0', f.Value.ToArray())}");
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{request.Path}{request.QueryString} {cache.Find()?.Record.RulesVersion}\n{string.Join('\n', fields)}")));
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (context.Exception is not NotSeenException { Difference: var difference, After: var after, Change: var change }) return;
        var request = context.HttpContext.Request;
        var fields = request.Form.Where(f => f.Key != Field).SelectMany(f => f.Value.Select(v => KeyValuePair.Create(f.Key, v ?? ""))).ToArray();
        if (KeptAs(context.HandlerMethod) is { } kept && request.Form.Files is [var file])
        {
            using var text = new StreamReader(file.OpenReadStream());
            fields = [.. fields.Where(f => f.Key != kept), KeyValuePair.Create(kept, text.ReadToEnd())];
        }
        // A file is known by its text only once that goes with the form.
        var beside = difference.AreTooMany && after is not null && request.Form.Files.Count == 0 ? large.Begin(KeyOf(request), after, change) : null;
        context.ExceptionHandled = true;
        context.Result = new ViewResult
        {
            ViewName = "/Pages/Shared/_ShownFirst.cshtml",
            ViewData = new ViewDataDictionary<ShownFirstView>(metadata, context.ModelState) { Model = new ShownFirstView(request.Path + request.QueryString, request.Path, fields, difference, cache.Find()!, beside) },
        };
    }

    private static string? KeptAs(HandlerMethodDescriptor? handler) => handler?.MethodInfo.GetCustomAttribute<KeepsFileAsAttribute>()?.Field;
}
