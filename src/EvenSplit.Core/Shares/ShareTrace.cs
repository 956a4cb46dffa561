namespace EvenSplit.Core;

/// <summary>How parts of one line and rank were rounded together.</summary>
/// <param name="Exact">This share before rounding, minor units of the order's currency.</param>
/// <param name="Rounded">This share after.</param>
/// <param name="Others">How many other shares were rounded with it.</param>
/// <param name="ExactSum">The exact sum of all of them.</param>
/// <param name="OddUnitsTo">Who of them got an odd unit.</param>
public sealed record RoundingTrace(Fraction Exact, long Rounded, int Others, Fraction ExactSum, IReadOnlyList<PayeeId> OddUnitsTo)
{
    public bool WasWhole => Exact.CompareTo(Rounded) == 0;
    public bool GotOddUnit => Exact.Floor() < Rounded;
}

/// <summary>What made one amount, recorded by the code that computed it.</summary>
public sealed record ShareTrace
{
    public IReadOnlyList<BaseStep> BaseSteps { get; init; } = [];
    public Fraction Base { get; init; }
    public RoundingTrace? Rounding { get; init; }
    /// <summary>Units still held, for a flat amount per unit.</summary>
    public long Quantity { get; init; }
}

public enum PassedKind { Tax, ShippingTax, Shipping, Rebate }

public readonly record struct PassedOn(PassedKind Kind, long Amount, long Whole, int Among);

/// <summary>One amount worked out, not yet compared with what is posted.</summary>
public sealed record ShareAmount(ShareKey Key, Money Amount, PinnedShare Share, PinnedLine Line, ShareTrace? Trace)
{
    /// <summary>For a passed part: what was handed over whole, and among how many payees each kind was divided.</summary>
    public IReadOnlyList<PassedOn> PassedOn { get; init; } = [];

    internal bool Passes(PassedKind kind) => PassedOn.Any(p => p.Kind == kind);

    internal long ShippingPassed => PassedOn.Where(p => p.Kind == PassedKind.Shipping).Sum(p => p.Amount);
}
