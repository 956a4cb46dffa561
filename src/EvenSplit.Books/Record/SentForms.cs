using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Knows which forms were sent and did something. The mark is saved with the deed, in its transaction: neither is there without the other.</summary>
public sealed class SentForms(BookDbContext db) : IUseCase
{
    /// <summary>Longer than anybody keeps a page open.</summary>
    private static readonly TimeSpan Kept = TimeSpan.FromDays(30);

    private SentFormRecord? _sent;

    /// <returns>What became of the form; null where it was not sent before.</returns>
    public SentFormRecord? Find(string token) => db.SentForms.AsNoTracking().FirstOrDefault(f => f.Token == token);

    /// <summary>Marks the form as sent with whatever is saved next.</summary>
    public void MarkWithDeed(string token) => db.SentForms.Add(_sent = new SentFormRecord { Token = token, At = TimeProvider.System.GetUtcNow() });

    /// <summary>Says where it led, and marks it where the deed was saved in another way.</summary>
    public void Done(string token, string address)
    {
        if (_sent is not null) db.Entry(_sent).State = EntityState.Detached;
        var now = TimeProvider.System.GetUtcNow();
        db.Database.ExecuteSql($"INSERT INTO SentForms (Token, At, LedTo) VALUES ({token}, {now.UtcTicks}, {address}) ON CONFLICT (Token) DO UPDATE SET LedTo = {address}");
    }

    /// <summary>Takes the mark back of a form that was refused.</summary>
    public void Forget(string token)
    {
        if (_sent is not null) db.Entry(_sent).State = EntityState.Detached;
        db.SentForms.Where(f => f.Token == token).ExecuteDelete();
    }

    /// <summary>Forgets those that nobody can send again.</summary>
    public void Thin()
    {
        var before = TimeProvider.System.GetUtcNow() - Kept;
        db.SentForms.Where(f => f.At < before).ExecuteDelete();
    }
}
