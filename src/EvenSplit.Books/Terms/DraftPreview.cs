using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>What to try a draft on: an order there is, or so many of a product. With neither, the latest paid order.</summary>
public sealed record ExampleChoice
{
    public string Order { get; init; } = "";
    public string Product { get; init; } = "";
    public long? Quantity { get; init; }
}

/// <summary>A draft as it would read and work.</summary>
/// <param name="Terms">One sentence a term.</param>
/// <param name="Switches">What the base is and when earnings clear, in sentences.</param>
/// <param name="Unusual">What is allowed and mostly a slip.</param>
/// <param name="Steps">What there is to draw of each term whose rate steps.</param>
/// <param name="Example">Null where there is no order to try it on.</param>
public sealed record DraftView(
    Currency Currency, IReadOnlyList<string> Terms, IReadOnlyList<string> Switches, IReadOnlyList<FieldFault> Faults, IReadOnlyList<string> Unusual,
    IReadOnlyList<(string Scope, IReadOnlyList<RateSteps> Lines)> Steps, ExampleView? Example);

/// <summary>Tells what a draft says and does while it is being written. Nothing is kept.</summary>
public sealed class DraftPreview(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    /// <param name="id">The agreement it is the next version of; null for a new one.</param>
    public DraftView Of(AgreementDraft draft, ExampleChoice choice, string? id)
    {
        var book = cache.Get(db);
        return Of(book, draft, choice, id, (version, currency) => GivesTooMuch(book, draft, version, currency, id));
    }

    /// <summary>What a term of a payee's own says, and gives on an order, under the agreement it is for.</summary>
    public DraftView OfPersonal(PersonalTermDraft draft, ExampleChoice choice)
    {
        var book = cache.Get(db);
        var agreement = book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == draft.Agreement);
        var version = agreement?.VersionOn(draft.From ?? DateOnly.MaxValue) ?? agreement?.Versions[0];
        var under = version is null
            ? new AgreementDraft { Name = "–", Currency = book.Currency.Code }
            : AgreementDraft.Of(book.AgreementName(agreement!.Id.Value), agreement, version);
        return Of(book, under with { From = draft.From, Terms = [draft.Term] }, choice, draft.Agreement, (_, _) => []);
    }

    private DraftView Of(OpenedBook book, AgreementDraft draft, ExampleChoice choice, string? inPlaceOf, Func<AgreementVersion, Currency, IEnumerable<string>> givesTooMuch)
    {
        var reader = new DraftReader(book.Rules);
        var version = reader.Read(draft);
        var currency = Currency.TryOf(draft.Currency, out var known) ? known : book.Currency;
        var naming = book.Naming();
        var example = Find(book, version, choice) is var (order, told) ? WorkedExample.Of(book, version, draft.Basis, currency, draft.Name.Trim(), inPlaceOf, order, told) : null;
        return new DraftView(
            currency,
            version.Terms.Select(t => TermWords.Term(t, currency, naming)).ToArray(),
            TermWords.Switches(version, draft.Basis).ToArray(),
            reader.Faults,
            [.. TermReview.Unusual(version, draft.Basis, currency, [.. book.Rules.Products], naming), .. givesTooMuch(version, currency)],
            version.Terms.Select(t => (TermWords.Scope(t.Scope, naming), RateSteps.Of(t))).Where(t => t.Item2.Count > 0).ToArray(),
            example);
    }

    /// <summary>The product of which all agreements together could give away most, where that is more than all of it.</summary>
    private static IEnumerable<string> GivesTooMuch(OpenedBook book, AgreementDraft draft, AgreementVersion version, Currency currency, string? id)
    {
        var agreement = new Agreement(new AgreementId(id ?? ""), draft.Basis, currency, [version]);
        var members = book.Rules.Payees.Count(p => p.IsOn(agreement.Id, version.From));
        var over = book.Rules.Products.Where(p => version.Terms.Any(t => t.Scope.MayCover(p)))
            .Select(p => MostGiven.Of(book.Rules, p, version.From, agreement, members)).Where(g => g.Millionths > Rate.One).ToArray();
        if (over.MaxBy(g => g.Millionths) is not { } worst) yield break;
        string Percent(long millionths) => new Rate(millionths).ToPercentText();
        var parts = worst.Parts.Select(p => $"{Percent(p.Millionths)} by {(p.Agreement == agreement.Id ? "this one" : book.AgreementName(p.Agreement.Value))}");
        yield return $"Of {book.ProductName(worst.Product.Id.Value)}{(over.Length > 1 ? $" and {MoneyWords.Count(over.Length - 1, "more product")}" : "")} up to {Percent(worst.Millionths)} could be given away: {string.Join(", ", parts)}.";
    }

    /// <summary>The order that was chosen, else the latest the draft could say something of, else one made up of a product it covers.</summary>
    private (Order Order, string Told)? Find(OpenedBook book, AgreementVersion version, ExampleChoice choice)
    {
        if (choice.Order.Trim().Length == 0 && book.Rules.FindProduct(new ProductId(choice.Product.Trim())) is { } product) return MadeUp(book, product, choice.Quantity ?? 1);
        var paid = db.Orders.AsNoTracking().WithParts().Where(o => o.Status == OrderStatus.Calculated);
        var record = paid.FirstOrDefault(o => o.OrderId == choice.Order.Trim()) ?? paid.OrderByDescending(o => o.Id).FirstOrDefault();
        if (record is not null) return (OrderFacts.ToOrder(record) with { Origin = null }, $"order {record.OrderId}");
        return (book.Rules.Products.FirstOrDefault(p => version.Terms.Any(t => t.Scope.MayCover(p))) ?? book.Rules.Products.FirstOrDefault()) is { } first ? MadeUp(book, first, 1) : null;
    }

    private (Order Order, string Told) MadeUp(OpenedBook book, Product product, long quantity)
    {
        const long most = 100_000;
        var price = db.Products.AsNoTracking().Where(p => p.Id == product.Id.Value).Select(p => p.Price).Single();
        var order = WorkedExample.MadeUp(book, product, price, Math.Clamp(quantity, 1, most), clock.GetUtcNow());
        var typical = TypicalDeductions.Of(db, book, clock.Today);
        order = typical.WithFees(order, order.Lines[0].Quantity * price);
        return (order, $"a made-up order of {MoneyWords.Count(order.Lines[0].Quantity)} × {book.Naming().Product(product.Id)}, {new Money(price, book.Currency).InWords()} each{(typical.Charged > 0 ? ", with the fees that are usual" : "")}");
    }
}
