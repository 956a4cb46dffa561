using EvenSplit.Books.Model;

namespace EvenSplit.Books.Sales;

internal static class CodeUse
{
    /// <summary>When the first order with a code was placed; null where none has it.</summary>
    public static DateTimeOffset? FirstUse(this BookDbContext db, string code) =>
        db.OrderCodes.Where(c => c.Code == code).Join(db.Orders, c => c.OrderId, o => o.Id, (c, o) => (DateTimeOffset?)o.PlacedAt).Min();
}
