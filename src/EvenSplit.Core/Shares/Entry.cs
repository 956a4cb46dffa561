namespace EvenSplit.Core;

/// <summary>The parts an earning can have. In the order of their names, which is how entries of one line are listed.</summary>
public enum EntryPart { Fixed, Passed, Percent, Recruiter }

/// <summary>What an amount is owed for: one line, one payee, one agreement, one part.</summary>
/// <param name="LineIndex">Position of the line in its order, from 0.</param>
public readonly record struct ShareKey(int LineIndex, PayeeId Payee, AgreementId Agreement, EntryPart Part);

/// <summary>One posted amount owed (an earning) or taken back (a reversal, negative); never edited, only followed by another.</summary>
/// <param name="Refund">The refund that caused it; null for the sale's own.</param>
/// <param name="PostedOn">Date in the book's zone: of paidAt, or of the refund.</param>
/// <param name="ClearsOn">Date in the book's zone; null while a sign-off is awaited.</param>
public sealed record Entry(
    OrderId Order,
    LineId Line,
    PayeeId Payee,
    AgreementId Agreement,
    EntryPart Part,
    RefundId? Refund,
    Money Amount,
    DateOnly PostedOn,
    DateOnly? ClearsOn);
