using EvenSplit.Books.Model;

namespace EvenSplit.Books.Reconcile;

internal static class BenchChanges
{
    /// <summary>Notes what has to be held against the book again; once is enough.</summary>
    public static void NoteChange(this BookDbContext db, BenchChange kind, string name)
    {
        if (db.BenchToMatch.Find(kind, name) is null) db.BenchToMatch.Add(new BenchToMatchRecord { Kind = kind, Name = name });
    }
}
