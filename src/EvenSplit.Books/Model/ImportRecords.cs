using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <remarks>
/// Files of products and payees are shown as a difference first; they are imports only while their columns are found out. Settlement, Statement and Outside are what processors, banks and
/// partners write; each is taken as a whole.
/// </remarks>
public enum ImportKind { Orders, Refunds, Clicks, Products, Payees, Settlement, Statement, Outside, Terms, Adjustments, Rates }

/// <remarks>Columns: somebody has to say what its columns are.</remarks>
public enum ImportState { Waiting, Running, Done, Refused, Columns }

/// <summary>One file on its way in. Its state lives here, so a restart goes on with it and a reload shows where it is.</summary>
public sealed class ImportRecord
{
    public int Id { get; set; }
    public ImportKind Kind { get; set; }
    public required string FileName { get; set; }
    /// <summary>Where the file was put, below the book's folder; null once it has been read.</summary>
    public string? StoredAs { get; set; }
    public ImportState State { get; set; }
    public long Bytes { get; set; }
    public long BytesRead { get; set; }
    public long Rows { get; set; }
    public long Added { get; set; }
    public long Changed { get; set; }
    public long Unchanged { get; set; }
    public long Quarantined { get; set; }
    /// <summary>How the file says what ours say, a line each; empty where it is one of ours.</summary>
    public string ColumnNames { get; set; } = "";
    /// <summary>Columns the file had and the book has no use for.</summary>
    public string ExtraColumns { get; set; } = "";
    /// <summary>Why the file as a whole was refused.</summary>
    public string? Fault { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    /// <summary>The day whose events stand here together, in the book's zone; null for a file.</summary>
    public DateOnly? EventsOf { get; set; }
}

/// <summary>What the files of a shop or system call our columns, remembered for the next one.</summary>
public sealed class FileSourceRecord
{
    public required string Name { get; set; }
    public ImportKind Kind { get; set; }
    public required string ColumnNames { get; set; }
}

/// <remarks>Replaced: the same order or refund came in again since, right or with another reason.</remarks>
public enum QuarantineState { Waiting, Taken, Discarded, Replaced }

/// <summary>A row that could not be taken, with its reason and the original cells. Rows of one order or refund wait together.</summary>
public sealed class QuarantinedRowRecord
{
    public long Id { get; set; }
    public int ImportId { get; set; }
    /// <summary>The line of the file, counted from 1 with the header.</summary>
    public long Row { get; set; }
    /// <summary>The order or refund the row belongs to, as written.</summary>
    public required string Group { get; set; }
    /// <summary>The cells by column name, as JSON.</summary>
    public required string Cells { get; set; }
    /// <summary>The columns at fault with a space between; empty where the row only waits for another of its group.</summary>
    public required string Columns { get; set; }
    public required string Fault { get; set; }
    /// <summary>The order whose coming lets the row in; null where somebody has to correct it.</summary>
    public string? WaitsForOrder { get; set; }
    public QuarantineState State { get; set; }
}

/// <summary>Orders to be worked out again because a rule changed: goes on after a restart from where it was.</summary>
public sealed class RecalculationRecord
{
    public int Id { get; set; }
    /// <summary>Which orders the change can touch.</summary>
    public required IReadOnlyList<TouchedOrders> Touched { get; set; }
    /// <summary>What was changed, as the record of deeds has it, and by whom; empty where no person changed anything.</summary>
    public string Words { get; set; } = "";
    public string By { get; set; } = "";
    /// <summary>Whether they have been found and wait as <see cref="RecalculationOrderRecord"/>.</summary>
    public bool IsListed { get; set; }
    /// <summary>When the first of them was taken; null before that.</summary>
    public DateTimeOffset? StartedAt { get; set; }
    public long Total { get; set; }
    public long Done { get; set; }
    public long Changed { get; set; }
    /// <summary>Why some of them could not be worked out, a line each; they stay as they were posted.</summary>
    public string Faults { get; set; } = "";
    public bool IsFinished { get; set; }

    /// <summary>How long the rest will take at the pace so far; null where that cannot be told yet.</summary>
    public TimeSpan? Left(DateTimeOffset now) => StartedAt is { } since && Done > 0 ? (now - since) / Done * Math.Max(0, Total - Done) : null;
}

/// <summary>An order that waits to be worked out again; they are taken in the order of their payments.</summary>
public sealed class RecalculationOrderRecord
{
    public int RecalculationId { get; set; }
    /// <summary>When it was paid, or placed while unpaid.</summary>
    public DateTimeOffset At { get; set; }
    public long OrderId { get; set; }
}
