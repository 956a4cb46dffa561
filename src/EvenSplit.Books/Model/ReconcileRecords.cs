using EvenSplit.Core;

namespace EvenSplit.Books.Model;

public enum Bench { Processors, Bank, Partners }

/// <remarks>Open: something does not agree and nobody has settled it.</remarks>
public enum MatchState { Matched, Open, Settled }

/// <summary>A line that somebody outside wrote, and what it is held against. Minor units of <see cref="Currency"/>; what it says never changes.</summary>
public sealed class OutsideLineRecord
{
    /// <summary>Rises in the order in which lines came.</summary>
    public long Id { get; set; }
    public Bench Bench { get; set; }
    /// <summary>The settlement's id, the account's number, or the report's name.</summary>
    public required string Source { get; set; }
    /// <summary>Unique within the source.</summary>
    public required string LineId { get; set; }
    /// <summary>As <see cref="MovementKind"/> for processors; of the bank and partners 0.</summary>
    public MovementKind Kind { get; set; }
    /// <summary>Settled, booked, or the last day it is about.</summary>
    public DateOnly On { get; set; }
    /// <summary>Its day in the journal of the book where that is another than <see cref="On"/>: it came after its month was closed.</summary>
    public DateOnly? JournalOn { get; set; }
    /// <summary>As it names it; null where it names none.</summary>
    public string? Order { get; set; }
    /// <summary>Of a partner's line that is of a span of days: its first.</summary>
    public DateOnly? From { get; set; }
    /// <summary>The refund's id, the reference of a payment, or the number of an invoice; empty where there is none.</summary>
    public string Reference { get; set; } = "";
    /// <summary>Whom the bank names, or the payee of a partner's line.</summary>
    public string Name { get; set; } = "";
    public string Note { get; set; } = "";
    public required string Currency { get; set; }
    /// <summary>The amount, where the line has no fee.</summary>
    public long Gross { get; set; }
    public long Fee { get; set; }
    public DateOnly? DueOn { get; set; }
    public int ImportId { get; set; }

    /// <summary>What of ours it is held against, several with + between; null where the book has nothing of it.</summary>
    public string? Ours { get; set; }
    /// <summary>What does not agree of the settlement or statement as a whole, told at one of its lines.</summary>
    public Finding PartFindings { get; set; }
    public long? GrossOurs { get; set; }
    public long? FeeOurs { get; set; }
    public Finding Findings { get; set; }
    public MatchState State { get; set; }

    /// <summary>Theirs less ours, net of fees; null where the two have no currency in common.</summary>
    public long? Difference => Findings.HasFlag(Finding.CurrencyDiffers) ? null : Gross - Fee - ((GrossOurs ?? 0) - (FeeOurs ?? 0));
}

/// <summary>A file of a processor, bank or partner that is kept as it came.</summary>
public sealed class OutsideFileRecord
{
    /// <summary>The import it came in with; each has one file.</summary>
    public int ImportId { get; set; }
    /// <summary>SHA-256 over its bytes, hexadecimal; the kept file has its name of it.</summary>
    public required string Hash { get; set; }
    public long Bytes { get; set; }
}

/// <summary>What the book expects to see outside and no line has shown yet. Follows from orders, refunds, remittances, settlements and lines.</summary>
public sealed class AwaitedRecord
{
    public Bench Bench { get; set; }
    /// <summary>As <see cref="Movement.Ours"/>; <c>remittance:REFERENCE</c>, <c>payout:SETTLEMENT</c>.</summary>
    public required string Ours { get; set; }
    public MovementKind Kind { get; set; }
    public DateOnly On { get; set; }
    /// <summary>The order as the shop calls it; empty where it is of none.</summary>
    public string Order { get; set; } = "";
    /// <summary>The processor, the account, or the report.</summary>
    public string Source { get; set; } = "";
    public required string Currency { get; set; }
    public long Gross { get; set; }
    public long Fee { get; set; }
    /// <summary>Whom it is to; empty where it is of an order.</summary>
    public string Name { get; set; } = "";
}

/// <remarks>
/// Sold: what sales put into the account of a processor. TakenOut: what a settlement paid out and kept as its own fees. Settled: what its lines of sales come to.
/// </remarks>
public enum ProcessorSumKind { Sold, TakenOut, Settled }

/// <summary>Kept sum of bookings or of lines, by processor or settlement, so that no proof reads them all. Minor units. The database keeps it.</summary>
public sealed class ProcessorSumRecord
{
    public ProcessorSumKind Kind { get; set; }
    /// <summary>The processor; of a settlement its id.</summary>
    public required string Of { get; set; }
    public required string Currency { get; set; }
    public long Amount { get; set; }
}

/// <summary>Kept sum of what of a day a processor should have settled and no line has shown yet. Minor units, less fees. The database keeps it.</summary>
public sealed class NotSettledDayRecord
{
    public required string Processor { get; set; }
    /// <summary>As <see cref="AwaitedRecord.On"/>.</summary>
    public DateOnly On { get; set; }
    public required string Currency { get; set; }
    public long Rows { get; set; }
    public long Amount { get; set; }
}

/// <summary>An order whose matches have to be found again: something of it or a line that names it has changed. The database notes it.</summary>
public sealed class OrderToMatchRecord
{
    public required string Order { get; set; }
}

/// <summary>A statement of an account as a whole: where it begins and ends, in days and balances.</summary>
public sealed class StatementRecord
{
    public int Id { get; set; }
    /// <summary>The account's number, as <see cref="OutsideLineRecord.Source"/>.</summary>
    public required string Account { get; set; }
    /// <summary>What the bank calls the statement.</summary>
    public required string Name { get; set; }
    public required string Currency { get; set; }
    public DateOnly First { get; set; }
    public DateOnly Last { get; set; }
    public long? Opening { get; set; }
    public long? Closing { get; set; }
    /// <summary>Of its lines.</summary>
    public long Sum { get; set; }
    /// <summary>The line at which it is told that it does not begin where the last one ended; null where it has no line.</summary>
    public long? FirstLine { get; set; }
    /// <summary>The line at which it is told that it does not add up.</summary>
    public long? LastLine { get; set; }
}

/// <remarks>TakeTheirs: their fee is the order's actual fee from then on.</remarks>
public enum SettlingWay { TakeTheirs, Link, Accept, Wait, BookTo }

/// <summary>How somebody settled what did not agree. Never deleted; undone it counts no more.</summary>
public sealed class SettlingRecord
{
    public int Id { get; set; }
    public Bench Bench { get; set; }
    /// <summary>The line; null where ours has none.</summary>
    public long? LineId { get; set; }
    /// <summary>What of ours it is linked to, or that is waited for.</summary>
    public string? Ours { get; set; }
    public SettlingWay Way { get; set; }
    public DateOnly? Until { get; set; }
    /// <summary>Where it was booked to.</summary>
    public string Account { get; set; } = "";
    public string Reason { get; set; } = "";
    /// <summary>What did not agree then.</summary>
    public Finding Findings { get; set; }
    /// <summary>Of theirs taken: whether the order had an actual fee before, and which.</summary>
    public long? FeeBefore { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public string? UndoneBy { get; set; }
    public DateTimeOffset? UndoneAt { get; set; }
}

/// <summary>How the bench treats a processor.</summary>
public sealed class ProcessorBenchRecord
{
    public required string Processor { get; set; }
    /// <summary>Days after which what is not settled is late.</summary>
    public int SettleWithinDays { get; set; }
    /// <summary>Whether their fees are taken as they come.</summary>
    public bool TakesTheirFees { get; set; }
}

/// <summary>Whether all matches of the bank or of partners have to be found again, whatever has changed.</summary>
public sealed class BenchStateRecord
{
    public Bench Bench { get; set; }
    public bool IsToMatch { get; set; }
    /// <summary>Of partners: the last entry their lines were compared with.</summary>
    public long UpToEntry { get; set; }
}

/// <summary>What has changed for the bench of the bank or of partners; the database notes it.</summary>
public sealed class BenchToMatchRecord
{
    public BenchChange Kind { get; set; }
    /// <summary>A payment's reference, a line's or file's id, a settlement, or a partner's report.</summary>
    public required string Name { get; set; }
}

/// <remarks>The first four are of the bank.</remarks>
public enum BenchChange { Payment, Line, File, Settlement, PartnerLine, Report }

/// <summary>How a partner's report is compared.</summary>
public sealed class PartnerReportRecord
{
    public required string Report { get; set; }
    /// <summary>Minor units by which a line may differ and still agrees.</summary>
    public long Tolerance { get; set; }
}
