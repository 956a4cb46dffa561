namespace EvenSplit.Core;

/// <summary>What governs one line for one payee: settled at the sale and kept through every refund (contract, section 7).</summary>
public sealed class PinnedLine
{
    public required int LineIndex { get; init; }
    public required ChosenTerm Term { get; init; }
    /// <summary>Null where no case held: nothing is earned, though the line still counts as progress.</summary>
    public TermCase? Case { get; init; }
    /// <summary>True where no case could be told for want of an exchange rate.</summary>
    public bool Waits { get; init; }
    /// <summary>Counts from 1 in the term's list; 0 where none held.</summary>
    public int CaseNumber { get; init; }
    /// <summary>Cases before it that did not hold; recorded only where the order is worked out with traces.</summary>
    public IReadOnlyList<PassedOverCase> PassedOver { get; init; } = [];
    /// <summary>The line's part of the rate's flat amount per order, in the agreement's currency.</summary>
    public long PerOrderPart { get; internal set; }
    /// <summary>The same, converted as a whole and then allocated, in the order's currency.</summary>
    public long PerOrderPartConverted { get; internal set; }

    /// <summary>The rate, where there is one that gives something.</summary>
    public ShareRate? Rate => Case is { Rate.IsEmpty: false } ? Case.Rate : null;
}

/// <summary>One payee under one agreement on one order.</summary>
public sealed class PinnedShare
{
    public required Payee Payee { get; init; }
    public required Agreement Agreement { get; init; }
    public required AgreementVersion Version { get; init; }
    /// <summary>Who earns for having recruited the payee, where the version says so and they are active.</summary>
    public Payee? Recruiter { get; init; }
    /// <summary>The lines a term governs, in the order's order.</summary>
    public required PinnedLine[] Lines { get; init; }
    /// <summary>True where an exchange rate is missing: nothing is posted under the agreement on this order until there is one.</summary>
    public required bool Waits { get; init; }
}
