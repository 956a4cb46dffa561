using EvenSplit.Books;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>A product: its split sheet, and what it is.</summary>
public sealed class ProductPage(ProductDesk desk, SplitSheet sheet, PersonalTerms terms, UnitCosts costs, AgreementDesk agreements) : BookPage
{
    internal override string? About => "product:" + Id;

    [BindProperty(SupportsGet = true)]
    public string Id { get; set; } = "";

    /// <summary>The referral agreement of whoever brings the order; "none" where nobody does, empty for the one most affiliates are on.</summary>
    [BindProperty(SupportsGet = true)]
    public string Brought { get; set; } = "";

    [BindProperty]
    public ProductDraft Draft { get; set; } = new();

    [BindProperty]
    public ShareDraft Share { get; set; } = new();

    [BindProperty]
    public DateOnly? CostFrom { get; set; }

    /// <summary>What a unit costs from then on, in major units.</summary>
    [BindProperty]
    public string Cost { get; set; } = "";

    [BindProperty]
    public string CostIn { get; set; } = "";

    /// <summary>Whether the form below was sent and refused.</summary>
    public bool IsChanging { get; private set; }

    public SellingPlan Plan => Book.Plans.GetValueOrDefault(new ProductId(Id)) ?? new SellingPlan(Money.Zero(Book.Currency), null, null);

    public BookTime Time => Book.Time;

    public IReadOnlyList<(DateOnly? From, Money Cost)> Costs => costs.Of(Id);

    /// <summary>How many orders of it were sold off plan.</summary>
    public int OffPlan { get; private set; }

    public string Name => Book.ProductName(Id);

    public SplitSheetView? Sheet { get; private set; }

    public int Orders { get; private set; }

    public IReadOnlyList<AgreementSummary> Referrals { get; private set; } = [];

    public GiveShareForm GiveShare => GiveShareForm.For(Book, agreements);

    public IEnumerable<(string Id, string Name)> Vendors => VendorsOf(Book);

    public static IEnumerable<(string Id, string Name)> VendorsOf(OpenedBook book) =>
        book.Rules.Payees.Where(p => p.Role == PayeeRole.Vendor).Select(p => (p.Id.Value, book.PayeeName(p.Id.Value)));

    internal override bool IsThere => Book.Rules.FindProduct(new ProductId(Id)) is not null;

    public IActionResult OnGet()
    {
        if (desk.Draft(Id) is not { } draft) return NotFound();
        Draft = draft;
        Share = Share with { From = Period.Next.FirstDay };
        Show();
        return Page();
    }

    public override void Show()
    {
        Referrals = [.. agreements.List().Where(a => a is { Basis: Basis.Referral, From: not null })];
        if (Brought.Length == 0) Brought = Referrals.MaxBy(a => a.Payees)?.Id ?? "none";
        Sheet = sheet.Of(Id, Referrals.Any(a => a.Id == Brought) ? Brought : null);
        Orders = desk.Orders(Id);
        OffPlan = desk.OffPlan(Id);
    }

    [Overwrites]
    public IActionResult OnPost()
    {
        ModelState.Clear();
        Draft = Draft with { Id = Id };
        IsChanging = true;
        return Answer(desk.Save(Id, Draft, By), $"{Draft.Name} is saved.");
    }

    public IActionResult OnPostCost()
    {
        ModelState.Clear();
        Draft = desk.Draft(Id)!;
        return Answer(costs.Add(Id, CostFrom, Cost, CostIn, By), $"The cost holds from {CostFrom?.InWords()}.");
    }

    public IActionResult OnPostRemoveCost(DateOnly from)
    {
        costs.Remove(Id, from, By);
        Done = $"The cost from {from.InWords()} is taken out.";
        return RedirectToPage();
    }

    public IActionResult OnPostGive()
    {
        ModelState.Clear();
        Draft = desk.Draft(Id)!;
        Share = Share with { Products = [Id] };
        return Answer(terms.Give(Share, By), $"{Book.PayeeName(Share.Payee)} shares in it from {Share.From?.InWords()}.");
    }
}
