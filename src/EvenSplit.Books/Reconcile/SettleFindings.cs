using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>A row of a bench: a line, or where there is none what the book expects.</summary>
/// <param name="Line">Null where it is ours alone.</param>
/// <param name="Ours">Of ours alone what it is.</param>
public sealed record BenchRow(long? Line, string? Ours)
{
    /// <summary>As addresses and forms name it.</summary>
    public override string ToString() => Line is { } line ? $"l{line}" : $"o{Ours}";

    public static BenchRow Parse(string text) => text.Length > 1 && text[0] == 'l' && long.TryParse(text[1..], out var line) ? new(line, null)
        : text.Length > 1 && text[0] == 'o' ? new(null, text[1..])
        : throw new RefusedException("Choose a row.");
}

/// <summary>Settles what does not agree, each way with who, when and why, and undoes it (reconcile contract, sections 2 to 4). Fees are taken by <see cref="TakeTheirs"/>.</summary>
public sealed class SettleFindings(BookDbContext db, BookCache cache, BookClock clock, TakeTheirs theirs, FindMatches matches, AuditLog audit) : IUseCase
{
    /// <summary>Lets differences stand; what they come to is of the house.</summary>
    /// <exception cref="RefusedException">No reason was given.</exception>
    public void Accept(Bench bench, IReadOnlyCollection<BenchRow> rows, string reason, string by)
    {
        if (reason.Trim().Length == 0) throw new RefusedException("Say why it may stand; an auditor will ask.", "Reason");
        Settle(bench, rows, SettlingWay.Accept, null, "", reason, by);
    }

    /// <summary>Waits until a day; then it is open again.</summary>
    public void Wait(Bench bench, IReadOnlyCollection<BenchRow> rows, DateOnly? until, string reason, string by)
    {
        if (until is not { } day) throw new RefusedException("Say until which day.", "Until");
        if (day <= clock.Today) throw new RefusedException("Choose a day that is still to come.", "Until");
        Settle(bench, rows, SettlingWay.Wait, day, "", reason, by);
    }

    /// <summary>Says what a bank's line is that belongs to nothing of ours.</summary>
    public void BookTo(IReadOnlyCollection<BenchRow> rows, string account, string note, string by)
    {
        if (!BookedTo.All.ContainsKey(account)) throw new RefusedException("Choose what it is.", "Account");
        Settle(Bench.Bank, rows, SettlingWay.BookTo, null, account, note, by);
    }

    /// <summary>Holds a line against something of ours that was not found by itself.</summary>
    /// <param name="ours">Several with + between.</param>
    /// <exception cref="RefusedException">The book has nothing of that name, or another line is held against it.</exception>
    public void Link(Bench bench, long line, string ours, string reason, string by)
    {
        var wanted = ours.Split('+', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (wanted.Length == 0) throw new RefusedException("Choose what it belongs to.", "Ours");
        using var transaction = db.BeginUnlessBegun();
        var record = db.OutsideLines.Known(l => l.Id == line && l.Bench == bench);
        if (record.State != MatchState.Open) throw new RefusedException($"Line {record.LineId} of {record.Source} is not open any more; somebody has settled it, or it agrees by now.");
        foreach (var one in wanted)
        {
            if (!db.Awaited.Any(a => a.Bench == bench && a.Ours == one)) throw new RefusedException($"Nothing called {one} is awaited: the book does not have it, or another line is held against it.", "Ours");
        }
        EndSettlings(record.Id, null, by);
        Add(bench, record.Id, string.Join('+', wanted), SettlingWay.Link, null, "", reason, Finding.None, by);
        audit.Note(by, "link a line", $"{record.LineId} of {record.Source}: {string.Join(" + ", wanted)}");
        db.SaveChanges();
        Again(bench, [record], wanted);
        transaction?.Commit();
    }

    /// <summary>Takes back how rows were settled, whatever way it was; they are open again.</summary>
    /// <exception cref="NotSeenException">What it posts was not shown yet.</exception>
    public void Undo(Bench bench, IReadOnlyCollection<BenchRow> rows, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        foreach (var row in rows)
        {
            var line = row.Line is { } id ? db.OutsideLines.AsNoTracking().Known(l => l.Id == id && l.Bench == bench) : null;
            if (line is not null) DemandOpen(line);
            var ended = EndSettlings(row.Line, row.Ours, by);
            if (ended.Any(s => cache.Get(db).IsClosed(Period.Of(cache.Get(db).Time.DateOf(s.At))))) throw new RefusedException("This was settled in a month that is closed: nothing of it changes any more.");
            if (ended.Count == 0) throw new RefusedException("Nothing of it was settled by somebody.");
            audit.Note(by, "undo a settling", line is null ? row.Ours! : $"{line.LineId} of {line.Source}");
            db.SaveChanges();
            foreach (var taken in ended.Where(s => s.Way == SettlingWay.TakeTheirs)) theirs.GiveBack(line!, taken, by);
            if (line is not null) Again(bench, [line], [.. ended.Where(s => s.Way == SettlingWay.Link).SelectMany(s => s.Ours!.Split('+'))]);
        }
        transaction?.Commit();
    }

    /// <summary>Sets by how much a line of a report may differ and still agrees.</summary>
    public void SetTolerance(string report, string amount, string by)
    {
        var line = db.OutsideLines.AsNoTracking().FirstOrDefault(l => l.Bench == Bench.Partners && l.Source == report) ?? throw new RefusedException("There is no such report.");
        if (!Money.TryParseMajor(amount.Trim(), Currency.Of(line.Currency), out var money, out var expected) || money.Minor < 0) throw new RefusedException($"Give {expected ?? "an amount of 0 or more"}.", "Tolerance");
        var record = db.PartnerReports.Find(report) ?? db.PartnerReports.Add(new PartnerReportRecord { Report = report }).Entity;
        record.Tolerance = money.Minor;
        db.NoteChange(BenchChange.Report, report);
        audit.Note(by, "set a tolerance", $"{report}: {money.InWords()}");
        db.SaveChanges();
        matches.RunAll();
    }

    private void Settle(Bench bench, IReadOnlyCollection<BenchRow> rows, SettlingWay way, DateOnly? until, string account, string reason, string by)
    {
        if (rows.Count == 0) throw new RefusedException("Choose at least one row.");
        using var transaction = db.BeginUnlessBegun();
        var lines = new List<OutsideLineRecord>();
        foreach (var row in rows)
        {
            if (row.Line is { } id)
            {
                var line = db.OutsideLines.AsNoTracking().Known(l => l.Id == id && l.Bench == bench);
                if (line.State != MatchState.Open) throw new RefusedException($"Line {line.LineId} of {line.Source} is not open any more; somebody has settled it, or it agrees by now.");
                Add(bench, id, null, way, until, account, reason, line.Findings, by);
                lines.Add(line);
            }
            else
            {
                if (!db.Awaited.Any(a => a.Bench == bench && a.Ours == row.Ours)) throw new RefusedException($"{row.Ours} is awaited no more: a line has shown it since.");
                EndSettlings(null, row.Ours, by);
                Add(bench, null, row.Ours, way, until, account, reason, Finding.None, by);
            }
        }
        audit.Note(by, way switch { SettlingWay.Accept => "accept a difference", SettlingWay.Wait => "wait for a match", _ => $"book a line to {BookedTo.All[account]}" },
            $"{(lines.Count == 1 ? $"{lines[0].LineId} of {lines[0].Source}" : rows.Count == 1 ? rows.First().Ours : MoneyWords.Count(rows.Count, "row"))}: {reason.Trim()}");
        db.SaveChanges();
        Again(bench, lines, []);
        transaction?.Commit();
    }

    private void Add(Bench bench, long? line, string? ours, SettlingWay way, DateOnly? until, string account, string reason, Finding findings, string by) => db.Settlings.Add(new SettlingRecord
    {
        Bench = bench,
        LineId = line,
        Ours = ours,
        Way = way,
        Until = until,
        Account = account,
        Reason = reason.Trim(),
        Findings = findings,
        By = by,
        At = clock.GetUtcNow(),
    });

    /// <exception cref="RefusedException">The line is of a month that is closed.</exception>
    private void DemandOpen(OutsideLineRecord line)
    {
        if (line.Bench != Bench.Partners) cache.Get(db).DemandOpen(line.JournalOn ?? line.On);
    }

    private List<SettlingRecord> EndSettlings(long? line, string? ours, string by)
    {
        var active = db.Settlings.Where(s => s.UndoneBy == null && (line != null ? s.LineId == line : s.LineId == null && s.Ours == ours)).ToList();
        foreach (var settling in active) (settling.UndoneBy, settling.UndoneAt) = (by, clock.GetUtcNow());
        return active;
    }

    /// <summary>Finds the matches again that a settling can have changed.</summary>
    private void Again(Bench bench, IReadOnlyList<OutsideLineRecord> lines, IReadOnlyList<string> linked)
    {
        db.ChangeTracker.Clear();
        if (bench != Bench.Processors)
        {
            matches.RunAll();
            return;
        }
        var orders = linked.Select(OrderOf).ToArray();
        matches.Of(lines.Select(l => l.Order).Concat(orders).OfType<string>());
        foreach (var line in lines) Alone(line.Id);
    }

    private string? OrderOf(string ours)
    {
        var id = ours[(ours.IndexOf(':', StringComparison.Ordinal) + 1)..];
        return ours.StartsWith("sale:", StringComparison.Ordinal) ? id : db.AllRefunds.Where(r => r.RefundId == id).Join(db.Orders, r => r.OrderId, o => o.Id, (r, o) => o.OrderId).FirstOrDefault();
    }

    /// <summary>A line that names no order, or is of none, is held against nothing unless it is linked.</summary>
    private void Alone(long id)
    {
        var line = db.OutsideLines.Single(l => l.Id == id);
        if (line.Order is not null && line.Kind < MovementKind.Fee) return;
        var settlings = db.Settlings.AsNoTracking().Where(s => s.LineId == id).ToArray();
        if (settlings.Any(s => s is { Way: SettlingWay.Link, UndoneBy: null })) return;
        // A payout stands beside what it should have been.
        if (line.Kind < MovementKind.Fee) line.Set(null, null, null, Finding.NotInBook, settlings, clock.Today);
        else line.Set(null, line.GrossOurs, line.FeeOurs, Finding.None, settlings, clock.Today);
        db.SaveChanges();
    }
}

/// <summary>What a bank's line is booked to that belongs to nothing of ours: the account of the journal, and its words.</summary>
public static class BookedTo
{
    public static IReadOnlyDictionary<string, string> All { get; } = new Dictionary<string, string>
    {
        ["Expenses:Bank charges"] = "bank charges",
        ["Income:Interest"] = "interest earned",
        ["Expenses:Interest"] = "interest paid",
        ["Income:Other"] = "other income",
        ["Expenses:Other"] = "another cost",
        ["Equity:Owner"] = "paid in or taken out by the owner",
    };
}
