namespace EvenSplit.Core;

/// <summary>Nobody has reached anything: for made-up orders, on the first step of every ladder.</summary>
public sealed class NothingSoFar : IProgressBefore
{
    public ProgressFigures Of(PayeeId payee, Agreement agreement, ProgressWindow window, DateOnly paidOn) => default;
}
