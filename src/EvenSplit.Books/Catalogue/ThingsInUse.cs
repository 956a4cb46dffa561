using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Catalogue;

/// <summary>Tells what still names a variant or a product, which so cannot leave the catalogue.</summary>
public sealed class ThingsInUse(BookDbContext db, BookCache cache) : IUseCase
{
    /// <returns>What names it, as a sentence without its end; null where nothing does.</returns>
    public string? Of(VariantId variant)
    {
        var sold = db.OrderLines.Where(l => l.Variant == variant.Value).Select(l => l.OrderId).Distinct().Count();
        return sold > 0 ? $"it was sold in {MoneyWords.Count(sold, "order")}" : Terms(Scope.Of(variant));
    }

    /// <inheritdoc cref="Of(VariantId)"/>
    public string? Of(ProductId product)
    {
        var sold = db.OrderLines.Where(l => l.Product == product.Value).Select(l => l.OrderId).Distinct().Count();
        if (sold > 0) return $"it was sold in {MoneyWords.Count(sold, "order")}";
        if (db.OfferPaths.AsNoTracking().FirstOrDefault(p => p.Steps.Any(s => s.Product == product.Value)) is { } path) return $"it is offered in the path {path.Name}";
        if (Terms(Scope.Of(product)) is { } terms) return terms;
        var book = cache.Get(db);
        if (book.Rules.Payees.FirstOrDefault(p => p.Memberships.Any(m => m.Products?.Contains(product) == true)) is { } approved) return $"{book.PayeeName(approved.Id.Value)} is approved for it";
        return book.Rules.FindProduct(product)?.Variants.Select(Of).FirstOrDefault(use => use is not null);
    }

    private string? Terms(Scope scope)
    {
        var book = cache.Get(db);
        // Of withdrawn versions nothing is in force, but a version is kept as it was published.
        if (book.Rules.Agreements.FirstOrDefault(a => a.Versions.Any(v => v.Terms.Any(t => t.Scope == scope))) is { } agreement) return $"a term of {book.AgreementName(agreement.Id.Value)} covers it";
        return book.Rules.Payees.FirstOrDefault(p => p.PersonalTerms.Any(t => t.Term.Scope == scope)) is { } payee ? $"a term of {book.PayeeName(payee.Id.Value)}'s own covers it" : null;
    }
}
