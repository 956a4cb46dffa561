using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>Orders, their entries, exceptions and counted sales, held against what the whole book comes to.</summary>
internal sealed class SalesChecks(BookDbContext db, BookAnew anew)
{
    /// <summary>What stands on an order's row and is worked out.</summary>
    private static readonly (string What, Func<OrderRecord, object?> Of)[] Columns =
    [
        ("month", o => o.Period), ("status", o => o.Status), ("brought by", o => o.AttributedTo), ("how it was decided", o => o.Via),
        ("goods", o => o.GoodsNet), ("tax", o => o.Tax), ("shipping", o => o.ShippingNet), ("charged", o => o.Charged), ("processing fee", o => o.ProcessingFee),
        ("channel fee", o => o.ChannelFee), ("rebate", o => o.Rebate), ("affiliates", o => o.Affiliates), ("collaborators", o => o.Collaborators), ("vendors", o => o.Vendors),
        ("house", o => o.House), ("shipping kept", o => o.ShippingKept), ("refunded", o => o.IsRefunded), ("contested", o => o.IsContested),
    ];

    private readonly Dictionary<long, string> _ids = anew.Keys.ToDictionary(k => k.Value, k => k.Key);

    public CheckLine Orders()
    {
        var orders = new Comparison("Figures of orders");
        var (kept, workedOut) = (new SumsByCurrency(), new SumsByCurrency());
        foreach (var order in db.Orders.AsNoTracking())
        {
            var comes = anew.Figures[order.OrderId];
            kept.Add(order.Currency, order.House);
            workedOut.Add(comes.Currency, comes.House);
            foreach (var (what, of) in Columns) orders.Compare(CheckSubject.Order, order.OrderId, $"Order {order.OrderId}, {what}", of(order), of(comes));
        }
        return orders.Line($"house {kept}", $"house {workedOut}");
    }

    /// <summary>Every amount posted, by what it was posted for, and the days on which what is open clears.</summary>
    public IEnumerable<CheckLine> Entries()
    {
        var (amounts, days) = (new Comparison("Entries"), new Comparison("Days of clearing"));
        var (kept, workedOut) = (new SumsByCurrency(), new SumsByCurrency());
        var (open, right) = (0L, 0L);
        var expected = Expected();
        var heldBack = HeldLines.Of(db, [.. db.EntryHolds.Where(h => h.LetGoAt == null).Select(h => h.OrderId).Distinct()]);
        foreach (var order in ByOrder())
        {
            var due = expected.Remove(order.Key, out var entries) ? entries : [];
            foreach (var slot in order.GroupBy(PostedKey.Of))
            {
                var was = due.Remove(slot.Key, out var found) ? found : default;
                var sum = slot.Sum(e => e.Amount);
                kept.Add(slot.Key.Currency, sum);
                if (sum != was.Amount) amounts.Differ(CheckSubject.Order, _ids[order.Key], Describe(order.Key, slot.Key), Shown(sum, slot.Key.Currency), Shown(was.Amount, slot.Key.Currency));
                foreach (var entry in slot.Where(e => e.RunId is null && was.Amount != 0))
                {
                    var clears = heldBack.Contains((order.Key, entry.LineNumber, entry.Payee, entry.Agreement)) ? null : was.ClearsOn;
                    open++;
                    if (entry.ClearsOn == clears) right++;
                    else days.Differ(CheckSubject.Order, _ids[order.Key], $"Entry {entry.Id}, {Describe(order.Key, slot.Key)}", Comparison.Text(entry.ClearsOn ?? DateOnly.MaxValue), Comparison.Text(clears ?? DateOnly.MaxValue));
                }
            }
            Missing(order.Key, due);
        }
        foreach (var (order, due) in expected) Missing(order, due);
        foreach (var entry in anew.Result.Entries) workedOut.Add(entry.Amount.Currency.Code, entry.Amount.Minor);
        yield return amounts.Line(kept.ToString(), workedOut.ToString());
        yield return days.Line(MoneyWords.Count(open, "open entry", "open entries"), $"{MoneyWords.Count(right)} on their day");

        void Missing(long order, Dictionary<PostedKey, (long Amount, DateOnly? ClearsOn)> due)
        {
            foreach (var (slot, was) in due) amounts.Differ(CheckSubject.Order, _ids[order], Describe(order, slot), "nothing", Shown(was.Amount, slot.Currency));
        }
    }

    public CheckLine Exceptions()
    {
        var exceptions = new Comparison("Exceptions");
        var expected = anew.Result.Exceptions.Where(e => e.Order is not null).Select(e => (Order: e.Order!.Value.Value, e.Code, Line: e.Line?.Value ?? "", Payee: e.Payee?.Value ?? "", Finding: default(OffPlanFinding?)))
            .Concat(OffPlan()).Concat(CodesWithoutEffect()).ToHashSet();
        var kept = db.OrderExceptions.AsNoTracking().AsEnumerable()
            .Select(e => (Order: _ids[e.OrderId], e.Code, Line: e.LineId ?? "", Payee: e.Payee ?? "", Finding: e.Price is { } fault ? new OffPlanFinding(fault, e.Expected, e.Actual) : (OffPlanFinding?)null))
            .ToArray();
        foreach (var more in kept.Where(e => !expected.Contains(e))) exceptions.Differ(CheckSubject.Order, more.Order, $"{more.Code} {more.Line} {more.Payee} {more.Finding}".TrimEnd(), "raised", "not raised");
        foreach (var fewer in expected.Except(kept)) exceptions.Differ(CheckSubject.Order, fewer.Order, $"{fewer.Code} {fewer.Line} {fewer.Payee} {fewer.Finding}".TrimEnd(), "not raised", "raised");
        foreach (var twice in kept.GroupBy(e => e).Where(g => g.Count() > 1)) exceptions.Differ(CheckSubject.Order, twice.Key.Order, $"{twice.Key.Code} {twice.Key.Line}".TrimEnd(), $"raised {twice.Count()} times", "raised once");
        return exceptions.Line(MoneyWords.Count(kept.Length, "exception"), MoneyWords.Count(expected.Count, "exception"));
    }

    /// <summary>The count on each order, of exceptions that nobody has let stand.</summary>
    public CheckLine OpenExceptions()
    {
        var counts = new Comparison("Counts of exceptions");
        var open = db.OrderExceptions.AsNoTracking().AsEnumerable().GroupBy(e => e.OrderId).ToDictionary(g => g.Key, g => g.ToArray());
        var accepted = db.AcceptedExceptions.AsNoTracking().AsEnumerable().ToLookup(a => a.OrderId, a => (a.Code, a.LineId, a.Payee));
        long kept = 0, comes = 0;
        foreach (var order in db.Orders.AsNoTracking().Select(o => new { o.Id, o.OrderId, o.Exceptions, o.Period }))
        {
            var raised = open.GetValueOrDefault(order.Id) ?? [];
            var right = raised.Count(e => KeptExceptions.IsOpen(e, accepted[order.Id]));
            foreach (var e in raised) counts.Compare(CheckSubject.Order, order.OrderId, $"Order {order.OrderId}, {e.Code} {e.Subject}, its month and whether it is open", (e.Period, e.IsOpen), (order.Period, KeptExceptions.IsOpen(e, accepted[order.Id])));
            kept += order.Exceptions;
            comes += right;
            counts.Compare(CheckSubject.Order, order.OrderId, $"Order {order.OrderId}, open exceptions", order.Exceptions, right);
        }
        return counts.Line(MoneyWords.Count(kept, "open exception"), MoneyWords.Count(comes, "open exception"));
    }

    /// <summary>The sales of limited or stepping products, and how many units were sold on each day.</summary>
    public CheckLine CountedSales()
    {
        var sales = new Comparison("Counted sales");
        var expected = Counted();
        var kept = db.CountedSales.AsNoTracking().ToArray();
        foreach (var sale in kept)
        {
            var (order, line) = (_ids[sale.OrderId], $"{sale.Product}, line {sale.LineNumber + 1}");
            if (!expected.Remove((sale.Product, sale.OrderId, sale.LineNumber), out var right)) sales.Differ(CheckSubject.Order, order, line, "counted", "not a sale that counts");
            else sales.Compare(CheckSubject.Order, order, $"{line}, quantity and time", (sale.Quantity, sale.PlacedAt.UtcTicks), (right.Quantity, right.PlacedAt));
        }
        foreach (var (missing, right) in expected) sales.Differ(CheckSubject.Order, _ids[missing.Order], $"{missing.Product}, line {missing.Line + 1}", "not counted", $"{right.Before} sold before");
        var days = Counted().GroupBy(s => (s.Key.Product, On: CountedProduct.DayOf(new DateTimeOffset(s.Value.PlacedAt, TimeSpan.Zero)))).ToDictionary(g => g.Key, g => g.Sum(s => s.Value.Quantity));
        foreach (var day in db.CountedDays.AsNoTracking()) sales.Compare(CheckSubject.Nothing, "", $"{day.Product}, sold on {Comparison.Text(day.On)}", day.Quantity, days.Remove((day.Product, day.On), out var right) ? right : 0);
        foreach (var missing in days) sales.Differ(CheckSubject.Nothing, "", $"{missing.Key.Product}, sold on {Comparison.Text(missing.Key.On)}", "no sum", Comparison.Text(missing.Value));
        return sales.Line(MoneyWords.Count(kept.Length, "sale"), MoneyWords.Count(Counted().Count, "sale"));
    }

    private Dictionary<(string Product, long Order, int Line), (long Before, long Quantity, long PlacedAt)> Counted()
    {
        var counted = anew.Book.Plans.Where(p => p.Value.Pricing is { CountsSales: true }).Select(p => p.Key.Value).ToArray();
        var sold = new Dictionary<string, long>();
        var sales = new Dictionary<(string, long, int), (long, long, long)>();
        var lines = from line in db.OrderLines.AsNoTracking()
                    where counted.Contains(line.Product) && line.Position != null && (line.PaymentNumber ?? 1) == 1
                    join order in db.Orders on line.OrderId equals order.Id
                    where order.PaidAt != null && !order.IsTest
                    orderby order.PlacedAt, order.Id, line.Number
                    select new { line.Product, order.Id, line.Number, line.Quantity, order.PlacedAt };
        foreach (var line in lines)
        {
            var before = sold.GetValueOrDefault(line.Product);
            sales.Add((line.Product, line.Id, line.Number), (before, line.Quantity, line.PlacedAt.UtcTicks));
            sold[line.Product] = before + line.Quantity;
        }
        return sales;
    }

    private IEnumerable<(string Order, ExceptionCode Code, string Line, string Payee, OffPlanFinding? Finding)> CodesWithoutEffect() => anew.Facts.Orders.Where(o => !o.IsTest && o.PaidAt is not null)
        .SelectMany(order => Attributor.CodesWithoutEffect(anew.Book.Rules, order).Select(p => (order.Id.Value, ExceptionCode.CodeWithoutEffect, "", p.Value, default(OffPlanFinding?))));

    private IEnumerable<(string Order, ExceptionCode Code, string Line, string Payee, OffPlanFinding? Finding)> OffPlan()
    {
        if (anew.Book.Plans.Count == 0) return [];
        var counted = Counted();
        var numbers = db.OrderLines.AsNoTracking().Where(l => l.Position != null).Select(l => new { l.OrderId, l.LineId, l.Number }).ToDictionary(l => (l.OrderId, l.LineId), l => l.Number);
        return anew.Facts.Orders.Where(o => !o.IsTest && o.PaidAt is not null).SelectMany(order => order.Lines.SelectMany(line => anew.Book.Plans.TryGetValue(line.Product, out var plan)
            ? PriceAudit.Look(plan, order, line, () => Before(order, line)).Select(f => (order.Id.Value, ExceptionCode.PriceOffPlan, f.Line.Value, "", (OffPlanFinding?)new OffPlanFinding(f.Fault, f.Expected, f.Actual)))
            : []));

        long Before(Order order, OrderLine line)
        {
            var key = anew.Keys[order.Id.Value];
            return counted[(line.Product.Value, key, numbers[(key, line.Id.Value)])].Before;
        }
    }

    private Dictionary<long, Dictionary<PostedKey, (long Amount, DateOnly? ClearsOn)>> Expected()
    {
        var numbers = db.OrderLines.AsNoTracking().Where(l => l.Position != null).Select(l => new { l.OrderId, l.LineId, l.Number }).AsEnumerable().ToDictionary(l => (l.OrderId, l.LineId), l => l.Number);
        var refunds = db.Refunds.AsNoTracking().Select(r => new { r.Id, r.RefundId }).ToDictionary(r => r.RefundId, r => r.Id);
        var expected = new Dictionary<long, Dictionary<PostedKey, (long, DateOnly?)>>();
        foreach (var entry in anew.Result.Entries)
        {
            var order = anew.Keys[entry.Order.Value];
            if (!expected.TryGetValue(order, out var due)) expected[order] = due = [];
            due.Add(new PostedKey(
                numbers[(order, entry.Line.Value)], entry.Payee.Value, entry.Agreement.Value, entry.Part, entry.Refund is { } refund ? refunds[refund.Value] : null, entry.Amount.Currency.Code),
                (entry.Amount.Minor, entry.ClearsOn));
        }
        return expected;
    }

    private IEnumerable<IGrouping<long, EntryRecord>> ByOrder()
    {
        var order = new List<EntryRecord>();
        foreach (var entry in db.Entries.AsNoTracking().OrderBy(e => e.OrderId))
        {
            if (order.Count > 0 && order[0].OrderId != entry.OrderId)
            {
                yield return order.ToLookup(e => e.OrderId).Single();
                order = [];
            }
            order.Add(entry);
        }
        if (order.Count > 0) yield return order.ToLookup(e => e.OrderId).Single();
    }

    private string Describe(long order, PostedKey slot) =>
        $"Order {_ids[order]}, line {slot.LineNumber + 1}, {slot.Payee} under {slot.Agreement}, {slot.Part.ToString().ToLowerInvariant()}{(slot.Refund is null ? "" : ", of a refund")}";

    private static string Shown(long minor, string currency) => new Money(minor, Currency.Of(currency)).InWords();

    /// <summary>How a price was off its plan, in words where it differs.</summary>
    private readonly record struct OffPlanFinding(PriceFault Fault, long? Expected, long? Actual)
    {
        public override string ToString() => $"({Fault}, {Actual} for {Expected})";
    }
}
