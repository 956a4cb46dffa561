using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>An entry as its payee sees it.</summary>
/// <param name="Order">The order's id, or what stands for it.</param>
/// <param name="Trace">How it came about; null where an earlier rule gave it and entries that follow correct it.</param>
/// <param name="Currency">Of the order: the steps are in it.</param>
public sealed record OwnEntry(long Id, string Order, string Product, string Agreement, Money Amount, bool IsReversal, DateOnly PostedOn, DateOnly? ClearsOn, PayeeTrace? Trace, Currency Currency);

/// <summary>Explains an entry to its payee by working the order out again.</summary>
public sealed class OwnTraces(BookDbContext db, BookCache cache, ShownToPayees shown) : IUseCase
{
    /// <summary>Of how many on an agreement an example is looked for.</summary>
    private const int MostLookedAt = 20;

    /// <returns>Null where the payee has no such entry.</returns>
    public OwnEntry? Find(string payee, long id) => db.Entries.AsNoTracking().FirstOrDefault(e => e.Id == id && e.Payee == payee) is { } entry ? Told(entry, shown.Of(entry.Agreement)) : null;

    /// <summary>The latest earning under an agreement as its payee would see it.</summary>
    /// <param name="view">What the agreement would show.</param>
    /// <returns>Null where nobody has earned by it.</returns>
    public OwnEntry? Example(string agreement, AgreementViewRecord view)
    {
        // A payee's entries are found by their index, the latest first; an agreement's are not.
        var members = db.Memberships.AsNoTracking().Where(m => m.AgreementId == agreement).OrderByDescending(m => m.From).Select(m => m.PayeeId).Distinct().Take(MostLookedAt).ToArray();
        var latest = members.Select(payee => db.Entries.AsNoTracking().Where(e => e.Payee == payee && e.Agreement == agreement && e.RefundId == null).OrderByDescending(e => e.PostedOn).ThenByDescending(e => e.Id).FirstOrDefault()).OfType<EntryRecord>().FirstOrDefault();
        return latest is null ? null : Told(latest, view);
    }

    private OwnEntry Told(EntryRecord entry, AgreementViewRecord view)
    {
        var book = cache.Get(db);
        var held = HeldOrder.Of(db, [entry.OrderId])[0];
        var line = held.Record.Lines.Single(l => l.Number == entry.LineNumber);
        var ledger = OrderOutcome.Explained(db, book, held).Ledger;
        var key = line.Position is { } position ? new ShareKey(position, new PayeeId(entry.Payee), new AgreementId(entry.Agreement), entry.Part) : (ShareKey?)null;
        var amount = ledger?.SaleAmounts.FirstOrDefault(a => a.Key == key);
        return new OwnEntry(
            entry.Id, shown.OrderBy(view, held.Record.OrderId), book.ProductName(line.Product), book.AgreementName(entry.Agreement), new Money(entry.Amount, Currency.Of(entry.Currency)), entry.RefundId is not null, entry.PostedOn, entry.ClearsOn,
            amount is null ? null : new PayeeTraceTeller(book.Rules, book.Naming()).Tell(ledger!, amount, ShownToPayees.SightOf(view)), held.Order.Currency);
    }
}
