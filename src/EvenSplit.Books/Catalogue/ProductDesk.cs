using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
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
    [StringLength(8000)]
    public string Collections { get; init; } = "";
    /// <summary>Ids with a comma between.</summary>
    [StringLength(8000)]
    public string Variants { get; init; } = "";
    /// <summary>Code of the currency of the cost; empty is the book's.</summary>
    public string CostCurrency { get; init; } = "";
    public PlanDraft Plans { get; init; } = new();
}

/// <summary>Lists products and collections, adds products and changes them.</summary>
public sealed class ProductDesk(BookDbContext db, BookCache cache, ThingsInUse inUse, RulesChange rulesChange, AuditLog audit) : IUseCase
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

    /// <summary>A product as it stands, to change it from.</summary>
    public ProductDraft? Draft(string id) => db.Products.AsNoTracking().Include(p => p.Collections).Include(p => p.Variants).AsSplitQuery().FirstOrDefault(p => p.Id == id) is { } record
        ? new ProductDraft
        {
            Id = id,
            Name = record.Name,
            Price = record.Price == 0 ? "" : new Money(record.Price, Currency.Of(record.Currency)).ToMajorText(),
            UnitCost = record.UnitCost is { } cost ? new Money(cost, Currency.Of(record.CostCurrency)).ToMajorText() : "",
            CostCurrency = record.CostCurrency,
            Vendor = record.Vendor ?? "",
            ReturnDays = record.ReturnDays,
            Collections = string.Join(", ", record.Collections.Select(c => c.Collection)),
            Variants = string.Join(", ", record.Variants.Select(v => v.Id)),
            Plans = PlanDraft.Of(BookLoader.PlanOf(record), cache.Get(db).Time),
        }
        : null;

    /// <summary>How many orders have the product on a line: they are worked out again when what it costs, its vendor, its collections or its return period change.</summary>
    public int Orders(string id) => db.OrderLines.Where(l => l.Product == id && l.Position != null).Select(l => l.OrderId).Distinct().Count();

    /// <summary>How many orders of it were sold off its plans.</summary>
    public int OffPlan(string id) => db.OrderExceptions.Where(e => e.Code == ExceptionCode.PriceOffPlan && e.Subject == id).Select(e => e.OrderId).Distinct().Count();

    /// <param name="id">The product to change; null adds one.</param>
    /// <returns>The fields at fault; none where it was saved.</returns>
    public IReadOnlyList<FieldFault> Save(string? id, ProductDraft draft, string by)
    {
        var (product, name, plan, faults) = Read(id, draft);
        if (faults.Count > 0) return faults;
        using var change = rulesChange.Begin();
        Put(product!, name, plan!, by);
        change.Commit();
        return [];
    }

    /// <summary>The plans of a draft that is known to be sound.</summary>
    internal SellingPlan PlanOf(ProductDraft draft)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        return draft.Plans.Read(new Money(fields.Amount("Price", draft.Price, book.Currency) ?? 0, book.Currency), book.Time, fields);
    }

    /// <summary>What was typed as a product, or the fields at fault.</summary>
    internal (Product? Product, string Name, SellingPlan? Plan, IReadOnlyList<FieldFault> Faults) Read(string? id, ProductDraft draft)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        var newId = fields.Required("Id", draft.Id, "Give the id the shop knows it by; order files name it.");
        if (id is null && book.Rules.FindProduct(new ProductId(newId)) is not null) fields.Refuse("Id", "There is a product with this id already.");
        var name = fields.Required("Name", draft.Name, "Give the product a name.");
        if (draft.Vendor.Length > 0 && book.Rules.FindPayee(new PayeeId(draft.Vendor)) is null) fields.Refuse("Vendor", $"There is no payee '{draft.Vendor}'.");
        var returnDays = fields.Days("ReturnDays", draft.ReturnDays);
        var plan = draft.Plans.Read(new Money(fields.Amount("Price", draft.Price, book.Currency) ?? 0, book.Currency), book.Time, fields);
        var costCurrency = draft.CostCurrency.Length == 0 ? book.Currency : fields.Currency("CostCurrency", draft.CostCurrency, "Choose the currency of the cost.");
        var cost = fields.Amount("UnitCost", draft.UnitCost, costCurrency);
        var variants = Split(draft.Variants);
        foreach (var other in book.Rules.Products.Where(p => p.Id.Value != (id ?? newId)))
        {
            if (other.Variants.FirstOrDefault(v => variants.Contains(v.Value)) is { Value: { } taken }) fields.Refuse("Variants", $"The variant {taken} is one of {book.ProductName(other.Id.Value)}.");
        }
        foreach (var gone in (book.Rules.FindProduct(new ProductId(id ?? newId))?.Variants ?? []).Where(v => !variants.Contains(v.Value)))
        {
            if (inUse.Of(gone) is { } use) fields.Refuse("Variants", $"The variant {gone} stays: {use}.");
        }
        if (fields.Faults.Count > 0) return (null, name, null, fields.Faults);
        var product = new Product
        {
            Id = new ProductId(id ?? newId),
            Vendor = draft.Vendor.Length > 0 ? new PayeeId(draft.Vendor) : null,
            UnitCost = cost,
            CostCurrency = costCurrency,
            ReturnDays = returnDays,
            Variants = variants.Select(v => new VariantId(v)).ToArray(),
            Collections = Split(draft.Collections).Select(c => new CollectionId(c)).ToArray(),
        };
        return (product, name, plan, []);
    }

    /// <summary>Adds the product or changes it into this; the caller saves.</summary>
    internal void Put(Product product, string name, SellingPlan plan, string by)
    {
        var record = db.Products.Include(p => p.Collections).Include(p => p.Variants).AsSplitQuery().FirstOrDefault(p => p.Id == product.Id.Value);
        if (record is null)
        {
            Enter(product, name, plan, by);
            return;
        }
        var collections = product.Collections.Select(c => c.Value).ToHashSet();
        var before = BookLoader.PlanOf(record);
        record.Name = name;
        Plan(record, plan);
        if (before != plan && (before, plan) is not ({ Pricing: null, Payments: null }, { Pricing: null, Payments: null }))
        {
            CountedSales.Rebuild(db, record.Id, plan.Pricing is { CountsSales: true });
        }
        (record.Vendor, record.UnitCost, record.CostCurrency, record.ReturnDays) = (product.Vendor?.Value, product.UnitCost, product.CostCurrency.Code, product.ReturnDays);
        record.Collections.RemoveAll(c => !collections.Contains(c.Collection));
        record.Collections.AddRange(collections.Where(c => record.Collections.All(held => held.Collection != c)).Select(c => new ProductCollectionRecord { Collection = c }));
        var variants = product.Variants.Select(v => v.Value).ToHashSet();
        record.Variants.RemoveAll(v => !variants.Contains(v.Id));
        record.Variants.AddRange(variants.Where(v => record.Variants.All(held => held.Id != v)).Select(v => new VariantRecord { Id = v, Name = v }));
        audit.Note(by, "change product", name);
    }

    private static string[] Split(string names) => [.. names.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Distinct()];

    /// <summary>Enters a product that is known to be sound; the caller saves.</summary>
    internal void Enter(Product product, string name, SellingPlan plan, string by)
    {
        var record = new ProductRecord
        {
            Id = product.Id.Value,
            Name = name,
            Currency = "",
            Vendor = product.Vendor?.Value,
            UnitCost = product.UnitCost,
            CostCurrency = product.CostCurrency.Code,
            ReturnDays = product.ReturnDays,
            Variants = product.Variants.Select(v => new VariantRecord { Id = v.Value, Name = v.Value }).ToList(),
            Collections = product.Collections.Distinct().Select(c => new ProductCollectionRecord { Collection = c.Value }).ToList(),
        };
        Plan(record, plan);
        db.Products.Add(record);
        audit.Note(by, "add product", name);
    }

    private static void Plan(ProductRecord record, SellingPlan plan)
    {
        (record.Price, record.Currency) = (plan.Price.Minor, plan.Price.Currency.Code);
        record.PricePlan = PlanText.Write(plan.Pricing, plan.Price.Currency);
        record.PaymentPlan = PlanText.Write(plan.Payments, plan.Price.Currency);
    }
}
