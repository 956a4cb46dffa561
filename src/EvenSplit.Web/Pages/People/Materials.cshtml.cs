using System.ComponentModel.DataAnnotations;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Texts and pictures that payees may use.</summary>
public sealed class MaterialsPage(Materials materials, BookClock clock) : BookPage
{
    [BindProperty]
    public string Agreement { get; set; } = "";

    [BindProperty]
    public string Name { get; set; } = "";

    [BindProperty, StringLength(5000)]
    public string Text { get; set; } = "";

    [BindProperty]
    public DateOnly? From { get; set; }

    [BindProperty]
    public DateOnly? To { get; set; }

    public IReadOnlyList<MaterialRecord> Rows { get; private set; } = [];

    public DateOnly Today => clock.Today;

    public IEnumerable<(string Id, string Name)> Agreements => Book.Rules.Agreements.Select(a => (a.Id.Value, Book.AgreementName(a.Id.Value))).OrderBy(a => a.Item2, StringComparer.Ordinal);

    public string NameOf(string agreement) => Book.AgreementName(agreement);

    public void OnGet() => Show();

    public override void Show()
    {
        Rows = materials.List();
        From ??= clock.Today;
    }

    public async Task<IActionResult> OnPostAsync(IFormFile? picture)
    {
        byte[]? content = null;
        if (picture is { Length: > 0 })
        {
            if (picture.Length > Materials.MostBytes) throw new RefusedException("A picture has at most 1 MB.", "Picture");
            using var bytes = new MemoryStream();
            await picture.CopyToAsync(bytes);
            content = bytes.ToArray();
        }
        return Answer(materials.Add(new MaterialDraft { Agreement = Agreement, Name = Name, Text = Text, From = From, To = To }, content, By), $"{Name.Trim()} is offered.");
    }

    public IActionResult OnPostEnd(int material)
    {
        materials.End(material, By);
        Done = "It is offered no more.";
        return RedirectToPage(new { handler = "" });
    }
}
