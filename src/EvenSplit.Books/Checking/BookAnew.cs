using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>An event of a track as it comes to.</summary>
internal readonly record struct TrackEvent(BookEvents.Moment Moment, long OrderKey, DateOnly On, ProgressFigures Figures);

/// <summary>The whole book worked out from its facts, by the same computation as calc, with all that the book keeps of it.</summary>
internal sealed class BookAnew
{
    private readonly Dictionary<string, OrderRecord> _figures = [];
    private readonly Dictionary<(string Payee, string Agreement, string Currency), List<TrackEvent>> _tracks = [];

    public required OpenedBook Book { get; init; }
    public required Facts Facts { get; init; }

    /// <summary>By order id, the order's key.</summary>
    public required IReadOnlyDictionary<string, long> Keys { get; init; }

    public BookResult Result { get; private set; } = null!;

    /// <summary>By order id, the figures that belong on its row; <see cref="OrderRecord.Exceptions"/> is left at 0.</summary>
    public IReadOnlyDictionary<string, OrderRecord> Figures => _figures;

    public IReadOnlyDictionary<(string Payee, string Agreement, string Currency), List<TrackEvent>> Tracks => _tracks;

    public static BookAnew WorkOut(BookDbContext db, OpenedBook book, Facts facts)
    {
        var anew = new BookAnew
        {
            Book = book,
            // Runs are held against what they took, by the rules of their day; here only sales are worked out.
            Facts = facts with { Adjustments = [], Runs = [] },
            Keys = db.Orders.AsNoTracking().Select(o => new { o.Id, o.OrderId }).ToDictionary(o => o.OrderId, o => o.Id),
        };
        anew.WorkOut();
        return anew;
    }

    private void WorkOut()
    {
        foreach (var track in Book.Progress.All) _tracks.Add((track.Key.Payee.Value, track.Key.Agreement?.Value ?? "", track.Currency.Code), []);
        var refunded = Facts.Refunds.Select(r => r.Order.Value).ToHashSet();
        Result = WholeBook.WorkOut(Facts, new BookWatch
        {
            Tracks = Book.Progress,
            OnLedger = ledger => Note(OrderOutcome.Of(Book.Rules, ledger), refunded),
            OnEvent = Follow,
        });
        foreach (var order in Facts.Orders.Where(o => o.IsTest || o.PaidAt is null)) Note(OrderOutcome.WorkOut(Book, order, [], null, new NothingSoFar()), refunded);
    }

    private void Note(OrderOutcome outcome, HashSet<string> refunded)
    {
        var record = new OrderRecord { OrderId = outcome.Order.Id.Value, Channel = "", Currency = outcome.Order.Currency.Code };
        outcome.WriteFigures(record, Book.Rules, 0, refunded.Contains(record.OrderId));
        record.Period = Period.Of(Book.Time.DateOf(outcome.Order.PaidAt ?? outcome.Order.PlacedAt)).Number;
        _figures.Add(record.OrderId, record);
    }

    private void Follow(SettledEvent settled)
    {
        foreach (var change in settled.Changes)
        {
            var events = _tracks[(change.Track.Key.Payee.Value, change.Track.Key.Agreement?.Value ?? "", change.Track.Currency.Code)];
            events.Add(new TrackEvent(settled.Moment, Keys[settled.Order.Value], settled.On, change.Figures));
        }
    }
}
