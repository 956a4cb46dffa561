using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books;

/// <summary>
/// Brackets every change of what orders are worked out against. What it can reach is derived from the rules before and after, and waits to be worked
/// out again; where somebody waits for it, it is worked out at once and shown before it is posted. Changes made within another are part of it: many of them read
/// the book once.
/// </summary>
public sealed class RulesChange(BookDbContext db, BookCache cache, BookClock clock, ShownFirst shown) : IUseCase
{
    private Bracket? _outermost;

    /// <summary>The last deed on record before the change began.</summary>
    private long _deedsBefore;

    /// <summary>Begins a change, in a transaction of its own where the caller has begun none.</summary>
    /// <returns>To be committed; disposed of without, nothing is changed.</returns>
    public Bracket Begin()
    {
        if (_outermost is not null) return new Bracket(this, null, null);
        _outermost = new Bracket(this, cache.Find(db), db.BeginUnlessBegun());
        _deedsBefore = db.Audit.Max(a => (long?)a.Id) ?? 0;
        return _outermost;
    }

    /// <exception cref="NotSeenException">It would post something that was not shown yet.</exception>
    private void Commit(OpenedBook? before)
    {
        db.SaveChanges();
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
        var after = BookLoader.Load(db, db.Book.AsNoTracking().Single());
        var hasOrders = db.Orders.Any();
        var touched = new List<TouchedOrders>();
        if (before is not null && hasOrders) touched.AddRange([.. RulesDifference.Between(before.Rules, after.Rules), .. Plans(before, after)]);
        KeepTracks(after, hasOrders, touched);
        db.SaveChanges();
        if (TouchedOrders.Together(touched) is not { Count: > 0 } together) return;
        // The deed's own words; a change of many things has one for them all.
        var (words, by) = db.Audit.AsNoTracking().Where(a => a.Id > _deedsBefore).OrderBy(a => a.Id).LastOrDefault() is { } deed ? ($"{deed.Action}, {deed.Subject}", deed.By) : ("", "");
        if (shown.Asks && PostedBefore(after, together, words, by)) return;
        db.Recalculations.Add(new RecalculationRecord { Touched = together, Words = words, By = by });
        db.SaveChanges();
    }

    /// <returns>Whether everything is posted; false where the rest is for the background.</returns>
    private bool PostedBefore(OpenedBook after, IReadOnlyList<TouchedOrders> touched, string words, string by)
    {
        var posting = new PostedAtOnce(db, after, clock.Today);
        if (posting.Post(touched, shown.MostAtOnce) is not { } difference) return true;
        if (difference.AreTooMany)
        {
            // Seen as a number of orders, or as it was worked out by the side.
            var told = shown.WorkedOut is { } worked ? worked with { Orders = difference.Orders } : difference;
            return shown.Seen == difference.Fingerprint || shown.Seen == told.Fingerprint ? false : throw new NotSeenException(told) { After = after };
        }
        if (difference.Sums.Count > 0 && shown.Seen != difference.Fingerprint) throw new NotSeenException(difference);
        posting.Explain(words, by, clock.GetUtcNow());
        return true;
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
