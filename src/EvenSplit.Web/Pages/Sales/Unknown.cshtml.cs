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
    public List<NewTaker> Takers { get; set; } = [];

    [BindProperty]
    public List<NewCode> Codes { get; set; } = [];

    public IReadOnlyList<UnknownProduct> NotInCatalogue { get; private set; } = [];

    public IReadOnlyList<UnknownTaker> WithoutFees { get; private set; } = [];

    public IReadOnlyList<UnknownCode> OfNobody { get; private set; } = [];

    public IEnumerable<(string Id, string Name)> Payees => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    public string Currency => Book.Currency.Code;

    public void OnGet() => Show();

    public override void Show() => (NotInCatalogue, WithoutFees, OfNobody) = (unknown.Products(), unknown.Takers(), unknown.Codes());

    /// <summary>As it was typed, where something was; else as the file has it.</summary>
    public NewProduct Typed(UnknownProduct product) => Products.Find(p => p.Id == product.Id) ?? new() { Make = true, Id = product.Id, Name = product.Name, Price = product.Price };

    public NewTaker Typed(UnknownTaker taker) => Takers.Find(t => t.Id == taker.Id && t.IsChannel == taker.IsChannel) ?? new() { Id = taker.Id, IsChannel = taker.IsChannel };

    /// <summary>What there is, in figures.</summary>
    public string Counted
    {
        get
        {
            var (channels, processors) = (WithoutFees.Count(t => t.IsChannel), WithoutFees.Count(t => !t.IsChannel));
            string[] parts = [Part(NotInCatalogue.Count, "product"), Part(channels, "channel"), Part(processors, "processor"), Part(OfNobody.Count, "code")];
            return string.Join(", ", parts.Where(p => p.Length > 0));

            static string Part(int count, string of) => count == 0 ? "" : MoneyWords.Count(count, of);
        }
    }

    public NewCode Typed(UnknownCode code) => Codes.Find(c => c.Code == code.Code) ?? new() { Code = code.Code, Name = code.Code };

    public IActionResult OnPost()
    {
        var (faults, taken) = unknown.Make(Products, Takers, Codes, By);
        return Answer(faults, taken == 0 ? "Made." : $"Made. {MoneyWords.Count(taken, "order or refund that waited is", "orders and refunds that waited are")} in the book now.");
    }
}
