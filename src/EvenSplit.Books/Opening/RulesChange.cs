using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Tells the rest of the book that what orders are worked out against has changed.</summary>
internal static class RulesChange
{
    /// <summary>Saves, counts the change up, and asks for the orders it can touch to be worked out again.</summary>
    /// <param name="touched">Given the book after the change; null where no order is touched.</param>
    public static void SaveRules(this BookDbContext db, Func<OpenedBook, TouchedOrders>? touched)
    {
        db.SaveChanges();
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
        var book = BookLoader.Load(db, db.Book.AsNoTracking().Single());
        var hasOrders = db.Orders.Any();
        if (hasOrders && touched is not null) db.Recalculations.Add(new RecalculationRecord { Touched = touched(book) });
        KeepTracks(db, book, hasOrders);
        db.SaveChanges();
    }

    /// <summary>Keeps just the tracks that terms ask for. Those of a new one are filled by working its payee's orders out again.</summary>
    private static void KeepTracks(BookDbContext db, OpenedBook book, bool hasOrders)
    {
        var asked = book.Progress.All.ToDictionary(t => (t.Key.Payee.Value, t.Key.Agreement?.Value ?? "", t.Currency.Code), t => t.Key);
        foreach (var kept in db.ProgressTracks.ToArray())
        {
            if (asked.Remove((kept.Payee, kept.Agreement, kept.Currency))) continue;
            db.ProgressTracks.Remove(kept);
            db.ProgressEvents.Where(e => e.Payee == kept.Payee && e.Agreement == kept.Agreement && e.Currency == kept.Currency).ExecuteDelete();
        }
        foreach (var ((payee, agreement, currency), track) in asked)
        {
            db.ProgressTracks.Add(new ProgressTrackRecord { Payee = payee, Agreement = agreement, Currency = currency });
            if (hasOrders) db.Recalculations.Add(new RecalculationRecord { Touched = Touched.ByTrack(book.Rules, track) });
        }
    }
}
