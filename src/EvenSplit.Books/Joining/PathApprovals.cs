using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>Whoever is approved for an offer path takes part with what is added to it later, from the day on which it is added.</summary>
public sealed class PathApprovals(BookDbContext db, BookClock clock, AgreementDesk agreements, RulesChange rulesChange) : IUseCase
{
    /// <summary>Brings the approvals of a path up to its steps; what is taken out of the path stays approved.</summary>
    internal void Follow(string path, IReadOnlyCollection<string> products, string by)
    {
        var (today, approvals) = (clock.Today, db.PathApprovals.AsNoTracking().Where(p => p.PathId == path).OrderBy(p => p.Payee).ToArray());
        if (approvals.Length == 0) return;
        using var change = rulesChange.Begin();
        foreach (var approved in approvals)
        {
            var on = db.Memberships.FirstOrDefault(m => m.PayeeId == approved.Payee && m.AgreementId == approved.AgreementId && m.From <= today && (m.To == null || m.To > today));
            if (on?.Products is { } held && products.Except(held).Any()) agreements.ApproveFor(on.Id, [.. held.Union(products)], today, by);
        }
        change.Commit();
    }
}
