using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;

namespace EvenSplit.Books.Importing;

/// <summary>
/// The orders that wait in a recalculation, for one turn: those of the open month first, since they are what the next run pays, then by the time of their payments. Some thousand are read at once.
/// </summary>
/// <param name="today">In the book's zone.</param>
internal sealed class WaitingOrders(BookDbContext db, int recalculation, DateOnly today)
{
    private const int ReadAtOnce = 10_000;

    private List<RecalculationOrderRecord> _read = [];
    private int _taken;
    /// <summary>Whether there are no more of the open month, or none at all.</summary>
    private bool _isAll;

    /// <summary>The next ones, which go on waiting.</summary>
    /// <returns>Fewer than asked for where there are no more of the open month, or none at all.</returns>
    public IReadOnlyList<RecalculationOrderRecord> Next(int count)
    {
        if (_read.Count - _taken < count && !_isAll) Read();
        return _read.GetRange(_taken, Math.Min(count, _read.Count - _taken));
    }

    /// <summary>Takes the first of them, which wait no longer.</summary>
    public void Take(IReadOnlyCollection<RecalculationOrderRecord> first)
    {
        BulkWriter<RecalculationOrderRecord>.Deleting(db).WriteAll(first, alongside: true);
        _taken += first.Count;
        // What comes after the open month is found by reading again.
        if (_taken == _read.Count) _isAll = false;
    }

    private void Read()
    {
        var first = $"At, OrderId LIMIT {ReadAtOnce}";
        var month = new DateTimeOffset(Period.Of(today).FirstDay.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);
        _read = BulkReader<RecalculationOrderRecord>.Where(db, "RecalculationId = ? AND At >= ?", first, (long)recalculation, month.UtcTicks);
        if (_read.Count == 0) _read = BulkReader<RecalculationOrderRecord>.Where(db, "RecalculationId = ?", first, (long)recalculation);
        (_taken, _isAll) = (0, _read.Count < ReadAtOnce);
    }
}
