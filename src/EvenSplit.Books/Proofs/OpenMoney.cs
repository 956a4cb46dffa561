using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Proofs;

/// <summary>Where money stands that has not come to its end.</summary>
public enum OpenMoneyKind { Owed, NotSettled, FromProcessors, ToPayees }

/// <summary>Such money with one party in one currency, by age.</summary>
/// <param name="Of">The processor, or the way of payment; empty where they are taken together.</param>
/// <param name="Ages">Up to 30, 60 and 90 days, and older; minor units.</param>
/// <param name="Oldest">The day since when the oldest of it stands; null where it is not kept by day.</param>
public sealed record OpenMoneyRow(OpenMoneyKind Kind, string Of, Currency Currency, IReadOnlyList<long> Ages, DateOnly? Oldest)
{
    public long Sum => Ages.Sum();
}

/// <summary>
/// The ageing of what payees are owed (since it cleared), of what processors have not settled (since it was sold or taken back), of settlements that no statement of a
/// bank shows (since the settlement), and of payments that are on their way (since they were issued). As it stands today, in the book's zone.
/// </summary>
public sealed class OpenMoney(BookDbContext db, BookCache cache, BookClock clock, OwedBalances owed) : IUseCase
{
    public IReadOnlyList<OpenMoneyRow> Find() => [.. Owed(), .. NotSettled(), .. FromProcessors(), .. ToPayees()];

    private IEnumerable<OpenMoneyRow> Owed() => owed.Find().GroupBy(r => r.Currency)
        .Select(g => new OpenMoneyRow(OpenMoneyKind.Owed, "", g.Key, [.. Enumerable.Range(0, Ageing.Bounds.Count + 1).Select(i => g.Sum(r => r.Ages[i]))], null));

    private IEnumerable<OpenMoneyRow> NotSettled() => Rows(OpenMoneyKind.NotSettled, db.NotSettledDays.AsNoTracking().AsEnumerable().Select(d => (d.Processor, d.Currency, d.On, d.Amount)));

    private IEnumerable<OpenMoneyRow> FromProcessors() => Rows(OpenMoneyKind.FromProcessors, db.Awaited.AsNoTracking().Where(a => a.Bench == Bench.Bank && a.Kind == MovementKind.Payout)
        .AsEnumerable().Select(a => ("", a.Currency, a.On, a.Gross)));

    private IEnumerable<OpenMoneyRow> ToPayees()
    {
        var time = cache.Get(db).Time;
        var sent = db.Remittances.AsNoTracking().Where(r => r.State == RemittanceState.Sent && r.Paid > 0).Join(db.PayRuns, r => r.RunId, r => r.Id, (r, run) => new { r.Method, r.Currency, r.ExecuteOn, run.IssuedAt, run.AsOf, r.Paid }).AsEnumerable();
        return Rows(OpenMoneyKind.ToPayees, sent.Select(r => (r.Method.ToString(), r.Currency, r.ExecuteOn ?? (r.IssuedAt is { } at ? time.DateOf(at) : r.AsOf), r.Paid)));
    }

    private IEnumerable<OpenMoneyRow> Rows(OpenMoneyKind kind, IEnumerable<(string Of, string Currency, DateOnly Since, long Amount)> open)
    {
        var today = clock.Today;
        return open.GroupBy(o => (o.Of, o.Currency)).OrderBy(g => g.Key.Of, StringComparer.Ordinal).ThenBy(g => g.Key.Currency, StringComparer.Ordinal).Select(g =>
        {
            var ages = new long[Ageing.Bounds.Count + 1];
            foreach (var (_, _, since, amount) in g) ages[Ageing.Of(since, today)] += amount;
            return new OpenMoneyRow(kind, g.Key.Of, Currency.Of(g.Key.Currency), ages, g.Min(o => o.Since));
        });
    }
}
