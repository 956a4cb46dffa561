using EvenSplit.Books.Balances;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Books.Scenarios;

/// <summary>Takes a whole scenario into an empty book, through the same doors as everything else: rules, then sales, then adjustments and runs.</summary>
public sealed class LoadScenario(
    BookDbContext db, BookCache cache, OpenBook open, RateDesk rates, ProductDesk products, PayeeDesk payees, AgreementDesk agreements,
    Adjustments adjustments, PayRunSteps runs, RulesChange rulesChange) : IUseCase
{
    /// <summary>The book's clock stands at the latest date the scenario speaks of, so that its runs can be made.</summary>
    /// <exception cref="RefusedException">The book has been opened already.</exception>
    public void Load(Facts facts, string name, string by)
    {
        var policy = facts.Rules.Policy;
        open.Open(name, policy.Currency.Code, policy.Time.Zone.Id, by, LatestDate(facts), policy.ClickModel, policy.AllowSelfReferral);
        // All of it is new: nothing that is tracked changes after it is added.
        db.ChangeTracker.AutoDetectChangesEnabled = false;
        using (var change = rulesChange.Begin())
        {
            Rules(facts.Rules, by);
            change.Commit();
        }
        db.ChangeTracker.Clear();
        db.ChangeTracker.AutoDetectChangesEnabled = true;
        Sales(facts.Orders, facts.Refunds);
        foreach (var adjustment in facts.Adjustments)
        {
            adjustments.Add(adjustment.Id, adjustment.Payee.Value, adjustment.On, adjustment.Amount, AdjustmentKind.Correction, adjustment.Note, by);
        }
        foreach (var run in facts.Runs.OrderBy(r => r.AsOf).ThenBy(r => r.Id))
        {
            var id = runs.Gather(run.AsOf, run.Payees?.Select(p => p.Value).ToArray(), run.Id.Value, by);
            runs.Lock(id, by);
        }
    }

    /// <summary>Takes all sales into a book that has its rules and no sales yet.</summary>
    /// <exception cref="InvalidOperationException">The book has orders already.</exception>
    public void Sales(IReadOnlyList<Order> orders, IReadOnlyList<Refund> refunds)
    {
        new SalesAtOnce(db, cache.Get(db)).Post(orders, refunds);
        db.RefreshStatistics();
        db.ChangeTracker.Clear();
    }

    private void Rules(Rulebook rules, string by)
    {
        rates.Add(rules.Rates.All, by);
        foreach (var processor in rules.Processors) rates.Save(processor, by);
        foreach (var channel in rules.Channels) rates.Save(channel, channel.Id.Value, by);
        foreach (var product in rules.Products) products.Enter(product, product.Id.Value, new SellingPlan(new Money(0, rules.Policy.Currency), null, null), by);
        foreach (var agreement in rules.Agreements)
        {
            foreach (var version in agreement.Versions) agreements.Enter(agreement, version, by);
        }
        foreach (var payee in rules.Payees) payees.Enter(payee, payee.Id.Value, by);
        db.SaveChanges();
    }

    private static DateOnly LatestDate(Facts facts)
    {
        var time = facts.Rules.Policy.Time;
        return facts.Orders.Select(o => time.DateOf(o.PaidAt ?? o.PlacedAt))
            .Concat(facts.Refunds.Select(r => time.DateOf(r.At)))
            .Concat(facts.Adjustments.Select(a => a.On))
            .Concat(facts.Runs.Select(r => r.AsOf))
            .DefaultIfEmpty(time.DateOf(DateTimeOffset.UtcNow)).Max();
    }
}
