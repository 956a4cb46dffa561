using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>A book as it stands: its record, its rulebook and the names of what the ids mean.</summary>
/// <param name="Plans">Of the products that have a price or a payment plan.</param>
/// <param name="WithTargets">Agreements on which something can be reached.</param>
/// <param name="ClosedMonths">By number.</param>
public sealed record OpenedBook(
    BookRecord Record,
    Rulebook Rules,
    IReadOnlyDictionary<string, string> PayeeNames,
    IReadOnlyDictionary<string, string> AgreementNames,
    IReadOnlyDictionary<string, string> ProductNames,
    IReadOnlyDictionary<string, string> ChannelNames,
    IReadOnlyDictionary<ProductId, SellingPlan> Plans,
    IReadOnlyCollection<AgreementId> WithTargets,
    IReadOnlySet<int> ClosedMonths)
{
    public Currency Currency => Rules.Policy.Currency;
    public BookTime Time => Rules.Policy.Time;
    /// <summary>Whose progress the book's terms and targets ask for.</summary>
    public ProgressTracks Progress { get; } = new(Rules, WithTargets);

    /// <summary>The same book under other rules.</summary>
    public OpenedBook Under(Rulebook rules) => new(Record, rules, PayeeNames, AgreementNames, ProductNames, ChannelNames, Plans, WithTargets, ClosedMonths);

    /// <summary>Whether a month was closed by two persons: nothing is posted in it.</summary>
    public bool IsClosed(Period month) => ClosedMonths.Contains(month.Number);

    /// <summary>The day itself, or today where its month is closed.</summary>
    public DateOnly OpenDay(DateOnly on, DateOnly today) => IsClosed(Period.Of(on)) ? today : on;

    /// <exception cref="RefusedException">The month of a day somebody has typed is closed.</exception>
    internal void DemandOpen(DateOnly on, string? field = null)
    {
        if (IsClosed(Period.Of(on))) throw new RefusedException($"{Period.Of(on).Name} is closed: nothing of it changes any more. Give a day of a month that is open.", field);
    }

    /// <summary>An instant in the book's zone, to the minute: "3 Nov 2026 09:15".</summary>
    public string Local(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, Time.Zone).ToString("d MMM yyyy HH:mm", System.Globalization.CultureInfo.InvariantCulture);

    public string PayeeName(string id) => PayeeNames.GetValueOrDefault(id, id);
    public string AgreementName(string id) => AgreementNames.GetValueOrDefault(id, id);
    public string ProductName(string id) => ProductNames.GetValueOrDefault(id, id);
    public string ChannelName(string id) => ChannelNames.GetValueOrDefault(id, id);
}

/// <summary>Keeps the rulebook in memory and reads it anew only when something in it has changed.</summary>
public sealed class BookCache(IDbContextFactory<BookDbContext> books, BookPlace place) : IDisposable
{
    private readonly Lock _loading = new();
    private readonly RulesVersionQuery _version = new(place);
    private volatile OpenedBook? _opened;

    /// <summary>Null until the book has been opened with a name and a currency. Costs one small query where nothing has changed.</summary>
    public OpenedBook? Find()
    {
        if (_opened is { } known && _version.Ask() == (known.Record.RulesVersion, known.Record.DemoToday)) return known;
        using var db = books.CreateDbContext();
        return Find(db);
    }

    /// <summary>Reads inside the caller's transaction, so that a change it has just made is seen.</summary>
    public OpenedBook? Find(BookDbContext db)
    {
        var record = db.Book.AsNoTracking().SingleOrDefault();
        if (record is null) return null;
        if (_opened is { } known && Same(known.Record, record)) return known;
        lock (_loading)
        {
            if (_opened is { } loaded && Same(loaded.Record, record)) return loaded;
            var book = BookLoader.Load(db, record);
            // A change that is not committed yet is for its own transaction only.
            if (db.Database.CurrentTransaction is null) _opened = book;
            return book;
        }
    }

    /// <exception cref="RefusedException">The book has not been opened yet.</exception>
    public OpenedBook Get(BookDbContext db) => Find(db) ?? throw new RefusedException("The book has not been opened yet: give it a name and a currency first.");

    public void Dispose() => _version.Dispose();

    private static bool Same(BookRecord a, BookRecord b) => a.RulesVersion == b.RulesVersion && a.DemoToday == b.DemoToday;
}
