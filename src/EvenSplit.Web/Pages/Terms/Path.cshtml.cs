using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Forms;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Draws an offer path as it is being written.</summary>
public sealed class PathPage(OfferPaths paths, ProductDesk products) : BookPage
{
    internal override string? About => "path:" + Id;

    private const int MostSteps = 40;

    /// <summary>"new" for one that is not saved yet.</summary>
    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    [BindProperty]
    public PathDraft Draft { get; set; } = new();

    public bool IsNew => Id == "new";

    /// <summary>The step that was just added: writing goes on there.</summary>
    public int? NewAt { get; private set; }

    public (OfferPath Path, IReadOnlyList<FieldFault> Faults, IReadOnlyList<string> Unusual) View { get; private set; }

    public Func<OfferStep, string> Words => PathsPage.WordsOf(products);

    public IEnumerable<(string Id, string Name)> Products => Book.ProductNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public IActionResult OnGet()
    {
        if (!IsNew)
        {
            if (paths.Find(Id) is not { } path) return NotFound();
            Draft = OfferPaths.Draft(path);
        }
        Show();
        return Page();
    }

    public override void Show()
    {
        View = paths.Review(Draft);
        if (Draft.Steps.Count == 0) Draft = Draft with { Steps = [new StepDraft(), new StepDraft(), new StepDraft()] };
    }

    [Overwrites]
    public IActionResult OnPost()
    {
        ModelState.Clear();
        var (id, faults) = paths.Save(IsNew ? null : Id, Draft, By);
        if (id is null)
        {
            Refuse(faults);
            Show();
            return Page();
        }
        Done = $"{Draft.Name} is saved.";
        return Redirect($"/{Period}/terms/paths/{id}");
    }

    public IActionResult OnPostMore()
    {
        if (Draft.Steps.Count < MostSteps)
        {
            NewAt = Draft.Steps.Count;
            Draft = Draft with { Steps = [.. Draft.Steps, new StepDraft()] };
        }
        return OnPostDraw();
    }

    /// <summary>The picture anew, what was typed kept; faults are told, nothing is saved.</summary>
    public IActionResult OnPostDraw()
    {
        ModelState.Clear();
        Show();
        foreach (var fault in View.Faults.Where(f => f.Field != "Name")) ModelState.AddModelError(fault.Field, fault.Message);
        return Page();
    }

    public IActionResult OnPostRemove()
    {
        paths.Remove(Id, By);
        Done = "The path is taken out.";
        return Redirect($"/{Period}/terms/paths");
    }
}
