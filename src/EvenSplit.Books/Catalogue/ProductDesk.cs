using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Catalogue;

/// <summary>A product in the list. <see cref="Governing"/> names the agreements that could pay for it.</summary>
public sealed record ProductRow(
    string Id, string Name, Money Price, IReadOnlyList<string> Variants, IReadOnlyList<string> Collections, string? Vendor, Money? UnitCost, int ReturnDays, IReadOnlyList<string> Governing);

/// <summary>A product as typed; amounts in major units of the book's currency.</summary>
public sealed record ProductDraft
{
    public string Id { get; init; } = "";
    public string Name { get; init; } = "";
    public string Price { get; init; } = "";
    public string UnitCost { get; init; } = "";
    public string Vendor { get; init; } = "";
    public int? ReturnDays { get; init; }
    /// <summary>Names with a comma between.</summary>
    public string Collections { get; init; } = "";
}

/// <summary>Lists products and collections and adds products.</summary>
public sealed class ProductDesk(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    public IReadOnlyList<ProductRow> List(string collection)
    {
        var book = cache.Get(db);
        return db.Products.AsNoTracking().Include(p => p.Variants).Include(p => p.Collections).AsSplitQuery()
            .Where(p => collection == "" || p.Collections.Any(c => c.Collection == collection)).OrderBy(p => p.Name).AsEnumerable()
            .Select(p => new ProductRow(
                p.Id, p.Name, new Money(p.Price, Currency.Of(p.Currency)), p.Variants.Select(v => v.Name).ToArray(), p.Collections.Select(c => c.Collection).ToArray(),
                p.Vendor is { } vendor ? book.PayeeName(vendor) : null, p.UnitCost is { } cost ? new Money(cost, Currency.Of(p.CostCurrency)) : null, p.ReturnDays,
                book.Rules.Sharers(new ProductId(p.Id)).Select(s => book.PayeeName(s.Payee.Id.Value)).Distinct().ToArray()))
            .ToArray();
    }

    /// <summary>Collections with how many products each holds.</summary>
    public IReadOnlyList<(string Name, int Products)> Collections() => cache.Get(db).Rules.Products.SelectMany(p => p.Collections)
        .GroupBy(c => c.Value).OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => (g.Key, g.Count())).ToArray();

    /// <returns>The fields at fault; none where the product was added.</returns>
    public IReadOnlyList<FieldFault> Add(ProductDraft draft, string by)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        var id = fields.Required("Id", draft.Id, "Give the id the shop knows it by; order files name it.");
        if (book.Rules.FindProduct(new ProductId(id)) is not null) fields.Refuse("Id", "There is a product with this id already.");
        var name = fields.Required("Name", draft.Name, "Give the product a name.");
        if (draft.Vendor.Length > 0 && book.Rules.FindPayee(new PayeeId(draft.Vendor)) is null) fields.Refuse("Vendor", "Choose a payee.");
        var returnDays = fields.Days("ReturnDays", draft.ReturnDays);
        var price = fields.Amount("Price", draft.Price, book.Currency);
        var cost = fields.Amount("UnitCost", draft.UnitCost, book.Currency);
        if (fields.Faults.Count > 0) return fields.Faults;
        using var transaction = db.Database.BeginTransaction();
        var product = new Product
        {
            Id = new ProductId(id),
            Vendor = draft.Vendor.Length > 0 ? new PayeeId(draft.Vendor) : null,
            UnitCost = cost,
            CostCurrency = book.Currency,
            ReturnDays = returnDays,
            Collections = draft.Collections.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Distinct()
                .Select(c => new CollectionId(c)).ToArray(),
        };
        Enter(product, name, new Money(price ?? 0, book.Currency), by);
        db.SaveRules(touched: null);
        transaction.Commit();
        return [];
    }

    /// <summary>Enters a product that is known to be sound; the caller saves.</summary>
    internal void Enter(Product product, string name, Money price, string by)
    {
        db.Products.Add(new ProductRecord
        {
            Id = product.Id.Value,
            Name = name,
            Price = price.Minor,
            Currency = price.Currency.Code,
            Vendor = product.Vendor?.Value,
            UnitCost = product.UnitCost,
            CostCurrency = product.CostCurrency.Code,
            ReturnDays = product.ReturnDays,
            Variants = product.Variants.Select(v => new VariantRecord { Id = v.Value, Name = v.Value }).ToList(),
            Collections = product.Collections.Distinct().Select(c => new ProductCollectionRecord { Collection = c.Value }).ToList(),
        });
        audit.Note(by, "add product", name);
    }
}
