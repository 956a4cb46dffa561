using EvenSplit.Books.Balances;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>A target as typed; amounts in major units of the agreement's currency.</summary>
public sealed record TargetDraft
{
    public string Name { get; init; } = "";
    public string Agreement { get; init; } = "";
    public TargetMeasure Measure { get; init; }
    public string AtLeast { get; init; } = "";
    public ProgressWindow Window { get; init; } = ProgressWindow.Month;
    public DateOnly? From { get; init; }
    public DateOnly? To { get; init; }
    public string Bonus { get; init; } = "";
    public string MoveTo { get; init; } = "";
}

/// <summary>A target in words.</summary>
public sealed record TargetView(int Id, string Name, string Says, DateOnly From, DateOnly? To, int Reached);

/// <summary>A payee who has reached a target, and what they are to get.</summary>
public sealed record ReachedView(int Id, string Target, string PayeeId, string Payee, string Window, string Figure, string Gets, DateOnly NoticedOn, ReachedState State, string DecidedBy, string Reason, bool IsBonus, bool MayBeUndone);

/// <summary>How far a payee is on a target that runs today, in words.</summary>
/// <param name="Missing">Null where it is reached in this window.</param>
/// <param name="Decision">What was said of it; empty where nobody has decided, or it is not reached.</param>
public sealed record TargetStanding(string Target, string Window, string Asks, string Reached, string? Missing, string Gets, string Decision);

/// <summary>
/// Sets targets, notices who reaches them, and gives what was promised once a person says so. Figures are those that ladders go by
/// (contract, section 4, progress): a later refund takes nobody below what they had reached.
/// </summary>
public sealed class Targets(BookDbContext db, BookCache cache, BookClock clock, Adjustments adjustments, AgreementDesk agreements, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    public IReadOnlyList<TargetView> List()
    {
        var book = cache.Get(db);
        var reached = db.TargetsReached.GroupBy(r => r.TargetId).Select(g => new { g.Key, Count = g.Count() }).ToDictionary(g => g.Key, g => g.Count);
        return db.Targets.AsNoTracking().OrderBy(t => t.Id).AsEnumerable().Select(t => new TargetView(t.Id, t.Name, Says(book, t), t.From, t.To, reached.GetValueOrDefault(t.Id))).ToArray();
    }

    /// <summary>What waits for a decision, then what was decided last.</summary>
    public IReadOnlyList<ReachedView> Reached()
    {
        var book = cache.Get(db);
        var targets = db.Targets.AsNoTracking().ToDictionary(t => t.Id);
        var open = db.Adjustments.Where(a => a.RunId == null && a.Reference.StartsWith("target-")).Select(a => a.Reference).ToHashSet();
        return db.TargetsReached.AsNoTracking().OrderBy(r => r.State).ThenByDescending(r => r.Id).Take(200).AsEnumerable().Select(r =>
        {
            var target = targets[r.TargetId];
            return new ReachedView(r.Id, target.Name, r.Payee, book.PayeeName(r.Payee), WindowName(target, r.WindowStart), Amount(book, target, r.Figure), Gets(book, target), r.NoticedOn, r.State, r.DecidedBy, r.Reason, target.MoveTo is null,
                r.State == ReachedState.Declined || (r.State == ReachedState.Taken && target.MoveTo is null && open.Contains(BonusReference(r))));
        }).ToArray();
    }

    /// <summary>How far one payee is on the targets of their agreements that run today.</summary>
    public IReadOnlyList<TargetStanding> Of(string payeeId)
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var payee = book.Rules.Payee(new PayeeId(payeeId));
        var standings = new List<TargetStanding>();
        foreach (var target in db.Targets.AsNoTracking().Where(t => t.From <= today && (t.To == null || t.To > today)).OrderBy(t => t.Id).AsEnumerable().Where(t => payee.IsOn(new AgreementId(t.AgreementId), today)))
        {
            var agreement = book.Rules.Agreement(new AgreementId(target.AgreementId));
            var start = TargetWindows.ToLookAt(target.Window, target.From, target.To, today).Select(w => w.Start).Max();
            var figure = Figure(target, db.StateAtEndOf(TrackKey.Of(payee.Id, agreement), agreement.Currency, today).Highest(target.Window, today));
            var noticed = db.TargetsReached.AsNoTracking().FirstOrDefault(r => r.TargetId == target.Id && r.Payee == payeeId && r.WindowStart == start);
            standings.Add(new TargetStanding(
                target.Name, WindowName(target, start), Amount(book, target, target.AtLeast), Amount(book, target, figure), figure >= target.AtLeast || noticed is not null ? null : Amount(book, target, target.AtLeast - figure), Gets(book, target),
                noticed?.State switch { ReachedState.Taken => "given", ReachedState.Declined => noticed.Reason, _ => "" }));
        }
        return standings;
    }

    /// <returns>The fields at fault; none where it was saved.</returns>
    public IReadOnlyList<FieldFault> Add(TargetDraft draft, string by)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        var name = fields.Required("Name", draft.Name, "Give the target a name; it stands in the bonus's note.");
        var agreement = book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == draft.Agreement);
        if (agreement is null) fields.Refuse("Agreement", "Choose whose payees can reach it.");
        if (draft.From is null) fields.Refuse("From", "Say from which day.");
        if (draft.To <= draft.From) fields.Refuse("To", "That is before it begins.");
        var currency = agreement?.Currency ?? book.Currency;
        var atLeast = draft.Measure == TargetMeasure.Orders ? (long.TryParse(draft.AtLeast.Trim(), out var orders) ? orders : null) : fields.Amount("AtLeast", draft.AtLeast, currency);
        if (atLeast is not > 0) fields.Refuse("AtLeast", draft.Measure == TargetMeasure.Orders ? "Give a number of orders." : $"Give an amount in {currency.Code}.");
        var bonus = fields.Amount("Bonus", draft.Bonus, currency);
        var move = draft.MoveTo.Length > 0;
        if (move == bonus is > 0) fields.Refuse("Bonus", "Give a bonus, or choose the agreement they move to; one of the two.");
        if (move && book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == draft.MoveTo) is var to && (to is null || to.Id == agreement?.Id || to.Basis != agreement?.Basis))
        {
            fields.Refuse("MoveTo", "Choose another agreement that is earned on the same.");
        }
        if (fields.Faults.Count > 0) return fields.Faults;
        using var change = rulesChange.Begin();
        db.Targets.Add(new TargetRecord
        {
            Name = name,
            AgreementId = agreement!.Id.Value,
            Measure = draft.Measure,
            AtLeast = atLeast!.Value,
            Window = draft.Window,
            From = draft.From!.Value,
            To = draft.To,
            Bonus = move ? null : bonus,
            MoveTo = move ? draft.MoveTo : null,
        });
        audit.Note(by, "set target", name);
        // Whose progress is counted may have changed; no order is owed anything else for it.
        change.Commit();
        return [];
    }

    /// <summary>Ends a target at the start of a day; what was reached before stays.</summary>
    public void End(int id, DateOnly to, string by)
    {
        var target = db.Targets.Known(t => t.Id == id);
        if (to < target.From) throw new RefusedException($"It begins on {target.From.InWords()}.", "To");
        target.To = to;
        audit.Note(by, "end target", target.Name);
        db.SaveChanges();
    }

    /// <summary>Changes whenever somebody may have reached something: the last entry, the day, the rules.</summary>
    public (long Entry, DateOnly Today, long Rules) LastChange() =>
        (db.Entries.Max(e => (long?)e.Id) ?? 0, clock.Today, cache.Get(db).Record.RulesVersion);

    /// <summary>Proposes what has been reached since it was last looked.</summary>
    /// <returns>How many proposals that made.</returns>
    public int Notice()
    {
        var book = cache.Get(db);
        var today = clock.Today;
        var made = 0;
        foreach (var target in db.Targets.AsNoTracking().ToArray())
        {
            var agreement = book.Rules.Agreement(new AgreementId(target.AgreementId));
            var known = db.TargetsReached.Where(r => r.TargetId == target.Id).Select(r => new { r.Payee, r.WindowStart }).AsEnumerable().Select(r => (r.Payee, r.WindowStart)).ToHashSet();
            foreach (var (start, last) in TargetWindows.ToLookAt(target.Window, target.From, target.To, today))
            {
                foreach (var payee in book.Rules.Payees.Where(p => p.IsOn(agreement.Id, last) && !known.Contains((p.Id.Value, start))))
                {
                    var figure = Figure(target, db.StateAtEndOf(TrackKey.Of(payee.Id, agreement), agreement.Currency, last).Highest(target.Window, last));
                    if (figure < target.AtLeast) continue;
                    db.TargetsReached.Add(new TargetReachedRecord { TargetId = target.Id, Payee = payee.Id.Value, WindowStart = start, Figure = figure, NoticedOn = today });
                    made++;
                }
            }
        }
        db.SaveChanges();
        return made;
    }

    /// <summary>Days a bonus can be dated on, with the run that takes it: today, and the last day of a month whose run has not been locked.</summary>
    public IReadOnlyList<(DateOnly On, string Run)> BonusDays()
    {
        var today = clock.Today;
        var monthBefore = new DateOnly(today.Year, today.Month, 1).AddDays(-1);
        var isLocked = db.PayRuns.Any(r => r.AsOf >= monthBefore);
        return isLocked ? [(today, "the next run")] : [(monthBefore, $"the run as of {monthBefore.InWords()}"), (today, "the run after that")];
    }

    /// <summary>Gives what was promised: the bonus as an adjustment, or the other agreement from tomorrow.</summary>
    /// <param name="on">The day of the bonus, one of <see cref="BonusDays"/>; null for today.</param>
    /// <exception cref="RefusedException">It was decided already, the payee is no longer on the agreement they would leave, or no run takes that day any more.</exception>
    public void Take(int reachedId, string by, DateOnly? on = null)
    {
        using var transaction = db.Database.BeginTransaction();
        var reached = Undecided(reachedId);
        var target = db.Targets.Known(t => t.Id == reached.TargetId);
        var (book, today) = (cache.Get(db), clock.Today);
        if (target.MoveTo is { } moveTo) Move(target, reached.Payee, moveTo, today.AddDays(1), by);
        else
        {
            if (on is { } day && BonusDays().All(d => d.On != day)) throw new RefusedException($"The run that takes {day.InWords()} is locked; choose another day.");
            var currency = book.Rules.Agreement(new AgreementId(target.AgreementId)).Currency;
            adjustments.Add(BonusReference(reached), reached.Payee, on ?? today, new Money(target.Bonus!.Value, currency), AdjustmentKind.Bonus, $"{target.Name}, {WindowName(target, reached.WindowStart)}", by);
        }
        (reached.State, reached.DecidedBy) = (ReachedState.Taken, by);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <exception cref="RefusedException">No reason, or it was decided already.</exception>
    public void Decline(int reachedId, string reason, string by)
    {
        if (reason.Trim().Length == 0) throw new RefusedException("Say why, so that it can be answered when they ask.", "Reason");
        var reached = Undecided(reachedId);
        (reached.State, reached.DecidedBy, reached.Reason) = (ReachedState.Declined, by, reason.Trim());
        audit.Note(by, "decline target", reached.Payee);
        db.SaveChanges();
    }

    /// <summary>Takes a decision back: a bonus until a run has taken it, a refusal at any time.</summary>
    /// <exception cref="RefusedException">Nothing was decided, a run has taken the bonus, or the payee was moved.</exception>
    public void Undo(int reachedId, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        var reached = db.TargetsReached.Known(r => r.Id == reachedId);
        if (reached.State == ReachedState.Proposed) throw new RefusedException("It is not decided yet.");
        var target = db.Targets.Known(t => t.Id == reached.TargetId);
        if (reached.State == ReachedState.Taken)
        {
            if (target.MoveTo is { } moveTo) throw new RefusedException($"They were moved to {cache.Get(db).AgreementName(moveTo)}: change their days on its page and on that of the agreement they left.");
            var reference = BonusReference(reached);
            if (db.Adjustments.FirstOrDefault(a => a.Reference == reference) is { } bonus) adjustments.TakeBack(bonus.Id, by);
        }
        (reached.State, reached.DecidedBy, reached.Reason) = (ReachedState.Proposed, "", "");
        audit.Note(by, "undo the decision on a target", $"{target.Name}, {reached.Payee}");
        db.SaveChanges();
        transaction?.Commit();
    }

    /// <summary>Takes a target away that nobody has reached.</summary>
    /// <exception cref="RefusedException">Somebody has.</exception>
    public void TakeAway(int id, string by)
    {
        var target = db.Targets.Known(t => t.Id == id);
        if (db.TargetsReached.Any(r => r.TargetId == id)) throw new RefusedException("Somebody has reached it: end it instead.");
        using var change = rulesChange.Begin();
        db.Targets.Remove(target);
        audit.Note(by, "take away target", target.Name);
        change.Commit();
    }

    private static string BonusReference(TargetReachedRecord reached) => $"target-{reached.TargetId}-{reached.Payee}-{reached.WindowStart:yyyy-MM-dd}";

    private TargetReachedRecord Undecided(int id)
    {
        var reached = db.TargetsReached.Known(r => r.Id == id);
        return reached.State == ReachedState.Proposed ? reached : throw new RefusedException($"{reached.DecidedBy} has decided that already.");
    }

    private void Move(TargetRecord target, string payee, string moveTo, DateOnly from, string by)
    {
        var membership = db.Memberships.FirstOrDefault(m => m.PayeeId == payee && m.AgreementId == target.AgreementId && m.From < from && (m.To == null || m.To > from))
            ?? throw new RefusedException($"{cache.Get(db).PayeeName(payee)} is no longer on {cache.Get(db).AgreementName(target.AgreementId)}.");
        agreements.TakeOff(membership.Id, from, by);
        agreements.PutOn(moveTo, payee, from, by);
    }

    private static long Figure(TargetRecord target, ProgressFigures reached) => target.Measure switch
    {
        TargetMeasure.Sales => reached.Sales,
        TargetMeasure.Orders => reached.Orders,
        _ => reached.Earned,
    };

    private static string Says(OpenedBook book, TargetRecord target) =>
        $"Whoever on {book.AgreementName(target.AgreementId)} reaches {Amount(book, target, target.AtLeast)}{(target.Window == ProgressWindow.Lifetime ? "" : $" in one {target.Window.ToString().ToLowerInvariant()}")} {(target.MoveTo is null ? "gets" : "is")} {Gets(book, target)}.";

    private static string Gets(OpenedBook book, TargetRecord target) => target.MoveTo is { } to
        ? $"moved to {book.AgreementName(to)}"
        : $"a bonus of {new Money(target.Bonus ?? 0, book.Rules.Agreement(new AgreementId(target.AgreementId)).Currency).InWords()}";

    private static string Amount(OpenedBook book, TargetRecord target, long figure)
    {
        var money = new Money(figure, book.Rules.Agreement(new AgreementId(target.AgreementId)).Currency);
        return target.Measure switch
        {
            TargetMeasure.Orders => MoneyWords.Count(figure, "order"),
            TargetMeasure.Sales => $"sales of {money.InWords()}",
            _ => $"earnings of {money.InWords()}",
        };
    }

    private static string WindowName(TargetRecord target, DateOnly start) => target.Window switch
    {
        ProgressWindow.Month => Period.Of(start).Name,
        ProgressWindow.Quarter => $"quarter {(start.Month - 1) / 3 + 1} of {start.Year}",
        ProgressWindow.Year => $"{start.Year}",
        _ => "ever",
    };
}
