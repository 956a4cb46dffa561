using EvenSplit.Books.Importing;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What files named that the book does not know, made in one table.</summary>
[Authorize(Policies.Change)]
public sealed class UnknownPage(UnknownThings unknown) : BookPage
{
    [BindProperty]
    public List<NewProduct> Products { get; set; } = [];

    [BindProperty]
    public List<NewCode> Codes { get; set; } = [];

    public IReadOnlyList<UnknownProduct> NotInCatalogue { get; private set; } = [];

    public IReadOnlyList<UnknownCode> OfNobody { get; private set; } = [];

    public IEnumerable<(string Id, string Name)> Payees => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public string Currency => Book.Currency.Code;

    public void OnGet() => Show();

    public override void Show() => (NotInCatalogue, OfNobody) = (unknown.Products(), unknown.Codes());

    /// <summary>As it was typed, where something was; else as the file has it.</summary>
    public NewProduct Typed(UnknownProduct product) => Products.Find(p => p.Id == product.Id) ?? new() { Make = true, Id = product.Id, Name = product.Name, Price = product.Price };

    public NewCode Typed(UnknownCode code) => Codes.Find(c => c.Code == code.Code) ?? new() { Code = code.Code, Name = code.Code };

    public IActionResult OnPost()
    {
        var (faults, taken) = unknown.Make(Products, Codes, By);
        return Answer(faults, $"Made. {MoneyWords.Count(taken, "order or refund that waited is", "orders and refunds that waited are")} in the book now.");
    }
}
