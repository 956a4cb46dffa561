using System.Text.RegularExpressions;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>In random books: for every entry the shown steps add up to the shown base, and no amount that is hidden stands among what is shown.</summary>
public sealed partial class NothingHiddenIsToldTests
{
    [Theory]
    [InlineData(501, false)]
    [InlineData(502, true)]
    [InlineData(503, true)]
    public void No_entry_tells_fees_costs_or_what_others_earn(int seed, bool steps)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 40));
        if (steps) book.Do<ShownToPayees>(s => book.Get<BookDbContext, string[]>(db => [.. db.Agreements.Select(a => a.Id)]).ToList().ForEach(a => s.Save(new AgreementViewRecord { AgreementId = a, Steps = ShownSteps.All }, "Lena")));
        var entries = book.Get<BookDbContext, (long Id, string Payee, string Order)[]>(db => [.. db.Entries.AsNoTracking().Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { e.Id, e.Payee, o.OrderId }).AsEnumerable().Select(e => (e.Id, e.Payee, e.OrderId))]);
        var orders = entries.Select(e => e.Order).Distinct().ToDictionary(o => o, o => book.Get<OpenOrder, OrderView>(s => s.Find(o)!));
        var looked = 0;
        foreach (var (id, payee, order) in entries)
        {
            if (book.Get<OwnTraces, OwnEntry?>(t => t.Find(payee, id)) is not { Trace: { } trace } own) continue;
            if (trace.Base is { } whole) Assert.Equal(whole, trace.Steps.Aggregate(Fraction.Zero, (sum, step) => sum + step.Amount));
            var told = trace.After.Append(trace.Why).SelectMany(s => Number().Matches(s).Select(m => m.Value)).Concat(trace.Steps.Select(s => s.Amount.ToDecimalText(own.Currency.Exponent))).ToHashSet();
            var open = Open(trace, own, orders[order], id);
            looked++;
            Assert.All(Hidden(orders[order], payee).Except(open), hidden => Assert.False(told.Contains(hidden), $"{own.Order}, entry {id}: {hidden} is told in: {trace.Why} {string.Join(" ", trace.Steps)} {string.Join(" ", trace.After)}"));
        }
        Assert.True(looked > 20, $"only {looked} entries were looked at");
    }

    /// <summary>Fees and costs of the order and its lines, and what others earn on it.</summary>
    private static HashSet<string> Hidden(OrderView order, string payee) =>
    [
        .. order.Lines.SelectMany(l => new[] { l.Figures.ProcessingFee, l.Figures.ChannelFee, l.Figures.Cost }).Append(order.Figures!.ProcessingFee).Append(order.Figures.ChannelFee).Where(a => a != 0).Select(a => Text(a, order.Currency)),
        .. order.Entries.Where(e => e.PayeeId != payee).Select(e => Text(e.Amount.Minor, e.Amount.Currency)),
    ];

    /// <summary>What is theirs to see, and may by chance be the same: their own amounts on the order, and what these are taken of.</summary>
    private static HashSet<string> Open(PayeeTrace trace, OwnEntry own, OrderView order, long id)
    {
        var theirs = order.Entries.Where(e => e.PayeeId == order.Entries.Single(x => x.Id == id).PayeeId).ToArray();
        return
        [
            .. theirs.GroupBy(e => (e.LineId, e.AgreementId, e.Part)).SelectMany(g => WithWhatIsLeft(g.Select(e => e.Amount.Minor)).Select(a => Text(a, g.First().Amount.Currency))),
            .. trace.Steps.Select(s => s.Amount.ToDecimalText(own.Currency.Exponent)),
            .. Number().Matches(trace.After.FirstOrDefault() ?? "").Select(m => m.Value),
        ];
    }

    private static IEnumerable<long> WithWhatIsLeft(IEnumerable<long> amounts)
    {
        var left = 0L;
        foreach (var amount in amounts)
        {
            yield return amount;
            yield return left += amount;
        }
    }

    private static string Text(long minor, Currency currency) => MoneyWords.Figure(Math.Abs(minor), currency);

    /// <summary>An amount in a sentence.</summary>
    [GeneratedRegex(@"\d[\d,]*\.\d+")]
    private static partial Regex Number();
}
