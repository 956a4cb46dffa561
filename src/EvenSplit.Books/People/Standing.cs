using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.People;

/// <summary>Where a payee stands on a ladder.</summary>
/// <param name="Reached">What counts so far, in words.</param>
/// <param name="Now">What a next order would give them, as far as it goes by progress.</param>
/// <param name="Next">The step above and what is missing to it; null on the highest.</param>
/// <param name="Brings">What that step would have brought more on what they earned under the agreement in the last 30 days; null where that cannot be told.</param>
public sealed record LadderStanding(string AgreementId, string Agreement, string Scope, string Reached, string Now, string? Next, Money? Brings);

/// <summary>Tells how far payees have come on the ladders of their agreements.</summary>
public sealed class Standing(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    private const int Days = 30;

    public IReadOnlyList<LadderStanding> Of(string payeeId)
    {
        var book = cache.Get(db);
        var payee = book.Rules.Payee(new PayeeId(payeeId));
        var today = clock.Today;
        var standings = new List<LadderStanding>();
        foreach (var agreement in payee.Memberships.Where(m => m.InForceOn(today)).Select(m => book.Rules.Agreement(m.Agreement)))
        {
            var own = agreement.VersionOn(today)?.Terms ?? [];
            var personal = payee.PersonalTerms.Where(t => t.Agreement == agreement.Id && t.InForceOn(today)).Select(t => t.Term);
            foreach (var term in personal.Concat(own).Where(t => t.Cases.Any(c => c.When.AskProgress)))
            {
                standings.Add(On(term, agreement, db.StateAtEndOf(TrackKey.Of(payee.Id, agreement), agreement.Currency, DateOnly.MaxValue), book, today, EarnedLately(payeeId, agreement, today)));
            }
        }
        return standings;
    }

    private static LadderStanding On(Term term, Agreement agreement, ProgressState state, OpenedBook book, DateOnly today, Money earned)
    {
        var steps = term.Cases.TakeWhile(c => c.When.AskProgress).ToArray();
        var at = Array.FindIndex(steps, c => c.When.HoldFor(state.Highest(c.When.Window, today)));
        var now = at >= 0 ? steps[at] : term.Cases.FirstOrDefault(c => !c.When.AskProgress);
        // Steps stand with the highest first: the one above is the last of those not reached.
        var next = at == 0 || steps.Length == 0 ? null : steps[(at < 0 ? steps.Length : at) - 1];
        var window = (next ?? steps[0]).When.Window;
        var reached = state.Highest(window, today);
        return new LadderStanding(
            agreement.Id.Value, book.AgreementName(agreement.Id.Value), TermWords.Scope(term.Scope, book.Naming()),
            $"{MoneyWords.Count(reached.Orders, "order")}, sales of {new Money(reached.Sales, agreement.Currency).InWords()}, earnings of {new Money(reached.Earned, agreement.Currency).InWords()} {TermWords.Window(window)}",
            now is null ? "nothing" : TermWords.Rate(now.Rate, agreement.Currency),
            next is null ? null : $"{TermWords.Rate(next.Rate, agreement.Currency)}, {TermWords.Conditions(next.When, agreement.Currency)}: {Missing(next.When, reached, agreement.Currency)} to go",
            next is null || now is null ? null : More(now.Rate, next.Rate, earned));
    }

    private Money EarnedLately(string payee, Agreement agreement, DateOnly today)
    {
        var (id, currency, from) = (agreement.Id.Value, agreement.Currency.Code, today.AddDays(-Days));
        return new Money(db.Entries.Where(e => e.Payee == payee && e.PostedOn > from && e.Agreement == id && e.Currency == currency).Sum(e => e.Amount), agreement.Currency);
    }

    /// <summary>Two percentages of the same give amounts in the same relation; of other rates nothing is said.</summary>
    private static Money? More(ShareRate now, ShareRate next, Money earned)
    {
        if (earned.Minor <= 0 || now is not { Percent: { Millionths: > 0 } was, HasFlatAmount: false, Of: RateOf.Payee } || next is not { Percent: { } then, HasFlatAmount: false, Of: RateOf.Payee } || then.Millionths <= was.Millionths) return null;
        var more = new Fraction(then.Millionths - was.Millionths, was.Millionths) * earned.Minor;
        return more.Round() is > 0 and var minor ? new Money(minor, earned.Currency) : null;
    }

    private static string Missing(CaseConditions when, ProgressFigures reached, Currency currency)
    {
        var missing = new List<string>();
        if (when.SalesAtLeast - reached.Sales is > 0 and { } sales) missing.Add(new Money(sales, currency).InWords());
        if (when.OrdersAtLeast - reached.Orders is > 0 and { } orders) missing.Add(MoneyWords.Count(orders, "order"));
        if (when.EarnedAtLeast - reached.Earned is > 0 and { } earned) missing.Add($"{new Money(earned, currency).InWords()} of earnings");
        return missing.Count == 0 ? "nothing" : string.Join(" and ", missing);
    }
}
