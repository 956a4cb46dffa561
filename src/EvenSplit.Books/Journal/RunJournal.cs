using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>A run as double entry, in plain text that hledger and ledger read. Every transaction balances.</summary>
public sealed class RunJournal(BookDbContext db, BookCache cache) : IUseCase
{
    /// <returns>Null where the run is not locked.</returns>
    public string? Write(int id)
    {
        var run = db.PayRuns.AsNoTracking().Include(r => r.Remittances).FirstOrDefault(r => r.Id == id);
        if (run is null or { State: RunState.Gathering }) return null;
        var book = cache.Get(db);
        using var text = new StringWriter();
        var by = run.OnePerson is { } one ? $", prepared and approved by one person, {one}" : "";
        JournalText.Write(text, $"{book.Record.Name}, run as of {run.AsOf:yyyy-MM-dd}{by}", [], new RunTransactions(db, book).Of(run, run.Remittances, DateOnly.MinValue, DateOnly.MaxValue));
        return text.ToString();
    }
}
