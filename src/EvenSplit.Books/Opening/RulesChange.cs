using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books;

/// <summary>
/// Brackets every change of what orders are worked out against. What it can reach is derived from the rules before and after, and waits to be worked
/// out again. Changes made within another are part of it: many of them read the book once.
/// </summary>
public sealed class RulesChange(BookDbContext db, BookCache cache) : IUseCase
{
    private Bracket? _outermost;

    /// <summary>Begins a change, in a transaction of its own where the caller has begun none.</summary>
    /// <returns>To be committed; disposed of without, nothing is changed.</returns>
    public Bracket Begin() => _outermost is null ? _outermost = new Bracket(this, cache.Find(db), db.BeginUnlessBegun()) : new Bracket(this, null, null);

    private void Commit(OpenedBook? before)
    {
        db.SaveChanges();
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
        var after = BookLoader.Load(db, db.Book.AsNoTracking().Single());
        var hasOrders = db.Orders.Any();
        var touched = new List<TouchedOrders>();
        if (before is not null && hasOrders) touched.AddRange([.. RulesDifference.Between(before.Rules, after.Rules), .. Plans(before, after)]);
        KeepTracks(after, hasOrders, touched);
        if (TouchedOrders.Together(touched) is { Count: > 0 } together) db.Recalculations.Add(new RecalculationRecord { Touched = together });
        db.SaveChanges();
    }

    /// <summary>Orders are held against the plans of their products, which the core's rules do not know.</summary>
    private static IEnumerable<TouchedOrders> Plans(OpenedBook before, OpenedBook after) => after.Plans.Keys.Union(before.Plans.Keys)
        .Where(p => before.Plans.GetValueOrDefault(p) != after.Plans.GetValueOrDefault(p)).Select(p => new TouchedOrders { Products = [p.Value] });

    /// <summary>Keeps just the tracks that terms ask for. A new one is filled by working out again what its payee's progress is counted from.</summary>
    private void KeepTracks(OpenedBook book, bool hasOrders, List<TouchedOrders> touched)
    {
        var asked = book.Progress.All.ToDictionary(t => (t.Key.Payee.Value, t.Key.Agreement?.Value ?? "", t.Currency.Code), t => t.Key);
        foreach (var kept in db.ProgressTracks.ToArray())
        {
            if (asked.Remove((kept.Payee, kept.Agreement, kept.Currency))) continue;
            db.ProgressTracks.Remove(kept);
            db.ProgressEvents.Where(e => e.Payee == kept.Payee && e.Agreement == kept.Agreement && e.Currency == kept.Currency).ExecuteDelete();
            db.ProgressDays.Where(d => d.Payee == kept.Payee && d.Agreement == kept.Agreement && d.Currency == kept.Currency).ExecuteDelete();
        }
        foreach (var ((payee, agreement, currency), track) in asked)
        {
            db.ProgressTracks.Add(new ProgressTrackRecord { Payee = payee, Agreement = agreement, Currency = currency });
            if (hasOrders) touched.Add(RulesDifference.OfTrack(book.Rules, track));
        }
    }

    /// <summary>One change under way.</summary>
    public sealed class Bracket : IDisposable
    {
        private readonly RulesChange _change;
        private readonly OpenedBook? _before;
        private readonly IDbContextTransaction? _transaction;

        internal Bracket(RulesChange change, OpenedBook? before, IDbContextTransaction? transaction) => (_change, _before, _transaction) = (change, before, transaction);

        /// <summary>Saves the change. Of one within another that is all; the outermost also asks for the orders it can reach, and commits.</summary>
        public void Commit()
        {
            if (!ReferenceEquals(_change._outermost, this))
            {
                _change.SaveWithin();
                return;
            }
            _change.Commit(_before);
            _transaction?.Commit();
        }

        public void Dispose()
        {
            if (ReferenceEquals(_change._outermost, this)) _change._outermost = null;
            _transaction?.Dispose();
        }
    }

    private void SaveWithin() => db.SaveChanges();
}
