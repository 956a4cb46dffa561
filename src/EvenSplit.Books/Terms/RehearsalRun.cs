using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>One rehearsal at work: orders under the draft, held against what is posted for them.</summary>
internal sealed class RehearsalRun(BookDbContext db, IDbContextFactory<BookDbContext> books, OpenedBook book, RehearsalRecord rehearsal)
{
    private const int MostShown = 50;

    /// <summary>What was read: the facts under the draft, and where in them each order of the book stands.</summary>
    private sealed record OrdersRead(Facts Facts, Dictionary<long, int> Indexes);

    /// <summary>An entry as far as it is compared.</summary>
    private readonly record struct PostedEntry(long OrderId, string Product, string Payee, string Currency, long Amount, bool IsSale);

    /// <param name="progress">Told how many orders are read, of how many.</param>
    /// <exception cref="RefusedException">More orders than can be held at once.</exception>
    public RehearsalResult WorkOut(Action<long, long> progress, CancellationToken stopping)
    {
        var drafted = book.Under(WithDraft(book.Rules, Rehearsals.DraftOf(rehearsal)));
        var rules = drafted.Rules;
        var read = Read(drafted, progress, stopping);
        var facts = read.Facts;
        var inRange = new Dictionary<string, int>();
        for (var i = 0; i < facts.Orders.Count; i++)
        {
            var placed = book.Time.DateOf(facts.Orders[i].PlacedAt);
            if (facts.Orders[i].PaidAt is not null && placed >= rehearsal.From && placed <= rehearsal.To) inRange.Add(facts.Orders[i].Id.Value, i);
        }
        var compared = inRange.Values.ToHashSet();
        // What is posted is read and summed while the draft is being worked out.
        var posted = Task.Run(() => Side(Posted(drafted, read, compared)), stopping);
        var earlier = AsksProgress(drafted) ? new ProgressBeforeRehearsal(db, books, book, drafted, rehearsal.From).Read(stopping) : null;
        var result = WholeBook.WorkOut(facts, earlier: earlier);
        stopping.ThrowIfCancellationRequested();
        return Compare(facts, result, posted.GetAwaiter().GetResult(), Side(Earned(facts, result, inRange)), inRange);

        RehearsedSide Side(EarnedAmount[] amounts) => new(amounts, facts.Orders.Count, InOrderCurrency);

        long InOrderCurrency(int order, Money amount) => amount.Currency == facts.Orders[order].Currency
            ? amount.Minor
            : rules.Rates.Convert(amount.Minor, amount.Currency, facts.Orders[order].Currency, book.Time.DateOf(facts.Orders[order].PaidAt!.Value)) ?? 0;
    }

    /// <summary>The draft in the agreement's place from the first day rehearsed on; before that the agreement says what it said.</summary>
    private Rulebook WithDraft(Rulebook rules, AgreementDraft draft)
    {
        var was = rules.Agreement(new AgreementId(rehearsal.AgreementId));
        var version = new DraftReader(rules).Read(draft) with { From = rehearsal.From };
        var becomes = new Agreement(was.Id, was.Basis, Currency.Of(draft.Currency), [.. was.Versions.Where(v => v.From < rehearsal.From), version]);
        return rules.With(rules.Products, rules.Payees, rules.Agreements.Select(a => a.Id == was.Id ? becomes : a));
    }

    /// <summary>The orders that can differ. Where any term asks for progress they are all that were paid from the first day on, since each can move a payee up a step.</summary>
    private OrdersRead Read(OpenedBook drafted, Action<long, long> progress, CancellationToken stopping)
    {
        var keys = Query(db, drafted).Select(o => o.Id).ToArray();
        if (keys.Length > OrdersInMemory.Most) throw new RefusedException($"{MoneyWords.Count(keys.Length, "order")} would have to be worked over; the memory of this machine is enough for {MoneyWords.Count(OrdersInMemory.Most)}. Rehearse fewer days.");
        Array.Sort(keys);
        var orders = new List<Order>(keys.Length);
        var indexes = new Dictionary<long, int>(keys.Length);
        var refunds = new List<Refund>();
        progress(0, keys.Length);
        foreach (var batch in new OrdersWithRefunds(books).InBatches(keys))
        {
            stopping.ThrowIfCancellationRequested();
            // An order paid earlier has made its progress, and was placed before the first day.
            foreach (var (key, order, refunded) in batch.Where(o => o.Order.PaidAt is not { } paidAt || book.Time.DateOf(paidAt) >= rehearsal.From))
            {
                indexes.Add(key, orders.Count);
                orders.Add(order);
                refunds.AddRange(refunded);
            }
            progress(orders.Count, keys.Length);
        }
        return new OrdersRead(new Facts(drafted.Rules, WithOrigins(orders), refunds, [], []), indexes);
    }

    private EarnedAmount[] Posted(OpenedBook drafted, OrdersRead read, HashSet<int> compared)
    {
        using var own = books.CreateDbContext();
        var orders = Query(own, drafted).Select(o => o.Id);
        var posted = from e in own.Entries.AsNoTracking()
                     where orders.Contains(e.OrderId)
                     join l in own.OrderLines on new { e.OrderId, Number = e.LineNumber } equals new { l.OrderId, l.Number }
                     select new PostedEntry(e.OrderId, l.Product, e.Payee, e.Currency, e.Amount, e.RefundId == null);
        var amounts = new List<EarnedAmount>();
        foreach (var entry in posted)
        {
            if (!read.Indexes.TryGetValue(entry.OrderId, out var order) || !compared.Contains(order)) continue;
            amounts.Add(new EarnedAmount(order, entry.Product, entry.Payee, new Money(entry.Amount, Currency.Of(entry.Currency)), entry.IsSale));
        }
        return [.. amounts];
    }

    private static EarnedAmount[] Earned(Facts facts, BookResult result, Dictionary<string, int> inRange)
    {
        var amounts = new List<EarnedAmount>(result.Entries.Count);
        foreach (var entry in result.Entries)
        {
            if (!inRange.TryGetValue(entry.Order.Value, out var order)) continue;
            var product = LineOf(facts.Orders[order], entry.Line).Product;
            amounts.Add(new EarnedAmount(order, product.Value, entry.Payee.Value, entry.Amount, entry.Refund is null));
        }
        return [.. amounts];
    }

    private bool AsksProgress(OpenedBook drafted) => !drafted.Progress.AreNone || !book.Progress.AreNone;

    private IQueryable<OrderRecord> Query(BookDbContext db, OpenedBook drafted)
    {
        var until = rehearsal.To == DateOnly.MaxValue ? rehearsal.To : rehearsal.To.AddDays(1);
        if (AsksProgress(drafted)) return db.TouchedBy(new TouchedOrders { Everything = true, PlacedBefore = until, ConvertedFrom = rehearsal.From });
        // By the draft's terms and by today's: what a draft no longer covers changes too.
        return db.TouchedBy(RulesDifference.OfAgreement(book.Rules, drafted.Rules, new AgreementId(rehearsal.AgreementId), new DateSpan(rehearsal.From, until)));
    }

    /// <summary>A renewal whose origin is not among the orders read keeps whom the book has it attributed to.</summary>
    private List<Order> WithOrigins(List<Order> orders)
    {
        var read = orders.Select(o => o.Id).ToHashSet();
        var alone = orders.Where(o => o.Origin is { } origin && !read.Contains(origin)).Select(o => o.Id.Value).ToArray();
        if (alone.Length == 0) return orders;
        var attributed = db.Orders.AsNoTracking().Where(o => alone.Contains(o.OrderId)).Select(o => new { o.OrderId, o.AttributedTo }).ToDictionary(o => o.OrderId, o => o.AttributedTo);
        return orders.ConvertAll(o => attributed.TryGetValue(o.Id.Value, out var payee)
            ? o with { Origin = null, ManualPayee = payee is null ? null : new PayeeId(payee), Codes = [], Clicks = [] }
            : o);
    }

    private RehearsalResult Compare(Facts facts, BookResult result, RehearsedSide then, RehearsedSide now, Dictionary<string, int> inRange)
    {
        var differing = inRange.Values.Where(i => then.OnOrder(i) != now.OnOrder(i)).ToArray();
        var most = differing.OrderByDescending(i => Math.Abs(now.OnOrder(i) - then.OnOrder(i))).ThenBy(i => facts.Orders[i].Id).Take(MostShown).ToArray();
        var shown = most.ToHashSet();
        var (sharesThen, sharesNow) = (then.AtSale(shown), now.AtSale(shown));
        var shares = sharesThen.Keys.Union(sharesNow.Keys).OrderBy(k => k.Payee, StringComparer.Ordinal).ToLookup(k => k.Order, k => new RehearsedRow(
            k.Payee, facts.Orders[k.Order].Currency.Code, new ThenAndNow(sharesThen.GetValueOrDefault(k), sharesNow.GetValueOrDefault(k))));
        var raised = Raised(result, inRange);
        return new RehearsalResult(
            inRange.Count, differing.Length,
            RehearsedSide.ByPayee(then, now), RehearsedSide.ByProduct(then, now),
            [.. inRange.Values.GroupBy(i => facts.Orders[i].Currency).Select(g => new RehearsedRow("", g.Key.Code, g.Aggregate(default(ThenAndNow), (sum, i) => sum + House(i))))],
            [.. most.Select(Shown)],
            raised.Length, raised.Take(MostShown).ToArray());

        // What was left before anybody earned, less what they earn then and now.
        ThenAndNow House(int i)
        {
            var before = result.Orders[i].House + result.Orders[i].Earnings;
            return new ThenAndNow(before - then.OnOrder(i), before - now.OnOrder(i));
        }

        RehearsedOrder Shown(int i)
        {
            var (order, figures) = (facts.Orders[i], result.Orders[i].Figures!);
            return new RehearsedOrder(
                order.Id.Value, order.Currency.Code, House(i),
                new RehearsedSteps(figures.Charged, figures.Tax, figures.ProcessingFee, figures.ChannelFee, figures.Rebate), [.. shares[i]]);
        }
    }

    private static OrderLine LineOf(Order order, LineId id)
    {
        for (var i = 0; i < order.Lines.Count; i++)
        {
            if (order.Lines[i].Id == id) return order.Lines[i];
        }
        throw new InvalidOperationException($"Order {order.Id} has no line {id}.");
    }

    /// <summary>Exceptions of orders compared that the book has not.</summary>
    private RehearsedException[] Raised(BookResult now, Dictionary<string, int> inRange)
    {
        var known = (from exception in db.OrderExceptions.AsNoTracking() join order in db.Orders on exception.OrderId equals order.Id select new { exception.Code, order.OrderId, exception.LineId, exception.Payee })
            .AsEnumerable().Select(e => new RehearsedException(e.Code, e.OrderId, e.LineId, e.Payee)).ToHashSet();
        return now.Exceptions.Where(e => e.Order is { } order && inRange.ContainsKey(order.Value))
            .Select(e => new RehearsedException(e.Code, e.Order!.Value.Value, e.Line?.Value, e.Payee?.Value)).Where(e => !known.Contains(e)).ToArray();
    }
}
