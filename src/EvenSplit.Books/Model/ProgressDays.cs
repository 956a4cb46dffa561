using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Model;

/// <summary>Reads how tracks stand from the kept sums of their days.</summary>
internal static class ProgressDays
{
    public static IQueryable<ProgressDayRecord> DaysOf(this BookDbContext db, TrackKey track, Currency currency)
    {
        var (payee, agreement, code) = (track.Payee.Value, track.Agreement?.Value ?? "", currency.Code);
        return db.ProgressDays.AsNoTracking().Where(d => d.Payee == payee && d.Agreement == agreement && d.Currency == code);
    }

    /// <summary>How a track stood when a day in the book's zone was over.</summary>
    public static ProgressState StateAtEndOf(this BookDbContext db, TrackKey track, Currency currency, DateOnly day) => After(db.DaysOf(track, currency).Where(d => d.On <= day));

    /// <summary>How a track stood before a day in the book's zone began.</summary>
    public static ProgressState StateBefore(this BookDbContext db, TrackKey track, Currency currency, DateOnly day) => After(db.DaysOf(track, currency).Where(d => d.On < day));

    private static ProgressState After(IQueryable<ProgressDayRecord> days)
    {
        var state = default(ProgressState);
        foreach (var past in days.OrderBy(d => d.On)) state = state.After(past.On, past.Span);
        return state;
    }
}
