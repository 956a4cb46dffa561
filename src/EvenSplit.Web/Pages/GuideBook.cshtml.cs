using EvenSplit.Web.Frame;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The user guide, a chapter at a time, or what it says of some words.</summary>
public sealed class GuideBookPage : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Chapter { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string Find { get; set; } = "";

    internal IReadOnlyList<GuideSection> Sections { get; private set; } = [];

    internal IReadOnlyList<GuideSection> Found { get; private set; } = [];

    public IActionResult OnGet()
    {
        if (Find.Length > 0)
        {
            Found = Guide.Find(Find);
            return Page();
        }
        if (Chapter.Length == 0) Chapter = Guide.Chapters.First().Name;
        Sections = Guide.Chapter(Chapter);
        return Sections.Count == 0 ? NotFound() : Page();
    }
}
