using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>What a draft would give on one order, before anything is published.</summary>
/// <param name="Shares">What the made-up payee would earn, part by part, explained.</param>
/// <param name="Warnings">What is unusual about the draft.</param>
public sealed record ExampleView(
    string OrderId, Currency Currency, long Charged, long GoodsNet, long Earned, long House, IReadOnlyList<Trace> Shares,
    IReadOnlyList<string> Sentences, IReadOnlyList<FieldFault> Faults, IReadOnlyList<string> Warnings);

/// <summary>Works a draft out on a real order for a made-up payee. Nothing is kept.</summary>
public sealed class WorkedExample(BookDbContext db, BookCache cache) : IUseCase
{
    private static readonly PayeeId Somebody = new("(this payee)");
    private static readonly AgreementId Draft = new("(this agreement)");

    /// <param name="orderId">The order to try it on; null or unknown takes the latest paid one.</param>
    /// <returns>Null while the book has no paid order.</returns>
    public ExampleView? Of(AgreementDraft draft, string? orderId)
    {
        var book = cache.Get(db);
        var paid = db.Orders.AsNoTracking().WithParts().Where(o => o.Status == OrderStatus.Calculated);
        var record = paid.FirstOrDefault(o => o.OrderId == orderId) ?? paid.OrderByDescending(o => o.Id).FirstOrDefault();
        if (record is null) return null;
        var reader = new DraftReader(book.Rules);
        var version = reader.Read(draft) with { From = DateOnly.MinValue };
        var currency = Currency.TryOf(draft.Currency, out var known) ? known : book.Currency;
        var agreement = new Agreement(Draft, draft.Basis, currency, [version]);
        var order = OrderFacts.ToOrder(record) with { Origin = null };
        if (draft.Basis == Basis.Referral) order = order with { ManualPayee = Somebody };
        var rules = WithDraft(book.Rules, agreement, order);
        var ledger = new OrderLedger(rules, order, null, new NothingSoFar(), explain: true);
        var amounts = ledger.SaleAmounts.Where(a => a.Key.Agreement == Draft).ToArray();
        var naming = book.Naming() with
        {
            Payee = id => id == Somebody ? "this payee" : book.PayeeName(id.Value),
            Agreement = id => id == Draft ? (draft.Name.Trim().Length > 0 ? draft.Name.Trim() : "This agreement") : book.AgreementName(id.Value),
        };
        return new ExampleView(
            record.OrderId, ledger.Order.Currency, ledger.Figures.Charged, ledger.Figures.GoodsNet,
            amounts.Sum(a => rules.Rates.Convert(a.Amount.Minor, a.Amount.Currency, order.Currency, book.Time.DateOf(order.PaidAt!.Value)) ?? 0),
            ledger.House,
            new TraceTeller(rules, naming).Tell(ledger, amounts),
            version.Terms.SelectMany(t => TermWords.Term(t, currency, naming)).Concat(TermWords.Switches(version, draft.Basis)).ToArray(),
            reader.Faults,
            Warnings(rules, version, ledger).ToArray());
    }

    private static Rulebook WithDraft(Rulebook rules, Agreement draft, Order order)
    {
        var somebody = new Payee
        {
            Id = Somebody,
            Role = draft.Basis switch { Basis.Referral => PayeeRole.Affiliate, Basis.Supply => PayeeRole.Vendor, _ => PayeeRole.Collaborator },
            PayoutCurrency = draft.Currency,
            ActiveFrom = DateOnly.MinValue,
            Memberships = [new Membership(Draft, DateOnly.MinValue, null)],
        };
        var inOrder = order.Lines.Select(l => l.Product).ToHashSet();
        var products = rules.Products.Select(p => draft.Basis == Basis.Supply && inOrder.Contains(p.Id) ? p with { Vendor = Somebody } : p);
        return rules.With(products, rules.Payees.Append(somebody), rules.Agreements.Append(draft));
    }

    private static IEnumerable<string> Warnings(Rulebook rules, AgreementVersion version, OrderLedger ledger)
    {
        var longest = rules.Products.Select(p => p.ReturnDays).DefaultIfEmpty().Max();
        if (version.HoldDays < longest)
        {
            yield return $"The hold is shorter than the longest return period, {MoneyWords.Count(longest, "day")}; earnings on such a product clear when it can no longer be returned.";
        }
        if (ledger.Exceptions.Any(e => e.Code == ExceptionCode.OverCommitted))
        {
            yield return "On this order more would be given away than a line brought in.";
        }
        if (ledger.House < 0) yield return "On this order the house would lose money.";
    }

    /// <summary>A made-up payee has no history.</summary>
    private sealed class NothingSoFar : IProgressBefore
    {
        public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) => default;
    }
}
