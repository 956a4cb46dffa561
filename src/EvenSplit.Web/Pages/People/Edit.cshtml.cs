using EvenSplit.Books.People;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public class EditPayeePage(PayeeDesk desk) : BookPage
{
    internal override string? About => Id is null ? null : "payee:" + Id;

    [BindProperty(SupportsGet = true)]
    public string? Id { get; set; }

    [BindProperty]
    public PayeeDraft Draft { get; set; } = new();

    public IEnumerable<(string Id, string Name)> Others => Book.PayeeNames.Where(p => p.Key != Id).Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public IActionResult OnGet()
    {
        var draft = Id is null ? new PayeeDraft { PayoutCurrency = Book.Currency.Code, ActiveFrom = Period.FirstDay } : desk.Draft(Id);
        if (draft is null) return NotFound();
        Draft = draft;
        return Page();
    }

    [Overwrites]
    public IActionResult OnPost()
    {
        ModelState.Clear();
        var (id, faults) = desk.Save(Id, Draft, By);
        if (id is not null)
        {
            Done = $"{Draft.Name} is saved.";
            return Redirect($"/{Period}/people/{id}");
        }
        Refuse(faults);
        return Page();
    }
}
