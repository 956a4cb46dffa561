namespace EvenSplit.Books.Model;

/// <summary>
/// What a sale, a refund, or a correction of either puts into the journal of the book (reconcile contract, section 5), in minor units of <see cref="Currency"/>: what a
/// refund takes back is below 0. Never edited or deleted; the sum of an order's is what it comes to.
/// </summary>
public sealed class BookingRecord
{
    public long Id { get; set; }
    /// <summary>The order's key.</summary>
    public long OrderId { get; set; }
    /// <summary>The refund as the shop calls it; null for the sale's own.</summary>
    public string? Refund { get; set; }
    /// <summary>In the book's zone: the day of the sale or refund, or of a correction the day on which it was posted.</summary>
    public DateOnly On { get; set; }
    /// <summary>The month of <see cref="On"/>.</summary>
    public int Period { get; set; }
    /// <summary>The closed month it would have been of; null where it is of its own.</summary>
    public int? ForPeriod { get; set; }
    /// <summary>Empty where there is none.</summary>
    public string Processor { get; set; } = "";
    public required string Channel { get; set; }
    public required string Currency { get; set; }
    public long Goods { get; set; }
    public long Shipping { get; set; }
    public long Tax { get; set; }
    public long ProcessingFee { get; set; }
    public long ChannelFee { get; set; }
    public long Rebate { get; set; }

    public long Charged => Goods + Shipping + Tax;
}

/// <summary>That a month was closed, by two persons, and opened again by two others or the same. Never deleted.</summary>
public sealed class MonthCloseRecord
{
    public int Id { get; set; }
    public int Period { get; set; }
    public required string ClosedBy { get; set; }
    public DateTimeOffset ClosedAt { get; set; }
    /// <summary>Null while it waits for its second person.</summary>
    public string? ConfirmedBy { get; set; }
    public DateTimeOffset? ConfirmedAt { get; set; }
    public string? OpenedBy { get; set; }
    public string? OpenedConfirmedBy { get; set; }
    public DateTimeOffset? OpenedAt { get; set; }
    /// <summary>Why it was opened again; empty while it is closed.</summary>
    public string OpenedBecause { get; set; } = "";
    /// <summary>Whether the first person took it back before anybody confirmed.</summary>
    public bool IsWithdrawn { get; set; }
    /// <summary>SHA-256 over what the month holds, following on <see cref="HashBefore"/>; hexadecimal.</summary>
    public string Hash { get; set; } = "";
    /// <summary>Whether <see cref="Hash"/> goes over the seals of its rows; over the rows themselves where it was closed before there were any.</summary>
    public bool IsSealed { get; set; }
    /// <summary>That of the closed month before; empty for the first.</summary>
    public string HashBefore { get; set; } = "";
    /// <summary>What the month came to, as the proof's CSV says it.</summary>
    public string Proof { get; set; } = "";
}

public enum SealedKind { Entries, Bookings }

/// <summary>
/// Rows of one month among rows that follow one another by id, sealed as they stood: what is posted or booked never changes. Never edited or deleted.
/// </summary>
public sealed class RowSealRecord
{
    public long Id { get; set; }
    public SealedKind Kind { get; set; }
    public int Period { get; set; }
    public long FirstId { get; set; }
    public long LastId { get; set; }
    public int Count { get; set; }
    /// <summary>By row its id and the first eight bytes of its SHA-256, eight bytes each, little endian: so that a row that does not fit is named.</summary>
    public required byte[] Rows { get; set; }
    /// <summary>SHA-256 over the whole fingerprints of the rows; hexadecimal.</summary>
    public required string Hash { get; set; }
}

/// <summary>Kept sum of what bookings put into an account on one day, or of entries for a payee. Minor units.</summary>
public sealed class JournalDayRecord
{
    public DateOnly On { get; set; }
    public SealedKind Kind { get; set; }
    /// <summary>The account of bookings; of entries the payee, whose role says into which accounts they go.</summary>
    public required string Of { get; set; }
    public required string Currency { get; set; }
    /// <summary>Of entries what was earned.</summary>
    public long Debit { get; set; }
    /// <summary>Of entries what was taken back.</summary>
    public long Credit { get; set; }
    /// <summary>How many amounts other than 0 there are.</summary>
    public long Postings { get; set; }
}

/// <summary>What the seller calls an account of the journal, or those below it.</summary>
public sealed class JournalAccountRecord
{
    public required string Account { get; set; }
    public string Code { get; set; } = "";
    public string Name { get; set; } = "";
}
