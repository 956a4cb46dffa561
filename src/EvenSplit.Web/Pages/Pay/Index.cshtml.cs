using EvenSplit.Books;
using EvenSplit.Books.PayRuns;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class PayPage(PayRunDesk desk, PayRunSteps steps) : BookPage
{
    [BindProperty]
    public DateOnly? AsOf { get; set; }

    public IReadOnlyList<RunSummary> Runs { get; private set; } = [];

    public void OnGet()
    {
        AsOf = Period.LastDay;
        Show();
    }

    public override void Show() => Runs = desk.List();

    public IActionResult OnPost()
    {
        if (AsOf is not { } asOf) throw new RefusedException("Give the date.", "AsOf");
        return Redirect($"/{Period}/pay/{steps.Gather(asOf, By)}");
    }
}
