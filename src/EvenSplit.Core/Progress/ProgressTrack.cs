namespace EvenSplit.Core;

/// <summary>Whose progress is counted. Under referral all agreements of a payee share their figures, so the agreement is null.</summary>
public readonly record struct TrackKey(PayeeId Payee, AgreementId? Agreement)
{
    public static TrackKey Of(PayeeId payee, Agreement agreement) => new(payee, agreement.Basis == Basis.Referral ? null : agreement.Id);
}

/// <summary>Somebody's progress in the currency of an agreement that asks for it.</summary>
public sealed class ProgressTrack
{
    internal ProgressTrack(TrackKey key, Currency currency, int number) => (Key, Currency, Number) = (key, currency, number);

    public TrackKey Key { get; }
    public Currency Currency { get; }
    /// <summary>Position among the tracks of its rulebook, from 0.</summary>
    internal int Number { get; }
    internal HashSet<CaseConditions> Conditions { get; } = [];

    /// <summary>Whether an order on a date finds two states the same in everything that conditions ask of them, and so do all after it.</summary>
    public bool FindsTheSame(in ProgressState one, in ProgressState other, DateOnly on)
    {
        foreach (var when in Conditions)
        {
            if (!Same(one.Begun(when.Window, on), other.Begun(when.Window, on), when)) return false;
        }
        return true;
    }

    private static bool Same(in WindowState one, in WindowState other, CaseConditions when) =>
        (when.SalesAtLeast is null || (one.Running.Sales == other.Running.Sales && one.Highest.Sales == other.Highest.Sales))
        && (when.OrdersAtLeast is null || (one.Running.Orders == other.Running.Orders && one.Highest.Orders == other.Highest.Orders))
        && (when.EarnedAtLeast is null || (one.Running.Earned == other.Running.Earned && one.Highest.Earned == other.Highest.Earned));

    /// <summary>Whether some condition that asks holds in one state and not in the other, for an order paid on a date.</summary>
    public bool Differ(in ProgressState one, in ProgressState other, DateOnly paidOn)
    {
        foreach (var when in Conditions)
        {
            if (when.HoldFor(one.Highest(when.Window, paidOn)) != when.HoldFor(other.Highest(when.Window, paidOn))) return true;
        }
        return false;
    }
}
