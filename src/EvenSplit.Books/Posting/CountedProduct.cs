using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>The counted sales of one product by their days: as the book has them, and as they are now. Sales are read only of days that change or are asked for.</summary>
internal sealed class CountedProduct
{
    private sealed class Day(long was)
    {
        public long Was { get; } = was;
        public long Now { get; set; } = was;
        public List<CountedSaleRecord>? SalesBefore { get; set; }
        public List<CountedSaleRecord>? Sales { get; set; }
    }

    private readonly BookDbContext _db;
    private readonly string _product;
    private readonly SortedDictionary<DateOnly, Day> _days;
    private readonly HashSet<DateOnly> _changed = [];
    /// <summary>Units sold before each sale of days that were asked for, until something changes.</summary>
    private readonly Dictionary<DateOnly, long[]> _soldBefore = [];

    public CountedProduct(BookDbContext db, string product)
    {
        (_db, _product) = (db, product);
        _days = new SortedDictionary<DateOnly, Day>(db.CountedDays.AsNoTracking().Where(d => d.Product == product).ToDictionary(d => d.On, d => new Day(d.Quantity)));
    }

    /// <summary>The day a sale counts for, in UTC.</summary>
    public static DateOnly DayOf(DateTimeOffset placedAt) => DateOnly.FromDateTime(placedAt.UtcDateTime);

    public void Remove(CountedSaleRecord sale)
    {
        var (on, day) = Changing(sale);
        day.Sales!.RemoveAll(s => s.OrderId == sale.OrderId && s.LineNumber == sale.LineNumber);
        day.Now -= sale.Quantity;
        _changed.Add(on);
    }

    public void Add(CountedSaleRecord sale)
    {
        var (on, day) = Changing(sale);
        var index = day.Sales!.BinarySearch(sale, InTime);
        day.Sales.Insert(index < 0 ? ~index : index, sale);
        day.Now += sale.Quantity;
        _changed.Add(on);
    }

    /// <summary>Units sold before a sale.</summary>
    public long SoldBefore(CountedSaleRecord sale)
    {
        var on = DayOf(sale.PlacedAt);
        var sales = Read(on, _days[on]).Sales!;
        if (!_soldBefore.TryGetValue(on, out var before)) _soldBefore[on] = before = [.. Before(sales, _days.TakeWhile(d => d.Key < on).Sum(d => d.Value.Now)).Select(s => s.Sold)];
        return before[sales.BinarySearch(sale, InTime)];
    }

    /// <summary>Orders whose sales are judged otherwise now than as the book has them.</summary>
    public IEnumerable<long> JudgedOtherwise(SellingPlan plan)
    {
        if (_changed.Count == 0) yield break;
        var (first, last) = (_changed.Min(), _changed.Max());
        var (was, now) = (0L, 0L);
        foreach (var (on, day) in _days)
        {
            if (on > last && was == now) yield break;
            if (on >= first && (_changed.Contains(on) || !PriceAudit.JudgesAllAlike(plan, day.Was, was, now)))
            {
                Read(on, day);
                var soldBefore = Before(day.SalesBefore!, was).ToDictionary(s => s.Sale, s => s.Sold);
                foreach (var (sale, sold) in Before(day.Sales!, now))
                {
                    if (soldBefore.TryGetValue(sale, out var then) && !PriceAudit.JudgesAlike(plan, sale.Quantity, then, sold)) yield return sale.OrderId;
                }
            }
            (was, now) = (was + day.Was, now + day.Now);
        }
    }

    /// <summary>Rows of sales that are to go and that are to come, and of days.</summary>
    public (IEnumerable<CountedSaleRecord> Gone, IEnumerable<CountedSaleRecord> Come, IEnumerable<CountedDayRecord> EmptyDays, IEnumerable<CountedDayRecord> Days) Changes()
    {
        var days = _changed.Select(on => (On: on, Day: _days[on])).ToArray();
        return (
            days.SelectMany(d => d.Day.SalesBefore!.Except(d.Day.Sales!)), days.SelectMany(d => d.Day.Sales!.Except(d.Day.SalesBefore!)),
            days.Where(d => d.Day.Sales!.Count == 0).Select(d => ToRecord(d.On, d.Day)), days.Where(d => d.Day.Sales!.Count > 0).Select(d => ToRecord(d.On, d.Day)));
    }

    /// <summary>In the order in which sales are counted.</summary>
    private static Comparer<CountedSaleRecord> InTime { get; } = Comparer<CountedSaleRecord>.Create((a, b) => (a.PlacedAt, a.OrderId, a.LineNumber).CompareTo((b.PlacedAt, b.OrderId, b.LineNumber)));

    private static IEnumerable<(CountedSaleRecord Sale, long Sold)> Before(List<CountedSaleRecord> sales, long sold)
    {
        foreach (var sale in sales)
        {
            yield return (sale, sold);
            sold += sale.Quantity;
        }
    }

    private (DateOnly On, Day Day) Changing(CountedSaleRecord sale)
    {
        _soldBefore.Clear();
        var on = DayOf(sale.PlacedAt);
        if (!_days.TryGetValue(on, out var day)) _days[on] = day = new Day(0) { Sales = [], SalesBefore = [] };
        return (on, Read(on, day));
    }

    private Day Read(DateOnly on, Day day)
    {
        if (day.Sales is not null) return day;
        var (from, to) = (new DateTimeOffset(on.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero), new DateTimeOffset(on.ToDateTime(TimeOnly.MaxValue), TimeSpan.Zero));
        day.SalesBefore = BulkReader<CountedSaleRecord>.Where(_db, "Product = ? AND PlacedAt BETWEEN ? AND ?", "PlacedAt, OrderId, LineNumber", _product, from.UtcTicks, to.UtcTicks);
        day.Sales = [.. day.SalesBefore];
        return day;
    }

    private CountedDayRecord ToRecord(DateOnly on, Day day) => new() { Product = _product, On = on, Quantity = day.Now };
}
