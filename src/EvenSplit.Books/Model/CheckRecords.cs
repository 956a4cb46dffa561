namespace EvenSplit.Books.Model;

/// <summary>One time the book worked itself out anew and compared.</summary>
public sealed class BookCheckRecord
{
    public int Id { get; set; }
    /// <summary>When it was asked for, by the machine's clock; once done, when it ran.</summary>
    public DateTimeOffset At { get; set; }
    /// <summary>What made it run: the night, a new version of the application, or whoever asked.</summary>
    public required string Why { get; set; }
    /// <summary>False while it is only asked for.</summary>
    public bool IsDone { get; set; }
    public long Milliseconds { get; set; }
    /// <summary>How many differences there were in all, those beyond what is kept too.</summary>
    public long Differences { get; set; }
    /// <summary>How many orders were still to be worked out again, so that their figures were not compared; null where none were.</summary>
    public long? Waiting { get; set; }
    /// <summary>The last row of the record at that time: the next check finds it there still. Null where there was none.</summary>
    public long? LastAudit { get; set; }
    public string? LastAuditHash { get; set; }
    public List<CheckLineRecord> Lines { get; set; } = [];
}

/// <summary>One comparison: what the book keeps and what it comes to, each told as one figure.</summary>
public sealed class CheckLineRecord
{
    public int CheckId { get; set; }
    public int Position { get; set; }
    public required string Name { get; set; }
    public required string Kept { get; set; }
    public required string WorkedOut { get; set; }
    public long DifferencesFound { get; set; }
    /// <summary>The first of them.</summary>
    public List<CheckDifferenceRecord> Differences { get; set; } = [];
}

/// <summary>What a difference can be opened as.</summary>
public enum CheckSubject { Nothing, Order, Payee, Run, Entries }

public sealed class CheckDifferenceRecord
{
    public long Id { get; set; }
    public int CheckId { get; set; }
    public int Position { get; set; }
    public CheckSubject Subject { get; set; }
    /// <summary>The id by which the subject is opened.</summary>
    public required string Key { get; set; }
    /// <summary>What differs, in words.</summary>
    public required string What { get; set; }
    public required string Kept { get; set; }
    public required string WorkedOut { get; set; }
}
