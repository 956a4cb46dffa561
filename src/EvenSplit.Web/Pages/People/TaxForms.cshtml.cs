using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Tax forms that payees sent, to be looked at and taken, or not.</summary>
public sealed class TaxFormsPage(TaxForms forms) : BookPage
{
    /// <summary>The one that is decided on.</summary>
    [BindProperty(Name = "form")]
    public int Form { get; set; }

    [BindProperty]
    public string Kind { get; set; } = "";

    [BindProperty]
    public string Why { get; set; } = "";

    public IReadOnlyList<TaxFormRow> Rows { get; private set; } = [];

    public int Waiting => Rows.Count(r => r.CheckedBy is null);

    public void OnGet() => Show();

    public override void Show() => Rows = forms.All();

    public IActionResult OnGetFile(int id) => User.IsInRole(Roles.Lead) && forms.File(id, null) is { } form ? File(form.Content, form.Type, form.FileName) : NotFound();

    public IActionResult OnPost()
    {
        forms.Take(Form, Kind, By);
        Done = "It is on file.";
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnPostRefuse()
    {
        forms.Refuse(Form, Why, By);
        Done = "It is not taken; they read why.";
        return RedirectToPage(new { handler = "" });
    }

    public string Local(DateTimeOffset at) => Book.Local(at);
}
