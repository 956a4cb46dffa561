using System.Globalization;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Bulk;

/// <summary>products.csv: a row is a product, or a variant of one. Columns the file does not have leave things as they are.</summary>
public sealed class ProductsFile(BookDbContext db, BookCache cache, ProductDesk desk) : IUseCase
{
    public static CsvColumns Columns { get; } = new(
        "products", ["product"], ["variant", "name", "price", "currency", "collections", "vendor", "unit_cost", "cost_currency", "return_days", "price_plan", "payment_plan"]);

    private static readonly (string Column, string Field)[] Fields =
    [
        ("name", nameof(ProductDraft.Name)), ("price", nameof(ProductDraft.Price)), ("unit_cost", nameof(ProductDraft.UnitCost)), ("cost_currency", nameof(ProductDraft.CostCurrency)),
        ("vendor", nameof(ProductDraft.Vendor)), ("return_days", nameof(ProductDraft.ReturnDays)), ("collections", nameof(ProductDraft.Collections)), ("variant", nameof(ProductDraft.Variants)),
        ("product", nameof(ProductDraft.Id)),
    ];

    /// <summary>The whole catalogue as such a file; variants after their product.</summary>
    public (IReadOnlyList<string> Header, IEnumerable<IReadOnlyList<string>> Rows) Write()
    {
        var drafts = db.Products.AsNoTracking().OrderBy(p => p.Id).Select(p => p.Id).ToArray().Select(id => desk.Draft(id)!);
        return ([.. Columns.All], drafts.SelectMany(d => d.Variants.Split(", ", StringSplitOptions.RemoveEmptyEntries).Select(v => new[] { d.Id, v }.Concat(Enumerable.Repeat("", Columns.All.Count() - 2)).ToArray()).Prepend(
            [d.Id, "", d.Name, d.Price, cache.Get(db).Currency.Code, d.Collections.Replace(", ", " ", StringComparison.Ordinal), d.Vendor, d.UnitCost, d.UnitCost.Length > 0 ? d.CostCurrency : "",
                d.ReturnDays?.ToString(CultureInfo.InvariantCulture) ?? "", Plans(d).Price, Plans(d).Payments])));
    }

    /// <summary>What the file says of each product, beside what the book says; faults name row, column, value and what was expected.</summary>
    /// <exception cref="CsvFileException">No such file.</exception>
    internal (IReadOnlyList<(ProductDraft? Was, ProductDraft Becomes)> Products, IReadOnlyList<RowFault> Faults, IReadOnlyList<string> ExtraColumns) Read(Stream file)
    {
        using var table = new CsvTable(file, Columns);
        var present = table.Columns.ToHashSet();
        var currency = cache.Get(db).Currency.Code;
        var read = new List<(ProductDraft? Was, ProductDraft Becomes)>();
        var faults = new List<RowFault>();
        foreach (var group in table.Rows().GroupBy(r => r["product"]).Select(g => g.ToArray()))
        {
            faults.AddRange(group.Where(r => r.Damage is not null).Select(r => new RowFault(r.Line, "", "", r.Damage!)));
            if (Array.Exists(group, r => r.Damage is not null)) continue;
            if (group.Where(r => r["variant"].Length == 0).Skip(1).FirstOrDefault() is { } twice) faults.Add(new RowFault(twice.Line, "product", twice["product"], "each product once"));
            foreach (var row in group.Where(r => r["currency"].Length > 0 && r["currency"] != currency)) faults.Add(new RowFault(row.Line, "currency", row["currency"], $"{currency}, in which the book keeps its prices"));
            var main = Array.Find(group, r => r["variant"].Length == 0);
            var was = desk.Draft(group[0]["product"]);
            if (main is null && was is null) faults.Add(new RowFault(group[0].Line, "product", group[0]["product"], "a row of its own without a variant, since the catalogue has not got it"));
            var becomes = Becomes(was, main, group, present, faults) with { Plans = PlansOf(was, main, present, faults) };
            read.Add((was, becomes));
            foreach (var fault in desk.Read(was?.Id, becomes).Faults)
            {
                var column = ColumnOf(fault.Field);
                var at = column == "variant" || main is null ? group[^1] : main;
                faults.Add(new RowFault(at.Line, column, at[column], fault.Message) { IsSentence = true });
            }
        }
        foreach (var (variant, first, second) in SharedVariants(read)) faults.Add(new RowFault(0, "variant", variant, $"a variant of one product only, not of {first} and {second}"));
        return (read, [.. faults.DistinctBy(f => (f.Row, f.Column)).OrderBy(f => f.Row)], table.ExtraColumns);
    }

    private static IEnumerable<(string Variant, string First, string Second)> SharedVariants(List<(ProductDraft? Was, ProductDraft Becomes)> read)
    {
        var owners = new Dictionary<string, string>();
        foreach (var (_, draft) in read)
        {
            foreach (var variant in draft.Variants.Split(", ", StringSplitOptions.RemoveEmptyEntries).Distinct())
            {
                if (!owners.TryAdd(variant, draft.Id)) yield return (variant, owners[variant], draft.Id);
            }
        }
    }

    private static ProductDraft Becomes(ProductDraft? was, CsvRow? main, CsvRow[] group, HashSet<string> present, List<RowFault> faults)
    {
        var before = was ?? new ProductDraft { Id = group[0]["product"] };
        string Cell(string column, string otherwise) => main is not null && present.Contains(column) ? main[column] : otherwise;
        var days = Cell("return_days", before.ReturnDays?.ToString(CultureInfo.InvariantCulture) ?? "");
        var isNumber = int.TryParse(days, NumberStyles.None, CultureInfo.InvariantCulture, out var returnDays);
        if (days.Length > 0 && !isNumber) faults.Add(new RowFault(main!.Line, "return_days", days, "a whole number of days"));
        return before with
        {
            Name = Cell("name", before.Name),
            Price = Cell("price", before.Price),
            UnitCost = Cell("unit_cost", before.UnitCost),
            CostCurrency = Cell("cost_currency", before.CostCurrency),
            Vendor = Cell("vendor", before.Vendor),
            ReturnDays = isNumber ? returnDays : null,
            Collections = main is not null && present.Contains("collections") ? string.Join(", ", main["collections"].Split(' ', StringSplitOptions.RemoveEmptyEntries)) : before.Collections,
            Variants = present.Contains("variant") && Array.Exists(group, r => r["variant"].Length > 0) ? string.Join(", ", group.Select(r => r["variant"]).Where(v => v.Length > 0)) : before.Variants,
        };
    }

    private static string ColumnOf(string field) => field switch
    {
        "Plans.EveryMonths" or "Plans.Instalments" or "Plans.TrialPrice" or "Plans.TrialDays" => "payment_plan",
        _ when field.StartsWith("Plans.", StringComparison.Ordinal) => "price_plan",
        _ => Fields.First(f => f.Field == field).Column,
    };

    private PlanDraft PlansOf(ProductDraft? was, CsvRow? main, HashSet<string> present, List<RowFault> faults)
    {
        var book = cache.Get(db);
        var before = desk.PlanOf(was ?? new ProductDraft());
        string Cell(string column, string otherwise) => main is not null && present.Contains(column) ? main[column] : otherwise;
        var (price, payments) = (Cell("price_plan", PlanText.Write(before.Pricing, book.Currency)), Cell("payment_plan", PlanText.Write(before.Payments, book.Currency)));
        if (!PlanText.TryReadPricing(price, book.Currency, out var pricing)) faults.Add(new RowFault(main!.Line, "price_plan", price, "a plan such as 'fixed', 'minimum; at most 200' or 'up 1.00 every 50 to 30.00; not before 2026-10-01T09:00+01:00'"));
        if (!PlanText.TryReadPayments(payments, book.Currency, out var plan)) faults.Add(new RowFault(main!.Line, "payment_plan", payments, "a plan such as 'once', 'every 12 months; trial 1.00 for 30 days' or '3 payments every 1 months'"));
        return PlanDraft.Of(new SellingPlan(before.Price, pricing, plan), book.Time);
    }

    private (string Price, string Payments) Plans(ProductDraft? draft)
    {
        if (draft is null) return ("", "");
        var plan = desk.PlanOf(draft);
        return (PlanText.Write(plan.Pricing, plan.Price.Currency), PlanText.Write(plan.Payments, plan.Price.Currency));
    }

    /// <summary>What is said otherwise, in the columns' words.</summary>
    internal IReadOnlyList<(string What, string From, string To)> Parts(ProductDraft? was, ProductDraft? becomes)
    {
        var (from, to) = (Said(was), Said(becomes));
        return [.. from.Keys.Where(c => from[c] != to[c]).Select(c => (c, from[c], to[c]))];
    }

    private Dictionary<string, string> Said(ProductDraft? draft) => new()
    {
        ["name"] = draft?.Name ?? "",
        ["price"] = Amount(draft?.Price),
        ["unit_cost"] = Amount(draft?.UnitCost),
        ["cost_currency"] = draft?.UnitCost.Length > 0 ? draft.CostCurrency : "",
        ["vendor"] = draft?.Vendor ?? "",
        ["return_days"] = draft is null ? "" : (draft.ReturnDays ?? 0).ToString(CultureInfo.InvariantCulture),
        ["collections"] = Sorted(draft?.Collections),
        ["variants"] = Sorted(draft?.Variants),
        ["price_plan"] = Plans(draft).Price,
        ["payment_plan"] = Plans(draft).Payments,
    };

    /// <summary>12.5 and 12.50 are the same price.</summary>
    private static string Amount(string? typed) =>
        decimal.TryParse(typed, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var amount) ? amount.ToString("0.00##", CultureInfo.InvariantCulture) : typed ?? "";

    private static string Sorted(string? names) => string.Join(", ", (names ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Distinct().Order(StringComparer.Ordinal));
}
