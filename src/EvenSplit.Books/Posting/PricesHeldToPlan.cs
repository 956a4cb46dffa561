using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>Holds the lines of paid orders against the plans of their products.</summary>
internal sealed class PricesHeldToPlan(BookDbContext db, OpenedBook book)
{
    /// <summary>Notes on each outcome what is off plan.</summary>
    /// <returns>Other orders that are to be looked at again, since sales have come before them or gone.</returns>
    public IReadOnlyCollection<long> Look(IEnumerable<WorkedOut> workedOut)
    {
        if (book.Plans.Count == 0) return [];
        var outcomes = workedOut.ToArray();
        var counted = new CountedSales(db, book);
        var shifted = counted.Replace(outcomes);
        var before = counted.SoldBefore();
        foreach (var (held, outcome) in outcomes.Where(o => o.Outcome.Ledger is not null))
        {
            var numbers = held.Record.LineNumbers();
            outcome.OffPlan = [.. held.Order.Lines.SelectMany(line => book.Plans.TryGetValue(line.Product, out var plan)
                ? PriceAudit.Look(plan, held.Order, line, () => before[(held.Record.Id, numbers[line.Id.Value])])
                : [])];
        }
        return shifted;
    }
}
