using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Tells the rest of the book that what orders are worked out against has changed.</summary>
internal static class RulesChange
{
    /// <summary>Saves, counts the change up, and asks for the orders placed from a date on to be worked out again (null: none are affected).</summary>
    public static void SaveRules(this BookDbContext db, DateOnly? affectsOrdersFrom)
    {
        if (affectsOrdersFrom is { } from) db.Recalculations.Add(new RecalculationRecord { PlacedFrom = from });
        db.SaveChanges();
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
    }
}
