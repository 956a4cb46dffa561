using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>Goods that people were given as they joined, at what they cost the house. Nobody is owed for them, and no figure of the split counts them.</summary>
public sealed class GivenGoods(BookDbContext db, BookCache cache) : IUseCase
{
    /// <summary>What one payee was given.</summary>
    public IReadOnlyList<(DateOnly On, string Agreement, string What, Money Cost)> Of(string payee)
    {
        var book = cache.Get(db);
        return [.. db.GivenGoods.AsNoTracking().Where(g => g.Payee == payee).OrderBy(g => g.Id).AsEnumerable().Select(g => (g.On, book.AgreementName(g.AgreementId), g.Note, new Money(g.Cost, Currency.Of(g.Currency))))];
    }

    /// <summary>What was given under an agreement: to how many, and what it cost the house.</summary>
    public (int People, IReadOnlyList<Money> Cost) Under(string agreement)
    {
        var given = db.GivenGoods.Where(g => g.AgreementId == agreement).GroupBy(g => g.Currency).Select(g => new { g.Key, Count = g.Count(), Cost = g.Sum(x => x.Cost) }).ToArray();
        return (given.Sum(g => g.Count), [.. given.OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => new Money(g.Cost, Currency.Of(g.Key)))]);
    }
}
