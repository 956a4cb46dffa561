using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>What a settlement pays out in one currency, as of its last day.</summary>
internal sealed record BankPayout(string Settlement, Money Amount, DateOnly On)
{
    public string Ours => OursName.Payout + Settlement;

    public string Key => $"{Settlement} {Amount.Currency}";

    public static BankPayout[] All(BookDbContext db) =>
    [
        .. db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Processors && l.Kind >= MovementKind.Fee && l.Kind == MovementKind.Payout).OrderBy(l => l.On)
            .Select(l => new { l.Source, l.Currency, l.Gross, l.Fee, l.On }).AsEnumerable().GroupBy(l => (l.Source, l.Currency))
            .Select(g => new BankPayout(g.Key.Source, new Money(-g.Sum(l => l.Gross - l.Fee), Currency.Of(g.Key.Currency)), g.Max(l => l.On))).Where(p => p.Amount.Minor > 0),
    ];
}

/// <summary>A payment file for the bank.</summary>
/// <param name="Sum">Minor units of <paramref name="Currency"/>, above 0.</param>
internal sealed record BankFile(int Id, string MessageId, DateOnly On, long Sum, string Currency)
{
    public static BankFile[] All(BookDbContext db, BookTime time) =>
    [
        .. db.PaymentFiles.AsNoTracking().Where(f => f.Method == PayoutMethod.Bank).OrderBy(f => f.Id).Select(f => new { f.Id, f.MessageId, f.MadeAt, f.Sum, f.Currency }).AsEnumerable()
            .Select(f => new BankFile(f.Id, f.MessageId, time.DateOf(f.MadeAt), f.Sum, f.Currency)),
    ];
}
