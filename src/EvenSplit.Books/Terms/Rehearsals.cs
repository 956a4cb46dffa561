using System.Text.Json;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>A rehearsal with what was rehearsed.</summary>
/// <param name="IsNewAgreement">Whether the draft is to be an agreement of its own, and only borrows the other's payees.</param>
public sealed record RehearsalView(RehearsalRecord Record, AgreementDraft Draft, bool IsNewAgreement, string InPlaceOf, RehearsalResult? Result);

/// <summary>Asks for drafts to be worked over past orders, and works them: nothing is posted.</summary>
public sealed class Rehearsals(BookDbContext db, IDbContextFactory<BookDbContext> books, BookCache cache, BookClock clock) : IUseCase
{
    /// <summary>Whether publishing would change orders that are there already: then the draft is rehearsed first.</summary>
    public bool IsDueBefore(string? agreement, AgreementDraft draft) =>
        agreement is not null && draft.From is { } from && from <= clock.Today
        && cache.Get(db).Rules is var rules && db.TouchedBy(RulesDifference.OfAgreement(rules, rules, new AgreementId(agreement), new DateSpan(from, null))).Any();

    /// <param name="draftId">The draft as it is saved.</param>
    /// <param name="inPlaceOf">The agreement whose payees it is tried on.</param>
    /// <param name="from">First day of placing to compare; null takes the draft's own.</param>
    /// <param name="toPublish">Whether it is to be published when the rehearsal has been looked at.</param>
    public (int? Id, IReadOnlyList<FieldFault> Faults) Ask(int draftId, string inPlaceOf, AgreementDraft draft, DateOnly? from, DateOnly? to, bool toPublish, string by)
    {
        var book = cache.Get(db);
        var reader = new DraftReader(book.Rules);
        reader.Read(draft);
        var faults = reader.Faults.ToList();
        var agreement = book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == inPlaceOf);
        if (agreement is null) faults.Add(new FieldFault("InPlaceOf", "Choose the agreement whose payees it is tried on."));
        else if (agreement.Basis != draft.Basis) faults.Add(new FieldFault("InPlaceOf", "Choose an agreement that is earned on the same, or nothing could be compared."));
        var first = from ?? draft.From ?? clock.Today;
        var last = to ?? clock.Today;
        if (last < first) faults.Add(new FieldFault("RehearseTo", $"The last day is before the first, {first.InWords()}."));
        if (faults.Count > 0) return (null, faults);
        var record = new RehearsalRecord
        {
            DraftId = draftId,
            AgreementId = inPlaceOf,
            ToPublish = toPublish,
            Document = AgreementDrafts.Write(draft),
            From = first,
            To = last,
            AskedBy = by,
            AskedAt = clock.GetUtcNow(),
        };
        db.Rehearsals.Add(record);
        db.SaveChanges();
        return (record.Id, []);
    }

    public RehearsalView? Find(int id) => db.Rehearsals.AsNoTracking().FirstOrDefault(r => r.Id == id) is { } record
        ? new RehearsalView(
            record, DraftOf(record), !record.ToPublish && !db.AgreementDrafts.Any(d => d.Id == record.DraftId && d.AgreementId == record.AgreementId), cache.Get(db).AgreementName(record.AgreementId),
            record.Result is null ? null : JsonSerializer.Deserialize<RehearsalResult>(record.Result, AgreementDrafts.Json))
        : null;

    /// <summary>The rehearsal that is under way or waits. Orders being worked out again come first: until then what is posted is not what the terms say.</summary>
    public RehearsalRecord? Next() => db.Recalculations.Any(r => !r.IsFinished)
        ? null
        : db.Rehearsals.AsNoTracking().Where(r => r.State == RehearsalState.Waiting || r.State == RehearsalState.Running).OrderBy(r => r.Id).FirstOrDefault();

    /// <summary>Works everything that waits.</summary>
    public void RunAll(CancellationToken stopping = default)
    {
        while (!stopping.IsCancellationRequested && Next() is { } next) Run(next, stopping);
    }

    internal static AgreementDraft DraftOf(RehearsalRecord record) => AgreementDrafts.Read(record.Document);

    private void Run(RehearsalRecord rehearsal, CancellationToken stopping)
    {
        var row = db.Rehearsals.Where(r => r.Id == rehearsal.Id);
        row.ExecuteUpdate(set => set.SetProperty(r => r.State, RehearsalState.Running).SetProperty(r => r.Done, 0));
        try
        {
            var result = new RehearsalRun(db, books, cache.Get(db), rehearsal).WorkOut(
                (done, total) => row.ExecuteUpdate(set => set.SetProperty(r => r.Done, done).SetProperty(r => r.Total, total)), stopping);
            var text = JsonSerializer.Serialize(result, AgreementDrafts.Json);
            row.ExecuteUpdate(set => set.SetProperty(r => r.State, RehearsalState.Done).SetProperty(r => r.Result, text));
        }
        catch (RefusedException refused)
        {
            row.ExecuteUpdate(set => set.SetProperty(r => r.State, RehearsalState.Failed).SetProperty(r => r.Fault, refused.Message));
        }
        catch (OverflowException)
        {
            row.ExecuteUpdate(set => set.SetProperty(r => r.State, RehearsalState.Failed).SetProperty(r => r.Fault, "An amount that comes of this draft is beyond the largest there is."));
        }
        catch (OperationCanceledException)
        {
            // It is found waiting at the next start, and begun anew.
        }
    }
}
