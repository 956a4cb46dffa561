using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Payouts;

/// <summary>Where a run sends a payee's money on a day.</summary>
/// <param name="Details">Those that may be used; null where there are none, or the method needs none.</param>
/// <param name="Through">The payee with whose payment it goes out; null where it is paid to its own.</param>
public sealed record Destination(PayoutMethod Method, PayoutDetailsRecord? Details, string? Through);

/// <summary>Finds where payees' money goes: to their own details, or with the payment of the payee they are paid through.</summary>
public sealed class Destinations(BookDbContext db, Sealed @sealed) : IUseCase
{
    /// <param name="date">In the book's zone: the day on which details must be usable.</param>
    /// <returns>One for every payee.</returns>
    internal Dictionary<string, Destination> On(DateOnly date)
    {
        var details = db.PayoutDetails.AsNoTracking()
            .Where(d => d.UsableFrom != null && d.UsableFrom <= date && d.RefusedBy == null && db.Payees.Any(p => p.Id == d.Payee && (p.Method == PayoutMethod.Bank || p.Method == PayoutMethod.Wallet || p.Method == PayoutMethod.Through)))
            .AsEnumerable().GroupBy(d => d.Payee).ToDictionary(g => g.Key, g => g.MaxBy(d => d.Id)!);
        var agreed = db.Payees.AsNoTracking().Select(p => new { p.Id, p.Method }).ToDictionary(p => p.Id, p => p.Method);
        return agreed.Keys.ToDictionary(p => p, p => details.GetValueOrDefault(p) is { Method: PayoutMethod.Through } through ? Own(@sealed.Recipient(through)) with { Through = @sealed.Recipient(through) } : Own(p));

        // Nobody is paid through somebody who is paid through another.
        Destination Own(string payee) => details.GetValueOrDefault(payee) is { Method: not PayoutMethod.Through } own
            ? new(own.Method, own, null)
            : new(agreed[payee] == PayoutMethod.Through ? PayoutMethod.ByHand : agreed[payee], null, null);
    }

    /// <summary>Whether anybody is paid through a payee, or is to be once it is confirmed.</summary>
    internal bool IsPaidThrough(string payee) => db.PayoutDetails.AsNoTracking().Where(d => d.RefusedBy == null && d.Payee != payee).AsEnumerable()
        .GroupBy(d => d.Payee).Select(g => g.MaxBy(d => d.Id)!).Any(d => d.Method == PayoutMethod.Through && @sealed.Recipient(d) == payee);

    /// <summary>Whether a payee is paid through another, or is to be once it is confirmed.</summary>
    internal bool GoesThroughAnother(string payee) => db.PayoutDetails.AsNoTracking().Where(d => d.RefusedBy == null && d.Payee == payee).OrderByDescending(d => d.Id).Select(d => (PayoutMethod?)d.Method).FirstOrDefault() == PayoutMethod.Through;
}
