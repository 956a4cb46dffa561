using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>
/// Reads what banks and wallets say about payments: status reports, statements, results. The same message twice, or two messages that say the same, have
/// no second effect. What came back is owed again at once where the bank's statement says so, or the message was fetched from where the bank and the wallet lay
/// theirs; of any other that somebody uploads, a second person says first that it is so.
/// </summary>
public sealed class PaymentResults(BookDbContext db, BookCache cache, BookClock clock, BookPlace place, PaymentOutcomes outcomes, TakeOutside outside, FilesAsTheyCame asTheyCame, AuditLog audit) : IUseCase
{
    public const int MostBytes = 32 * 1024 * 1024;

    /// <summary>Who reads what is fetched from the folders.</summary>
    private const string Fetcher = "fetched";

    private const string RefusedFolder = "refused", FaultEnding = ".fault";

    public IReadOnlyList<PaymentMessageRecord> Latest() => db.PaymentMessages.AsNoTracking().OrderByDescending(m => m.Id).Take(50).ToArray();

    /// <exception cref="RefusedException">It cannot be read, was read before, says another amount than was sent, or is about payments that went another way; nothing of it is taken.</exception>
    public PaymentMessageRecord Read(string fileName, byte[] content, string by)
    {
        var (record, isNew) = ReadOnce(fileName, content, by);
        return isNew ? record : throw new RefusedException($"This {record.Kind} was read already, by {record.ReadBy}; it has no second effect.", "File");
    }

    private (PaymentMessageRecord Record, bool IsNew) ReadOnce(string fileName, byte[] content, string by)
    {
        using var reader = new StreamReader(new MemoryStream(content));
        var message = Understand(fileName, reader.ReadToEnd());
        using var transaction = db.Database.BeginTransaction();
        if (Known(message) is { } known) return (known, false);
        ImportRecord? import = null;
        if (message.Kind == PaymentMessageKind.Statement)
        {
            import = new ImportRecord { Kind = ImportKind.Statement, State = ImportState.Done, FileName = Path.GetFileName(fileName), Bytes = content.Length, BytesRead = content.Length, Rows = message.Statements.Sum(s => s.Entries.Count), By = by, At = clock.GetUtcNow() };
            db.Imports.Add(import);
            db.SaveChanges();
            asTheyCame.Keep(import, new MemoryStream(content));
        }
        var record = Take(message, fileName, by, import);
        transaction.Commit();
        return (record, true);
    }

    private PaymentMessage Understand(string fileName, string text)
    {
        try
        {
            return PaymentMessage.Read(fileName, text, cache.Get(db).Time);
        }
        catch (PaymentMessageException fault)
        {
            throw new RefusedException(fault.Message, "File");
        }
    }

    private PaymentMessageRecord? Known(PaymentMessage message)
    {
        var kind = message.KindInWords;
        return db.PaymentMessages.AsNoTracking().FirstOrDefault(m => m.Kind == kind && m.MessageId == message.MessageId);
    }

    /// <param name="import">Of a statement, under which its lines stand.</param>
    private PaymentMessageRecord Take(PaymentMessage message, string fileName, string by, ImportRecord? import)
    {
        if (import is not null) outside.Take(import, message.Statements);
        if (Known(message) is { } known) return known;
        var record = outcomes.Apply(message, fileName, by, isSure: message.Kind == PaymentMessageKind.Statement || by == Fetcher);
        audit.Note(by, $"read a {record.Kind}", record.FileName);
        db.SaveChanges();
        return record;
    }

    /// <summary>Takes a bank's statement that came as a file among others: its lines, and what it says of payments.</summary>
    /// <exception cref="RefusedException">It cannot be read; nothing of it is taken.</exception>
    internal void ReadStatement(ImportRecord import, string text)
    {
        var message = Understand(import.FileName, text);
        if (message.Kind != PaymentMessageKind.Statement) throw new RefusedException($"This is a {message.KindInWords}; bring it in under Pay, Results.", "File");
        import.Rows = message.Statements.Sum(s => s.Entries.Count);
        Take(message, import.FileName, import.By, import);
    }

    /// <summary>Takes what lines of a bank's table say of payments.</summary>
    internal void TakeBooked(ImportRecord import, IReadOnlyList<StatementRow> booked)
    {
        if (booked.Count == 0) return;
        var message = new PaymentMessage(PaymentMessageKind.Statement, FormattableString.Invariant($"{import.FileName} {import.Id}"), PaymentMessage.OfStatement(booked.Select(r => new BookedEntry(r, r.Note))));
        outcomes.Apply(message, import.FileName, import.By, isSure: true);
        db.SaveChanges();
    }

    /// <summary>Reads what lies in the folders of the bank and the wallet; what cannot be read goes aside with its fault beside it.</summary>
    /// <returns>How many messages.</returns>
    public int Fetch()
    {
        var count = 0;
        foreach (var folder in new[] { place.Bank, place.Wallet })
        {
            var from = Path.Combine(folder, "out");
            if (!Directory.Exists(from)) continue;
            foreach (var file in Directory.GetFiles(from).Where(f => !f.EndsWith(".part", StringComparison.Ordinal)).Order(StringComparer.Ordinal))
            {
                count++;
                try
                {
                    // One that was read before a stop, and not yet moved, is known.
                    ReadOnce(file, File.ReadAllBytes(file), Fetcher);
                    Move(file, Path.Combine(folder, "read"));
                }
                catch (Exception fault) when (fault is RefusedException or IOException or UnauthorizedAccessException)
                {
                    // One that cannot be taken, or not even opened, must not keep the others from being read.
                    db.ChangeTracker.Clear();
                    PutAside(file, folder, fault.Message);
                }
            }
        }
        return count;
    }

    /// <summary>Files that were fetched and could not be taken, with what is wrong with them.</summary>
    public IReadOnlyList<(string File, string Fault)> PutAside() =>
        [.. new[] { place.Bank, place.Wallet }.Select(f => Path.Combine(f, RefusedFolder)).Where(Directory.Exists).SelectMany(f => Directory.GetFiles(f, "*" + FaultEnding)).Order(StringComparer.Ordinal)
            .Select(f => (Path.GetFileName(f)[..^FaultEnding.Length], File.ReadAllText(f)))];

    private static void PutAside(string file, string folder, string fault)
    {
        var aside = Path.Combine(folder, RefusedFolder);
        File.WriteAllText(Path.Combine(Directory.CreateDirectory(aside).FullName, Path.GetFileName(file) + FaultEnding), fault);
        try
        {
            Move(file, aside);
        }
        catch (Exception stuck) when (stuck is IOException or UnauthorizedAccessException)
        {
            // It stays where it lies, is tried again, and is listed with its fault.
        }
    }

    private static void Move(string file, string folder) => File.Move(file, Path.Combine(Directory.CreateDirectory(folder).FullName, Path.GetFileName(file)), overwrite: true);
}
