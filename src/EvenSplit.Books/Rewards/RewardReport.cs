using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Rewards;

/// <summary>A paid order that came by a customer's code. Amounts in the order's currency, the credit in the book's.</summary>
/// <param name="Due">The friend's discount as the scheme has it; what was given is <paramref name="Given"/>.</param>
/// <param name="Credit">What the referrer gets for it today; null while an exchange rate is missing.</param>
/// <param name="Why">Why there is no reward; null where there is one.</param>
public sealed record RewardRow(
    string Order, DateOnly PaidOn, string ReferrerKey, string Referrer, string Friend, IReadOnlyList<string> Items, Money Goods, Money Given, Money Due, long? Credit, bool IsHeld, string? Why);

/// <summary>What a customer is owed in store credit, in minor units of the book's currency.</summary>
public sealed record CustomerCredit(string Key, string Name, long Earned, long Given)
{
    public long Owed => Earned - Given;
}

/// <summary>What a customer sees of the friends they brought.</summary>
/// <param name="Unpaid">Orders placed with their code that nobody has paid yet.</param>
/// <param name="Held">Store credit that comes once the time to send things back is over; minor units of the book's currency.</param>
public sealed record CustomerFriends(string Name, IReadOnlyList<string> Codes, IReadOnlyList<RewardRow> Rows, int Unpaid, CustomerCredit Credit, long Held);

/// <summary>Tells what friends were given and what their referrers get, from paid orders only, and gives store credit.</summary>
public sealed class RewardReport(BookDbContext db, BookCache cache, BookClock clock, AuditLog audit) : IUseCase
{
    /// <summary>The orders paid between two months, both counted in.</summary>
    public IReadOnlyList<RewardRow> Rows(Period from, Period to) => Rows(o => o.Period >= from.Number && o.Period <= to.Number);

    /// <summary>Every customer with a code who has earned or been given anything.</summary>
    public IReadOnlyList<CustomerCredit> Credits()
    {
        var names = db.CustomerCodes.AsNoTracking().AsEnumerable().GroupBy(c => c.CustomerKey).ToDictionary(g => g.Key, g => g.First().Name);
        var earned = Rows(_ => true).Where(r => !r.IsHeld).GroupBy(r => r.ReferrerKey).ToDictionary(g => g.Key, g => g.Sum(r => r.Credit ?? 0));
        var given = db.StoreCredits.GroupBy(c => c.CustomerKey).Select(g => new { g.Key, Sum = g.Sum(c => c.Amount) }).ToDictionary(g => g.Key, g => g.Sum);
        return [.. names.Select(n => new CustomerCredit(n.Key, n.Value, earned.GetValueOrDefault(n.Key), given.GetValueOrDefault(n.Key)))
            .Where(c => c.Earned != 0 || c.Given != 0).OrderBy(c => c.Name, StringComparer.Ordinal)];
    }

    /// <summary>What one customer's codes brought, the latest first, and what they are owed.</summary>
    /// <returns>Null where they have no code.</returns>
    public CustomerFriends? OfCustomer(string key)
    {
        var codes = db.CustomerCodes.AsNoTracking().Where(c => c.CustomerKey == key).OrderBy(c => c.Code).ToArray();
        if (codes.Length == 0) return null;
        var rows = Rows(o => db.OrderCodes.Any(u => u.OrderId == o.Id && db.CustomerCodes.Any(c => c.Code == u.Code && c.CustomerKey == key))).Where(r => r.ReferrerKey == key).ToArray();
        var unpaid = db.Orders.Count(o => o.Status == OrderStatus.Unpaid && db.OrderCodes.Any(u => u.OrderId == o.Id && db.CustomerCodes.Any(c => c.Code == u.Code && c.CustomerKey == key)));
        var (earned, held) = (rows.Where(r => !r.IsHeld).Sum(r => r.Credit ?? 0), rows.Where(r => r.IsHeld).Sum(r => r.Credit ?? 0));
        return new CustomerFriends(codes[0].Name, [.. codes.Select(c => c.Code)], rows, unpaid, new CustomerCredit(key, codes[0].Name, earned, db.StoreCredits.Where(c => c.CustomerKey == key).Sum(c => c.Amount)), held);
    }

    /// <summary>Notes what everybody is owed as given today. What a refund takes back later makes the next one smaller.</summary>
    /// <returns>What was given, to be entered in the shop.</returns>
    public IReadOnlyList<CustomerCredit> Give(string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var owed = Credits().Where(c => c.Owed > 0).ToArray();
        if (owed.Length == 0) throw new RefusedException("Nobody is owed store credit.");
        db.StoreCredits.AddRange(owed.Select(c => new StoreCreditRecord { On = clock.Today, CustomerKey = c.Key, Amount = c.Owed, By = by }));
        audit.Note(by, "give store credit", MoneyWords.Count(owed.Length, "customer"));
        db.SaveChanges();
        transaction.Commit();
        return owed;
    }

    private List<RewardRow> Rows(System.Linq.Expressions.Expression<Func<OrderRecord, bool>> paid)
    {
        var book = cache.Get(db);
        var schemes = db.RewardSchemes.AsNoTracking().Include(s => s.Discounts).OrderByDescending(s => s.From).ToArray();
        var found = (from code in db.CustomerCodes.AsNoTracking()
                     join used in db.OrderCodes on code.Code equals used.Code
                     join order in db.Orders.Where(o => o.Status == OrderStatus.Calculated).Where(paid) on used.OrderId equals order.Id
                     select new { order.Id, used.Position, code.CustomerKey, code.Name }).ToArray();
        // The last code on an order decides, as it does for payees.
        var byOrder = found.GroupBy(f => f.Id).ToDictionary(g => g.Key, g => g.MaxBy(f => f.Position)!);
        var keys = byOrder.Keys.ToArray();
        var refunds = db.Refunds.AsNoTracking().Include(r => r.Lines).Where(r => keys.Contains(r.OrderId)).AsEnumerable().ToLookup(r => r.OrderId);
        return [.. db.Orders.AsNoTracking().Include(o => o.Lines).Where(o => keys.Contains(o.Id)).OrderByDescending(o => o.PaidAt).ThenByDescending(o => o.Id).AsEnumerable()
            .Select(o => Row(book, schemes, o, byOrder[o.Id].CustomerKey, byOrder[o.Id].Name, refunds[o.Id]))];
    }

    private RewardRow Row(OpenedBook book, RewardSchemeRecord[] schemes, OrderRecord order, string referrerKey, string referrer, IEnumerable<RefundRecord> refunds)
    {
        var currency = Currency.Of(order.Currency);
        var (placedOn, paidOn) = (book.Time.DateOf(order.PlacedAt), book.Time.DateOf(order.PaidAt!.Value));
        var scheme = Array.Find(schemes, s => s.From <= placedOn && (s.To is null || placedOn < s.To));
        var why = scheme is null ? "no scheme held then"
            : order.CustomerKey == referrerKey ? "their own order"
            : scheme.NewCustomersOnly && order.Customer != CustomerKind.New ? "not a new customer"
            : null;
        var discounts = scheme?.Discounts.Select(d => new FriendDiscount(d.Collection, d.Percent, d.PerUnit)).ToArray() ?? [];
        var due = why is null
            ? order.CurrentLines.Sum(l => CustomerReward.DiscountDue(discounts, book.Rules.Product(new ProductId(l.Product)), l.Quantity, l.UnitPrice, currency, book.Rules.Rates, book.Currency, paidOn))
            : 0;
        var left = refunds.Any(r => r.Kind == RefundKind.Cancel) ? 0 : order.GoodsNet - refunds.Sum(r => r.Lines.Sum(l => l.Goods));
        var credit = why is null ? CustomerReward.CreditDue(new ReferrerCredit(scheme!.CreditPercent, scheme.CreditFixed), left, currency, book.Rules.Rates, book.Currency, paidOn) : 0;
        return new RewardRow(
            order.OrderId, paidOn, referrerKey, referrer, order.CustomerKey ?? "", [.. order.CurrentLines.Select(l => $"{l.Quantity} × {book.ProductName(l.Product)}")],
            new Money(left, currency), new Money(order.Discount + order.CurrentLines.Sum(l => l.Discount), currency), new Money(due, currency), credit,
            scheme is not null && paidOn.AddDays(scheme.HoldDays) > clock.Today, why ?? (left == 0 ? "all of it came back" : null));
    }
}
