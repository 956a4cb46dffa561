namespace EvenSplit.Books;

/// <summary>The folder one book lives in: its database and the files that were handed in.</summary>
public sealed record BookPlace(string Folder)
{
    public string Database => Path.Combine(Folder, "book.db");
    public string Uploads => Path.Combine(Folder, "uploads");
    /// <summary>Where the bank and the wallet fetch files and leave their answers; what was read moves to a folder below.</summary>
    public string Bank => Path.Combine(Folder, "bank");
    public string Wallet => Path.Combine(Folder, "wallet");
    /// <summary>Where processors and partners leave their reports; what was read moves to a folder below.</summary>
    public string Processor => Path.Combine(Folder, "processor");
    public string Partners => Path.Combine(Folder, "partners");
    /// <summary>What processors, banks and partners sent, as it came, under its SHA-256.</summary>
    public string AsTheyCame => Path.Combine(Folder, "as-they-came");
    /// <summary>Mail that was sent, a file each.</summary>
    public string Outbox => Path.Combine(Folder, "outbox");
    /// <summary>The keys that protect sign-in cookies and forms; they stay with the book.</summary>
    public string Keys => Path.Combine(Folder, "keys");
    /// <summary>Held by the one server that works on the book.</summary>
    public string Lock => Path.Combine(Folder, "server.lock");
    /// <summary>The database as it was before a new version of the application changed it.</summary>
    public string Before => Path.Combine(Folder, "before");
}

/// <summary>What was asked cannot be done, for a reason the user can act on; nothing has changed.</summary>
public sealed class RefusedException(string reason, string? field = null) : Exception(reason)
{
    /// <summary>The form field at fault, where there is one.</summary>
    public string? Field { get; } = field;
}
