using EvenSplit.Books;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Keeping;

namespace EvenSplit.Web.Serving;

/// <summary>What is done once a night, by the machine's clock: backing up where there is a plan, and thinning out.</summary>
public sealed class Nights(BackupPlan? plan)
{
    /// <summary>When hardly anybody works.</summary>
    private static readonly TimeSpan Hour = TimeSpan.FromHours(3);

    /// <summary>What failed is not tried again at once: it reads and writes the whole book.</summary>
    private static readonly TimeSpan BeforeAnotherTry = TimeSpan.FromHours(1);

    private DateTimeOffset? _backedUp, _thinned;

    private (DateTimeOffset At, string Says)? _failed;

    public BackupPlan? Plan => plan;

    /// <summary>The night that began last.</summary>
    public static DateTimeOffset LastBefore(DateTimeOffset now)
    {
        var local = TimeZoneInfo.ConvertTime(now, TimeZoneInfo.Local);
        var night = new DateTimeOffset(local.Date + Hour, local.Offset);
        return night <= now ? night : night.AddDays(-1);
    }

    /// <returns>Whether it was time.</returns>
    public bool BackUp(BackupSchedule schedule, BookBackup backup, DateTimeOffset now)
    {
        if (plan is null) return false;
        // One that was made by hand since is enough.
        _backedUp ??= backup.Last() ?? DateTimeOffset.MinValue;
        if (_backedUp >= LastBefore(now)) return false;
        // The desk goes on telling of it until then.
        if (_failed is var (at, says) && at + BeforeAnotherTry > now) throw new RefusedException(says);
        try
        {
            schedule.Make(plan, now);
        }
        catch (Exception fault)
        {
            _failed = (now, fault.Message);
            throw;
        }
        (_backedUp, _failed) = (now, null);
        return true;
    }

    public bool Thin(Retention retention, DateTimeOffset now, CancellationToken stopping)
    {
        _thinned ??= now;
        if (_thinned >= LastBefore(now)) return false;
        _thinned = now;
        var (clicks, events) = retention.Thin(now, stopping);
        return clicks + events > 0;
    }
}
