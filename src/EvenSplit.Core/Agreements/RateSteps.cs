namespace EvenSplit.Core;

/// <summary>What a rate can step up by: the value of the order, or what the payee has reached.</summary>
public enum StepAxis { OrderValue, Sales, Orders, Earned }

/// <summary>From one threshold up to the next, the case that gives the rate; null where no case holds and nothing is earned.</summary>
/// <param name="From">Minor units of the agreement's currency; a plain number along <see cref="StepAxis.Orders"/>.</param>
public sealed record RateStep(long From, TermCase? Case);

/// <summary>How a term's rate steps along one axis, for one kind of customer and payment. Along other axes nothing is reached.</summary>
/// <param name="For">What it is drawn for, in words; empty where the term does not tell customers or payments apart.</param>
public sealed record RateSteps(StepAxis Axis, string For, IReadOnlyList<RateStep> Steps)
{
    /// <summary>Every line there is to draw of a term; none where nothing in it steps.</summary>
    public static IReadOnlyList<RateSteps> Of(Term term)
    {
        var lines = new List<RateSteps>();
        foreach (var axis in Enum.GetValues<StepAxis>())
        {
            if (!term.Cases.Any(c => ThresholdOf(c.When, axis) is not null)) continue;
            foreach (var (customer, payment, words) in Kinds(term)) lines.Add(new RateSteps(axis, words, Along(term, axis, customer, payment)));
        }
        return lines;
    }

    public static long? ThresholdOf(CaseConditions when, StepAxis axis) => axis switch
    {
        StepAxis.OrderValue => when.OrderValueAtLeast,
        StepAxis.Sales => when.SalesAtLeast,
        StepAxis.Orders => when.OrdersAtLeast,
        _ => when.EarnedAtLeast,
    };

    private static List<RateStep> Along(Term term, StepAxis axis, CustomerKind customer, int payment)
    {
        var steps = new List<RateStep>();
        foreach (var from in term.Cases.Select(c => ThresholdOf(c.When, axis) ?? 0).Append(0).Distinct().Order())
        {
            var holds = term.Cases.FirstOrDefault(c => HoldsAt(c.When, axis, from, customer, payment));
            if (steps.Count == 0 || steps[^1].Case != holds) steps.Add(new RateStep(from, holds));
        }
        return steps;
    }

    private static bool HoldsAt(CaseConditions when, StepAxis axis, long at, CustomerKind customer, int payment)
    {
        foreach (var other in Enum.GetValues<StepAxis>())
        {
            if (ThresholdOf(when, other) > (other == axis ? at : 0)) return false;
        }
        return !(when.PaymentFrom > payment) && !(when.PaymentTo < payment) && (when.Customer ?? customer) == customer;
    }

    private static IEnumerable<(CustomerKind Customer, int Payment, string Words)> Kinds(Term term)
    {
        var customers = term.Cases.Any(c => c.When.Customer is not null);
        var payments = term.Cases.Any(c => c.When.PaymentFrom is not null || c.When.PaymentTo is not null);
        foreach (var customer in customers ? new[] { CustomerKind.New, CustomerKind.Returning } : [CustomerKind.New])
        {
            foreach (var payment in payments ? new[] { 1, 2 } : [1])
            {
                string[] words =
                [
                    .. customers ? [customer == CustomerKind.New ? "new customers" : "returning customers"] : Array.Empty<string>(),
                    .. payments ? [payment == 1 ? "first payment" : "second payment"] : Array.Empty<string>(),
                ];
                yield return (customer, payment, string.Join(", ", words));
            }
        }
    }
}
