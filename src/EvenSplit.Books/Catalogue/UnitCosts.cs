using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Catalogue;

/// <summary>What a product costs from when on; a new cost works the orders placed since out again.</summary>
public sealed class UnitCosts(BookDbContext db, BookCache cache, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    /// <summary>The first cost, without a date, and those that followed; amounts in minor units.</summary>
    public IReadOnlyList<(DateOnly? From, Money Cost)> Of(string product)
    {
        var rule = cache.Get(db).Rules.Product(new ProductId(product));
        var later = rule.LaterCosts.Select(c => ((DateOnly?)c.From, new Money(c.Cost, c.Currency)));
        return [.. rule.UnitCost is { } first ? later.Prepend((null, new Money(first, rule.CostCurrency))) : later];
    }

    /// <param name="amount">Major units of the currency.</param>
    /// <returns>The fields at fault; none where it was saved. A cost from the same day takes the place of the one before.</returns>
    public IReadOnlyList<FieldFault> Add(string product, DateOnly? from, string amount, string currencyCode, string by)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        if (from is null) fields.Refuse("CostFrom", "Say from which day.");
        var currency = currencyCode.Length == 0 ? book.Currency : fields.Currency("CostIn", currencyCode, "Choose the currency of the cost.");
        var cost = fields.Amount("Cost", amount, currency);
        if (amount.Trim().Length == 0) fields.Refuse("Cost", "Say what a unit costs from then on.");
        if (fields.Faults.Count > 0) return fields.Faults;
        using var change = rulesChange.Begin();
        var record = db.ProductCosts.Find(product, from!.Value);
        if (record is null) db.ProductCosts.Add(record = new ProductCostRecord { ProductId = product, From = from.Value, Currency = "" });
        (record.Cost, record.Currency) = (cost!.Value, currency.Code);
        audit.Note(by, "set unit cost", $"{book.ProductName(product)} from {from.Value.InWords()}: {new Money(cost.Value, currency).InWords()}");
        change.Commit();
        return [];
    }

    public void Remove(string product, DateOnly from, string by)
    {
        using var change = rulesChange.Begin();
        if (db.ProductCosts.Find(product, from) is not { } record) return;
        db.ProductCosts.Remove(record);
        audit.Note(by, "remove unit cost", $"{cache.Get(db).ProductName(product)} from {from.InWords()}");
        change.Commit();
    }
}
