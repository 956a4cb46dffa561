using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Terms;

/// <summary>What an agreement gives on a product.</summary>
/// <param name="Rate">The first case's rate, short; with a + where there are more cases.</param>
/// <param name="Governing">The sentence of the term that governs.</param>
/// <param name="Overridden">Sentences of the terms that cover the product too and are passed over.</param>
/// <param name="Personal">How many payees have a term of their own on it.</param>
/// <param name="Approved">How many of those on the agreement take part with the product; null where all do.</param>
public sealed record CoverageCell(string Rate, ScopeKind Scope, string Governing, IReadOnlyList<string> Overridden, int Personal, int? Approved);

/// <summary>A product and what governs it, agreement by agreement; null where nothing does.</summary>
public sealed record CoverageRow(string Id, string Name, IReadOnlyList<CoverageCell?> Cells);

/// <summary>Products by agreements.</summary>
/// <param name="Columns">The agreements in force that give something on a product of the page.</param>
/// <param name="Products">How many products there are in all, on every page.</param>
/// <param name="Agreements">How many agreements give something on a product of the page, shown or not.</param>
public sealed record CoverageView(IReadOnlyList<(string Id, string Name, Basis Basis, int Payees)> Columns, IReadOnlyList<CoverageRow> Rows, int Products, int Agreements);

/// <summary>Shows which term governs which product today, and where nothing does.</summary>
public sealed class CoverageMap(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    public const int PageSize = 100;

    /// <summary>More columns than this nobody reads beside each other.</summary>
    public const int MostColumns = 20;

    /// <param name="collection">Only its products; empty takes all.</param>
    /// <param name="basis">Only agreements earned on that; null takes all.</param>
    /// <param name="page">Of the products, from 1.</param>
    /// <param name="columnPage">Of the agreements, from 1.</param>
    public CoverageView Of(string collection, Basis? basis, int page, int columnPage = 1)
    {
        var book = cache.Get(db);
        var (today, naming) = (clock.Today, book.Naming());
        var products = book.Rules.Products.Where(p => collection.Length == 0 || p.Collections.Any(c => c.Value == collection))
            .OrderBy(p => book.ProductName(p.Id.Value), StringComparer.Ordinal).ToArray();
        var shown = products.Skip((Math.Max(page, 1) - 1) * PageSize).Take(PageSize).ToArray();
        var members = book.Rules.Payees.SelectMany(p => p.Memberships.Where(m => m.InForceOn(today)).Select(m => new Member(p, m))).ToLookup(m => m.Time.Agreement);
        var covering = book.Rules.Agreements.Where(a => basis is null || a.Basis == basis)
            .Select(a => (Agreement: a, Version: a.VersionOn(today), Payees: members[a.Id].ToArray()))
            .Where(a => a.Version is not null && shown.Any(p => Covers(a.Version, a.Payees, a.Agreement, p)))
            .OrderBy(a => a.Agreement.Basis).ThenBy(a => book.AgreementName(a.Agreement.Id.Value), StringComparer.Ordinal).ToArray();
        var columns = covering.Skip((Math.Max(columnPage, 1) - 1) * MostColumns).Take(MostColumns).ToArray();
        return new CoverageView(
            columns.Select(c => (c.Agreement.Id.Value, book.AgreementName(c.Agreement.Id.Value), c.Agreement.Basis, c.Payees.Length)).ToArray(),
            shown.Select(p => new CoverageRow(p.Id.Value, book.ProductName(p.Id.Value), columns.Select(c => Cell(c.Agreement, c.Version!, c.Payees, p, naming, today)).ToArray())).ToArray(),
            products.Length, covering.Length);
    }

    /// <summary>Somebody on an agreement today.</summary>
    private sealed record Member(Payee Payee, Membership Time)
    {
        public bool HasOwnTerm(Product product, DateOnly? on) => Payee.PersonalTerms.Any(t => t.Agreement == Time.Agreement && (on is not { } day || t.InForceOn(day)) && t.Term.Scope.MayCover(product));
    }

    /// <summary>Nobody's terms cover what none of them takes part with. A supply agreement covers only what its own vendors supply.</summary>
    private static bool Covers(AgreementVersion version, Member[] members, Agreement agreement, Product product) =>
        (agreement.Basis != Basis.Supply || members.Any(m => m.Payee.Id == product.Vendor))
        && (members.Length == 0 || members.Any(m => m.Time.IsFor(product.Id)))
        && (version.Terms.Any(t => t.Scope.MayCover(product)) || members.Any(m => m.Time.IsFor(product.Id) && m.HasOwnTerm(product, null)));

    private static CoverageCell? Cell(Agreement agreement, AgreementVersion version, Member[] members, Product product, Naming naming, DateOnly today)
    {
        if (!Covers(version, members, agreement, product)) return null;
        var covering = version.Terms.Where(t => t.Scope.MayCover(product)).Select((t, i) => (Term: t, Position: i))
            .OrderByDescending(t => t.Term.Scope.Kind).ThenBy(t => t.Position).Select(t => t.Term).ToArray();
        var personal = members.Count(m => m.Time.IsFor(product.Id) && m.HasOwnTerm(product, today));
        int? approved = members.Count(m => m.Time.IsFor(product.Id)) is var taking && taking < members.Length ? taking : null;
        if (covering.Length == 0) return personal == 0 ? null : new CoverageCell("own", ScopeKind.Product, "Only terms of single payees.", [], personal, approved);
        var sentences = covering.Select(t => TermWords.Term(t, agreement.Currency, naming)).ToArray();
        return new CoverageCell(Short(covering[0], agreement.Currency), covering[0].Scope.Kind, sentences[0], sentences[1..], personal, approved);
    }

    private static string Short(Term term, Currency currency)
    {
        var rate = term.Cases[0].Rate;
        var words = rate switch
        {
            { IsEmpty: true } => "nothing",
            { Of: RateOf.House } => "the rest",
            { Percent: { } percent, HasFlatAmount: false } => percent.ToPercentText(),
            { Percent: { } percent } => percent.ToPercentText() + " + flat",
            { PerUnit: { } unit } => new Money(unit, currency).InWords(),
            _ => "flat",
        };
        return term.Cases.Count > 1 ? words + " +" : words;
    }
}
