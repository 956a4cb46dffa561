using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>What is held back by hand: whatever a payee earns on a line under an agreement, also where a correction says the line was another product.</summary>
internal static class HeldLines
{
    /// <summary>Of some orders, every line number that something is held back on, with payee and agreement.</summary>
    public static HashSet<(long Order, int Line, string Payee, string Agreement)> Of(BookDbContext db, IReadOnlyCollection<long> orders) => (
        from hold in db.EntryHolds.AsNoTracking()
        where hold.LetGoAt == null && orders.Contains(hold.OrderId)
        join held in db.OrderLines on new { hold.OrderId, Number = hold.LineNumber } equals new { held.OrderId, held.Number }
        join line in db.OrderLines on new { held.OrderId, held.LineId } equals new { line.OrderId, line.LineId }
        select new { hold.OrderId, line.Number, hold.Payee, hold.Agreement })
        .AsEnumerable().Select(h => (h.OrderId, h.Number, h.Payee, h.Agreement)).ToHashSet();
}
