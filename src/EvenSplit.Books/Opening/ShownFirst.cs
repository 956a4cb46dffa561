using EvenSplit.Core;

namespace EvenSplit.Books;

/// <summary>What somebody's earnings or the house's part would change by.</summary>
/// <param name="Payee">Null for the house.</param>
/// <param name="Entries">How many entries would be posted; none for the house.</param>
public sealed record ChangedSum(string? Payee, Money Amount, int Entries);

/// <summary>What of a difference falls on orders paid in one month.</summary>
/// <param name="Amounts">For payees, by currency.</param>
public sealed record ChangedMonth(Period Month, int Orders, IReadOnlyList<Money> Amounts);

/// <summary>What a change of rules would post for sales that are in the book already.</summary>
/// <param name="Orders">How many orders it reaches.</param>
/// <param name="Sums">Empty where the orders are too many to work out beforehand.</param>
/// <param name="Fingerprint">Says which difference was seen.</param>
public sealed record PostedDifference(long Orders, IReadOnlyList<ChangedSum> Sums, bool AreTooMany, string Fingerprint)
{
    /// <summary>What is said otherwise of the one thing that is changed, field by field; empty where that is plain from the form.</summary>
    public IReadOnlyList<string> Changes { get; init; } = [];

    /// <summary>The same difference by the month in which its orders were paid; the earliest first.</summary>
    public IReadOnlyList<ChangedMonth> Months { get; init; } = [];

    /// <summary>Whether it was worked out by the side: nobody waits for it, and it is posted in the background. Neither entries nor orders are counted then.</summary>
    public bool IsLarge { get; init; }

    /// <summary>Of one worked out by the side, how the book stood then; what comes in later is worked out anew with it, and is not among its sums.</summary>
    public DateTimeOffset? AsOf { get; init; }

    /// <summary>The days as of which runs were made that took earlier entries of these orders: they stand as they were paid.</summary>
    public IReadOnlyList<DateOnly> RunsThatStand { get; init; } = [];
}

/// <summary>A change of rules would post something that nobody has seen yet. Nothing was changed.</summary>
public sealed class NotSeenException(PostedDifference difference) : Exception("The difference was not seen yet.")
{
    public PostedDifference Difference { get; } = difference;

    /// <summary>The rules as they would be, where the difference has to be worked out by the side; else null.</summary>
    public OpenedBook? After { get; init; }

    /// <summary>What the change makes of the facts of the book; null where it changes rules alone.</summary>
    public Func<Facts, Facts>? Change { get; init; }
}

/// <summary>Whether a change of rules is to be shown before it is posted, and which difference was seen. Commands of the machine and tests post at once.</summary>
public sealed class ShownFirst : IUseCase
{
    public bool Asks { get; set; }

    /// <summary>More orders than these are not worked out while somebody waits, and others wait to write.</summary>
    public int MostAtOnce { get; set; } = 3000;

    /// <summary>What this very change comes to, where that was worked out by the side; else null.</summary>
    public PostedDifference? WorkedOut { get; set; }

    /// <summary>The fingerprint that was agreed to.</summary>
    public string Seen { get; set; } = "";
}
