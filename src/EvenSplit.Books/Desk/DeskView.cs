using EvenSplit.Books.Backups;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Reconcile;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Desk;

public enum StepState { Done, Next, Blocked, Later }

public enum StepKind { Sales, Quarantine, Exceptions, Targets, Applications, Questions, Requests, TaxForms, Details, WriteOffs, Doubts, CameBack, Due, Gather, Lock, Approve, Pay, Reports, Bank, Close, CloseMonth }

/// <summary>One step of the month end: what there is to do, and what is in its way.</summary>
/// <param name="RunId">The run it is about, where there is one.</param>
/// <param name="IsForAnother">Whether somebody else than who began it has to do it.</param>
public sealed record Step(StepKind Kind, StepState State, string Words, int? RunId = null, bool IsForAnother = false);

/// <summary>What needs a person this month end, and where the month's money went.</summary>
public sealed record DeskView(
    Period Period, long Orders, IReadOnlyList<Ribbon> Ribbons, IReadOnlyList<Money> TakenBack, IReadOnlyList<Step> Steps,
    IReadOnlyList<OpenBalance> Open, RecalculationRecord? Recalculation, BookCheckRecord? LastCheck, IReadOnlyList<WorkFault> Faults)
{
    /// <summary>When the book was last backed up; null where it never was.</summary>
    public DateTimeOffset? LastBackup { get; init; }

    /// <summary>When the backup was made that the book came back from, as long as that is not settled.</summary>
    public DateTimeOffset? RestoredFrom { get; init; }
}

/// <summary>Puts the desk together for a month.</summary>
public sealed class OpenDesk(BookDbContext db, DueRuns due, OpenBalances balances, BookCheck check, BookClock clock, WorkFaults faults, BookBackup backups, RestoredBook restored, Benches benches) : IUseCase
{
    public DeskView Find(Period period)
    {
        var totals = db.PeriodTotals.AsNoTracking().Where(t => t.Period == period.Number && t.Orders > 0).OrderByDescending(t => t.Charged).ToArray();
        var takenBack = db.EntrySums.Where(e => e.Period == period.Number && e.IsReversal)
            .GroupBy(e => e.Currency).Select(g => new { g.Key, Sum = g.Sum(e => e.Amount) }).AsEnumerable()
            .Select(t => new Money(t.Sum, Currency.Of(t.Key))).ToArray();
        var today = clock.Today;
        var orders = totals.Sum(t => t.Orders);
        return new DeskView(
            period, orders,
            totals.Select(t => Ribbon.Of(
                Currency.Of(t.Currency), t.Charged, t.Rebate, t.Tax, t.ProcessingFee + t.ChannelFee, t.Affiliates, t.Collaborators, t.Vendors, t.House, t.ShippingKept)).ToArray(),
            takenBack,
            Steps(period, orders, totals.Sum(t => t.WithExceptions), today),
            balances.Find(),
            db.Recalculations.AsNoTracking().FirstOrDefault(r => !r.IsFinished),
            check.Latest(),
            faults.Now)
        {
            LastBackup = backups.Last(),
            RestoredFrom = restored.From,
        };
    }

    private List<Step> Steps(Period period, long orders, long withExceptions, DateOnly today)
    {
        var waiting = db.Quarantine.Count(q => q.State == QuarantineState.Waiting);
        var steps = new List<Step>
        {
            new(StepKind.Sales, orders > 0 ? StepState.Done : StepState.Next,
                orders > 0 ? $"{MoneyWords.Count(orders, "paid order")} in {period.Name}" : $"Bring in the sales of {period.Name}"),
            new(StepKind.Quarantine, waiting == 0 ? StepState.Done : StepState.Next,
                waiting == 0 ? "No rows wait in quarantine" : $"{MoneyWords.Count(waiting, "row")} in quarantine: correct and send again, or discard"),
            new(StepKind.Exceptions, withExceptions == 0 ? StepState.Done : StepState.Next,
                withExceptions == 0 ? "No order has an exception" : $"{MoneyWords.Count(withExceptions, "order")} with an exception: look them over"),
        };
        steps.Add(Compared(StepKind.Reports, period, "processors and partners", Bench.Processors, Bench.Partners));
        var reached = db.TargetsReached.Count(r => r.State == ReachedState.Proposed);
        if (reached > 0) steps.Add(new Step(StepKind.Targets, StepState.Next, $"{MoneyWords.Count(reached, "payee has", "payees have")} reached a target: decide what they get"));
        steps.AddRange(OfPeople());
        var details = db.PayoutDetails.Count(d => d.ConfirmedBy == null && d.RefusedBy == null);
        if (details > 0) steps.Add(new Step(StepKind.Details, StepState.Next, $"{MoneyWords.Count(details, "change")} of payout details: have somebody else confirm", IsForAnother: true));
        var writeOffs = db.WriteOffs.Count(w => w.ConfirmedBy == null && w.RefusedBy == null);
        if (writeOffs > 0) steps.Add(new Step(StepKind.WriteOffs, StepState.Next, $"{MoneyWords.Count(writeOffs, "write-off")}: have somebody else confirm", IsForAnother: true));
        var doubts = db.PaymentDoubts.Where(d => d.SettledBy == null).GroupBy(d => d.Kind == PaymentDoubtKind.PaidThoughRefused).Select(g => new { g.Key, Count = g.Count() }).ToDictionary(g => g.Key, g => g.Count);
        if (doubts.GetValueOrDefault(true) is > 0 and var made) steps.Add(new Step(StepKind.Doubts, StepState.Blocked, $"{MoneyWords.Count(made, "payment was", "payments were")} made though refused: see that nothing is paid twice"));
        if (doubts.GetValueOrDefault(false) is > 0 and var told) steps.Add(new Step(StepKind.Doubts, StepState.Next, $"{MoneyWords.Count(told, "payment")} did not arrive, as an uploaded file says: have somebody else confirm", IsForAnother: true));
        var cameBack = db.Adjustments.Count(a => a.RunId == null && a.Kind == AdjustmentKind.Returned);
        if (cameBack > 0) steps.Add(new Step(StepKind.CameBack, StepState.Next, $"{MoneyWords.Count(cameBack, "payment")} came back and is owed again: the next run takes {(cameBack == 1 ? "it" : "them")}"));
        // The month's own run is a step below; others stand here when they fall due.
        if (today >= period.FirstDay && due.Find() is { Count: > 1 } runs)
        {
            steps.AddRange(runs.Where(r => r is { IsDue: true, Schedule.Kind: not ScheduleKind.MonthEnd }).Select(r => new Step(StepKind.Due, StepState.Next, $"Gather the run of those paid {r.Schedule.InWords()}: due as of {r.AsOf!.Value.InWords()}")));
        }
        steps.AddRange(RunSteps(period, today, waiting));
        return steps;
    }

    /// <summary>What people ask of the house; nothing stands here where nobody asks.</summary>
    private IEnumerable<Step> OfPeople()
    {
        if (db.Applications.Count(a => a.State == ApplicationState.Waiting) is > 0 and var asks) yield return new Step(StepKind.Applications, StepState.Next, $"{MoneyWords.Count(asks, "person asks", "people ask")} to take part: approve or decline");
        if (db.PayeeQuestions.Count(q => q.AnsweredAt == null) is > 0 and var questions) yield return new Step(StepKind.Questions, StepState.Next, $"{MoneyWords.Count(questions, "question")} of payees: answer");
        if (db.PaymentRequests.Count(r => r.RunId == null && r.WithdrawnAt == null) is > 0 and var requests) yield return new Step(StepKind.Requests, StepState.Next, $"{MoneyWords.Count(requests, "payee asks", "payees ask")} to be paid: gather a run for them");
        if (db.TaxForms.Count(f => f.CheckedAt == null) is > 0 and var forms) yield return new Step(StepKind.TaxForms, StepState.Next, $"{MoneyWords.Count(forms, "tax form")} sent by payees: check");
    }

    private IEnumerable<Step> RunSteps(Period period, DateOnly today, int waiting)
    {
        var run = db.PayRuns.AsNoTracking().Include(r => r.Remittances)
            // A run for a few, between, is not the month's.
            .Where(r => (r.Payees == null || r.AsOf == period.LastDay) && r.AsOf >= period.FirstDay && r.AsOf <= period.LastDay).OrderByDescending(r => r.Id).FirstOrDefault();
        var state = run?.State;
        var id = run?.Id;
        var last = period.LastDay.InWords();
        yield return run is not null ? new Step(StepKind.Gather, StepState.Done, $"Run as of {run.AsOf.InWords()} gathered", id)
            : period.LastDay > today ? new Step(StepKind.Gather, StepState.Blocked, $"Gather the pay run: {period.Name} ends on {last}")
            : waiting > 0 ? new Step(StepKind.Gather, StepState.Blocked, $"Gather the pay run as of {last}: rows still wait in quarantine")
            : new Step(StepKind.Gather, StepState.Next, $"Gather the pay run as of {last}");
        yield return new Step(StepKind.Lock, At(state, RunState.Gathering), state > RunState.Gathering ? $"Locked by {run!.LockedBy}" : "Look it over and lock it: nothing joins any more", id);
        yield return new Step(StepKind.Approve, At(state, RunState.Locked), state > RunState.Locked ? $"Approved by {run!.ApprovedBy}" : db.Book.Any(b => b.WorksAlone) ? "Compare the control sums and approve it" : "Have somebody else approve it", id, IsForAnother: true);
        var unpaid = run?.Remittances.Count(r => r.Paid > 0 && r.State is RemittanceState.Ready or RemittanceState.Sent) ?? 0;
        var cameBack = run?.Remittances.Count(r => r.Paid > 0 && r.State is RemittanceState.Refused or RemittanceState.Returned or RemittanceState.SetAside) ?? 0;
        var but = cameBack > 0 ? $", {cameBack} came back and {(cameBack == 1 ? "is" : "are")} owed again" : "";
        var paying = state is RunState.Approved or RunState.Issued;
        yield return new Step(
            StepKind.Pay,
            state == RunState.Closed || (paying && unpaid == 0) ? StepState.Done : paying ? StepState.Next : StepState.Later,
            paying && unpaid > 0 ? $"Pay and mark {MoneyWords.Count(unpaid, "remittance")}" : state == RunState.Closed || paying ? $"{MoneyWords.Count(run!.Remittances.Count(r => r.State == RemittanceState.Confirmed), "remittance is", "remittances are")} paid{but}" : "Pay, and mark each remittance paid", id);
        yield return Compared(StepKind.Bank, period, "the bank", Bench.Bank);
        yield return new Step(
            StepKind.Close, state == RunState.Closed ? StepState.Done : paying && unpaid == 0 ? StepState.Next : StepState.Later,
            state == RunState.Closed ? "The run is closed" : "Close the run", id);
        var close = db.MonthCloses.AsNoTracking().SingleOrDefault(c => c.Period == period.Number && c.OpenedConfirmedBy == null && !c.IsWithdrawn);
        yield return new Step(
            StepKind.CloseMonth, close?.ConfirmedBy is not null ? StepState.Done : close is not null ? StepState.Next : state == RunState.Closed && benches.Open(period) == 0 && waiting == 0 ? StepState.Next : StepState.Later,
            close is null ? $"Prove {period.Name} and close it" : close.ConfirmedBy is { } confirmed ? $"{period.Name} is closed, by {close.ClosedBy} and {confirmed}" : $"{close.ClosedBy} closed {period.Name}: have somebody else confirm", IsForAnother: close is not null);
    }

    /// <summary>What others say of the month against the book: to be brought in, looked at, or done.</summary>
    private Step Compared(StepKind kind, Period period, string who, params Bench[] of)
    {
        var (first, last, open) = (period.FirstDay, period.LastDay, of.Sum(b => benches.Open(b, period)));
        if (open > 0) return new Step(kind, StepState.Next, $"{MoneyWords.Count(open, "finding")} on what {who} {(of.Length == 1 ? "says" : "say")} against the book: settle");
        return of.Any(b => db.OutsideLines.Any(l => l.Bench == b && l.On >= first && l.On <= last))
            ? new Step(kind, StepState.Done, $"{char.ToUpperInvariant(who[0])}{who[1..]} {(of.Length == 1 ? "agrees" : "agree")} with the book")
            : new Step(kind, of.Any(benches.IsUsed) ? StepState.Next : StepState.Later, $"Bring in what {who} {(of.Length == 1 ? "says" : "say")} of {period.Name}");
    }

    private static StepState At(RunState? state, RunState when) =>
        state is null || state < when ? StepState.Later : state == when ? StepState.Next : StepState.Done;
}
