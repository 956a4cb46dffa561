using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>Payees of one schedule, and the run that serves them next.</summary>
/// <param name="AsOf">Null where they are paid on request.</param>
/// <param name="IsDue">Whether the date has come.</param>
public sealed record DueRun(PayoutSchedule Schedule, IReadOnlyList<string> Payees, DateOnly? AsOf, bool IsDue);

/// <summary>Which runs fall due by the schedules agreed with payees, and keeps the days on which nobody works.</summary>
public sealed class DueRuns(BookDbContext db, BookClock clock, AuditLog audit) : IUseCase
{
    /// <summary>Per schedule, the run that is due or the next that will be; the earliest first.</summary>
    public IReadOnlyList<DueRun> Find()
    {
        var holidays = db.Holidays.Select(h => h.On).ToHashSet();
        var served = LastServed();
        return [.. db.Payees.AsNoTracking().Select(p => new { p.Id, p.Schedule, p.Position }).OrderBy(p => p.Position).AsEnumerable().GroupBy(p => p.Schedule).Select(g =>
        {
            PayoutSchedule.TryParse(g.Key, out var schedule);
            var payees = g.Select(p => p.Id).ToArray();
            DateOnly? last = payees.Max(p => served.TryGetValue(p, out var on) ? on : (DateOnly?)null);
            var due = schedule.DueOnOrBefore(clock.Today, holidays);
            return due is not null && (last is null || last < due)
                ? new DueRun(schedule, payees, due, IsDue: true)
                : new DueRun(schedule, payees, schedule.DueOnOrAfter(clock.Today.AddDays(1), holidays), IsDue: false);
        }).OrderByDescending(d => d.IsDue).ThenBy(d => d.AsOf ?? DateOnly.MaxValue).ThenBy(d => d.Schedule.ToString(), StringComparer.Ordinal)];
    }

    /// <summary>By payee, the as-of date of the latest run that served them, one that is gathering too.</summary>
    private Dictionary<string, DateOnly> LastServed()
    {
        var last = db.Remittances.Join(db.PayRuns, r => r.RunId, r => r.Id, (r, run) => new { r.Payee, run.AsOf })
            .GroupBy(r => r.Payee).Select(g => new { g.Key, AsOf = g.Max(r => r.AsOf) }).ToDictionary(r => r.Key, r => r.AsOf);
        foreach (var run in db.PayRuns.AsNoTracking().Where(r => r.State == RunState.Gathering).ToArray())
        {
            foreach (var payee in run.Payees ?? [.. db.Payees.Select(p => p.Id)]) last[payee] = run.AsOf;
        }
        return last;
    }

    public IReadOnlyList<HolidayRecord> Holidays() => db.Holidays.AsNoTracking().OrderBy(h => h.On).ToArray();

    /// <exception cref="RefusedException">No day, or no name for it.</exception>
    public void AddHoliday(DateOnly? on, string name, string by)
    {
        if (on is not { } day) throw new RefusedException("Give the day.", "HolidayOn");
        if (string.IsNullOrWhiteSpace(name)) throw new RefusedException("Say which holiday it is.", "HolidayName");
        if (db.Holidays.Any(h => h.On == day)) throw new RefusedException($"{day.InWords()} is a holiday already.", "HolidayOn");
        db.Holidays.Add(new HolidayRecord { On = day, Name = name.Trim() });
        audit.Note(by, "add a holiday", $"{day.InWords()}, {name.Trim()}");
        db.SaveChanges();
    }

    public void RemoveHoliday(DateOnly on, string by)
    {
        if (db.Holidays.SingleOrDefault(h => h.On == on) is not { } holiday) return;
        db.Holidays.Remove(holiday);
        audit.Note(by, "remove a holiday", $"{on.InWords()}, {holiday.Name}");
        db.SaveChanges();
    }
}
