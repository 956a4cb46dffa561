using EvenSplit.Books.Model;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Catalogue;

/// <summary>One payee's part of a product. Amounts are minor units of each 100 of the book's currency that are charged.</summary>
/// <param name="Says">The term that governs, as a sentence.</param>
public sealed record SplitRow(string? PayeeId, string Payee, PayeeRole Role, string AgreementId, string Agreement, string Says, bool IsPersonal, long Amount);

/// <summary>Who shares in a product, on each 100 charged for it, after what is typically deducted.</summary>
/// <param name="Cost">What the goods cost the house, of each 100; it is not a part of the whole.</param>
/// <param name="Warnings">Where more is given away than there is.</param>
public sealed record SplitSheetView(Ribbon Ribbon, IReadOnlyList<SplitRow> Rows, long Cost, string Deducted, IReadOnlyList<string> Warnings);

/// <summary>Draws up the split sheet of a product: an order of one at its price, worked out by today's terms.</summary>
public sealed class SplitSheet(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    private const long Hundred = 10_000;

    private static readonly PayeeId Somebody = new("(an affiliate)");

    /// <param name="broughtUnder">The referral agreement of whoever brings the order; null where nobody does.</param>
    /// <returns>Null where the product has no price to split.</returns>
    public SplitSheetView? Of(string productId, string? broughtUnder)
    {
        var book = cache.Get(db);
        var product = book.Rules.Product(new ProductId(productId));
        var price = db.Products.AsNoTracking().Where(p => p.Id == productId).Select(p => p.Price).Single();
        if (price == 0) return null;
        var typical = TypicalDeductions.Of(db, book, clock.Today);
        var order = WorkedExample.MadeUp(book, product, price, 1, clock.GetUtcNow());
        order = typical.WithFees(order, price) with
        {
            PricesIncludeTax = true,
            Lines = [order.Lines[0] with { Tax = typical.Part(price, typical.Tax) }],
            ManualPayee = broughtUnder is null ? null : Somebody,
        };
        var rules = broughtUnder is null ? book.Rules : WithAffiliate(book.Rules, new AgreementId(broughtUnder));
        var ledger = new OrderLedger(rules, order, null, new NothingSoFar(), explain: true);
        var rows = ledger.SaleAmounts.GroupBy(a => (a.Key.Payee, a.Key.Agreement)).Select(g => Row(book, rules, ledger, g, price))
            .OrderBy(r => r.Role).ThenBy(r => r.Payee, StringComparer.Ordinal).ToArray();
        var tax = typical.Part(Hundred, typical.Tax);
        var fees = typical.Part(Hundred, typical.ProcessingFee) + typical.Part(Hundred, typical.ChannelFee);
        long By(PayeeRole role) => rows.Where(r => r.Role == role).Sum(r => r.Amount);
        var house = Hundred - tax - fees - rows.Sum(r => r.Amount);
        var cost = OfHundred(ledger.Figures.Lines[0].Cost, price);
        return new SplitSheetView(
            Ribbon.Of(book.Currency, Hundred, 0, tax, fees, By(PayeeRole.Affiliate), By(PayeeRole.Collaborator), By(PayeeRole.Vendor), house, 0),
            rows, cost, typical.Words, Warnings(ledger, house, cost, book.Currency).ToArray());
    }

    private static SplitRow Row(OpenedBook book, Rulebook rules, OrderLedger ledger, IGrouping<(PayeeId Payee, AgreementId Agreement), ShareAmount> amounts, long price)
    {
        var share = amounts.First().Share;
        var chosen = amounts.First().Line.Term;
        var id = amounts.Key.Payee;
        return new SplitRow(
            id == Somebody ? null : id.Value, id == Somebody ? "Whoever brought it" : book.PayeeName(id.Value), rules.Payee(id).Role,
            amounts.Key.Agreement.Value, book.AgreementName(amounts.Key.Agreement.Value),
            TermWords.Term(chosen.Term, share.Agreement.Currency, book.Naming()), chosen.IsPersonal,
            OfHundred(amounts.Aggregate(Fraction.Zero, (sum, a) => sum + Exact(ledger, a)), price));
    }

    /// <summary>Before rounding to a unit of the price, which would show as a difference between equal shares of a hundred.</summary>
    private static Fraction Exact(OrderLedger ledger, ShareAmount amount) =>
        amount.Trace?.Rounding is { } rounding ? rounding.Exact : new Fraction(ledger.InOrderCurrency(amount.Amount) ?? 0, 1);

    private static IEnumerable<string> Warnings(OrderLedger ledger, long house, long cost, Currency currency)
    {
        if (ledger.Exceptions.Any(e => e.Code == ExceptionCode.OverCommitted)) yield return "More is given away than the goods bring in: orders of this product would be over-committed.";
        else if (house < 0) yield return "After tax and fees more is given away than is left: the house would pay for every sale.";
        else if (house < cost) yield return $"The house keeps {new Money(house, currency).InWords()} of each hundred, less than the goods cost it, {new Money(cost, currency).InWords()}.";
        if (ledger.Exceptions.Any(e => e.Code == ExceptionCode.RateMissing)) yield return "An exchange rate is missing, so that somebody's part is not in here.";
    }

    private static Rulebook WithAffiliate(Rulebook rules, AgreementId agreement) => rules.With(
        rules.Products,
        rules.Payees.Append(new Payee
        {
            Id = Somebody,
            Role = PayeeRole.Affiliate,
            PayoutCurrency = rules.Agreement(agreement).Currency,
            ActiveFrom = DateOnly.MinValue,
            Memberships = [new Membership(agreement, DateOnly.MinValue, null)],
        }),
        rules.Agreements);

    /// <summary>What was deducted over the last twelve months, in the book's currency.</summary>
    private static long OfHundred(long amount, long price) => OfHundred(new Fraction(amount, 1), price);

    private static long OfHundred(Fraction amount, long price) => (amount * new Fraction(Hundred, price)).Round();
}
