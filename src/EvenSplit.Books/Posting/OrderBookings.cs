using System.Data.Common;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Books sales and refunds for the journal (reconcile contract, section 5): what an order comes to less what is booked of it. What comes first is booked on its own day, a
/// difference on the day on which it is found; neither into a closed month.
/// </summary>
internal sealed class OrderBookings(BookDbContext db, OpenedBook book, DateOnly today)
{
    /// <summary>One thing of an order that has a booking of its own, at one processor and channel.</summary>
    private readonly record struct Slot(long Order, string? Refund, string Processor, string Channel, string Currency);

    private readonly record struct Sums(long Goods, long Shipping, long Tax, long ProcessingFee, long ChannelFee, long Rebate)
    {
        public Sums Less(Sums other) =>
            new(Goods - other.Goods, Shipping - other.Shipping, Tax - other.Tax, ProcessingFee - other.ProcessingFee, ChannelFee - other.ChannelFee, Rebate - other.Rebate);
    }

    /// <summary>Books the differences of some orders, inside the caller's transaction.</summary>
    /// <param name="names">As the shop calls them; the book may not have them.</param>
    public void Book(IReadOnlyCollection<string> names)
    {
        var text = JsonSerializer.Serialize(names);
        var (wanted, days) = (new Dictionary<Slot, Sums>(), new Dictionary<(long, string?), DateOnly>());
        var refunded = Orders(text, wanted, days);
        Refunds(refunded, wanted, days);
        var (booked, known) = Booked(text);
        var bookings = new List<BookingRecord>();
        foreach (var (slot, sums) in wanted)
        {
            booked.Remove(slot, out var was);
            if (sums == was) continue;
            bookings.Add(Booking(slot, sums.Less(was), days[(slot.Order, slot.Refund)], isFirst: !known.Contains((slot.Order, slot.Refund))));
        }
        // Of what is no more, as a refund that never was, or is at another processor now.
        bookings.AddRange(booked.Where(b => b.Value != default).Select(b => Booking(b.Key, default(Sums).Less(b.Value), days.GetValueOrDefault((b.Key.Order, b.Key.Refund), today), isFirst: false)));
        if (bookings.Count == 0) return;
        var kept = new KeptJournalDays();
        var id = db.Bookings.Max(b => (long?)b.Id) ?? 0;
        foreach (var booking in bookings)
        {
            booking.Id = ++id;
            kept.AddBooking(booking);
        }
        BulkWriter<BookingRecord>.Inserting(db).WriteAll(bookings, alongside: false);
        kept.Save(db, alongside: false);
    }

    private BookingRecord Booking(Slot slot, Sums sums, DateOnly day, bool isFirst)
    {
        var isClosed = book.IsClosed(Period.Of(day));
        var on = isFirst && !isClosed ? day : today;
        return new BookingRecord
        {
            OrderId = slot.Order,
            Refund = slot.Refund,
            On = on,
            Period = Period.Of(on).Number,
            ForPeriod = isClosed ? Period.Of(day).Number : null,
            Processor = slot.Processor,
            Channel = slot.Channel,
            Currency = slot.Currency,
            Goods = sums.Goods,
            Shipping = sums.Shipping,
            Tax = sums.Tax,
            ProcessingFee = sums.ProcessingFee,
            ChannelFee = sums.ChannelFee,
            Rebate = sums.Rebate,
        };
    }

    /// <returns>Keys of those of which something was refunded.</returns>
    private long[] Orders(string names, Dictionary<Slot, Sums> wanted, Dictionary<(long, string?), DateOnly> days)
    {
        var refunded = new List<long>();
        using var command = Command(
            "SELECT Id, Processor, Channel, Currency, PaidAt, GoodsNet, ShippingNet, Tax, ProcessingFee, ChannelFee, Rebate, IsRefunded FROM Orders WHERE NOT IsTest AND PaidAt IS NOT NULL AND OrderId IN (SELECT value FROM json_each($names))", names);
        using var row = command.ExecuteReader();
        while (row.Read())
        {
            var key = row.GetInt64(0);
            var sums = new Sums(row.GetInt64(5), row.GetInt64(6), row.GetInt64(7), row.GetInt64(8), row.GetInt64(9), row.GetInt64(10));
            days[(key, null)] = book.Time.DateOf(new DateTimeOffset(row.GetInt64(4), TimeSpan.Zero));
            if (sums != default) wanted[new Slot(key, null, row.IsDBNull(1) ? "" : row.GetString(1), row.GetString(2), row.GetString(3))] = sums;
            if (row.GetBoolean(11)) refunded.Add(key);
        }
        return [.. refunded.Order()];
    }

    private void Refunds(long[] orders, Dictionary<Slot, Sums> wanted, Dictionary<(long, string?), DateOnly> days)
    {
        if (orders.Length == 0) return;
        var refunds = db.Refunds.AsNoTracking().Include(r => r.Lines).Where(r => orders.Contains(r.OrderId)).ToLookup(r => r.OrderId);
        foreach (var (key, order) in new OrdersInBulk(db).Read(orders))
        {
            foreach (var taken in Movements.OfAny(book.Rules, order, refunds[key].Select(r => OrderFacts.ToRefund(r, order.Id))).Where(m => m.Kind != MovementKind.Sale))
            {
                days[(key, taken.Id)] = taken.On;
                var sums = new Sums(taken.Goods, taken.Shipping, taken.Tax, taken.Fee, 0, 0);
                if (sums != default) wanted[new Slot(key, taken.Id, order.Processor?.Value ?? "", order.Channel.Value, order.Currency.Code)] = sums;
            }
        }
    }

    /// <summary>What is booked of the orders, and of which of their parts anything ever was.</summary>
    private (Dictionary<Slot, Sums> Sums, HashSet<(long, string?)> Known) Booked(string names)
    {
        var (sums, known) = (new Dictionary<Slot, Sums>(), new HashSet<(long, string?)>());
        using var command = Command(
            """
            SELECT OrderId, Refund, Processor, Channel, Currency, SUM(Goods), SUM(Shipping), SUM(Tax), SUM(ProcessingFee), SUM(ChannelFee), SUM(Rebate) FROM Bookings
            WHERE OrderId IN (SELECT Id FROM Orders WHERE OrderId IN (SELECT value FROM json_each($names))) GROUP BY OrderId, Refund, Processor, Channel, Currency
            """, names);
        using var row = command.ExecuteReader();
        while (row.Read())
        {
            var slot = new Slot(row.GetInt64(0), row.IsDBNull(1) ? null : row.GetString(1), row.GetString(2), row.GetString(3), row.GetString(4));
            sums[slot] = new Sums(row.GetInt64(5), row.GetInt64(6), row.GetInt64(7), row.GetInt64(8), row.GetInt64(9), row.GetInt64(10));
            known.Add((slot.Order, slot.Refund));
        }
        return (sums, known);
    }

    private DbCommand Command(string sql, string names)
    {
        var command = db.Database.GetDbConnection().CreateCommand();
        (command.Transaction, command.CommandText) = (db.Database.CurrentTransaction!.GetDbTransaction(), sql);
        var parameter = command.CreateParameter();
        (parameter.ParameterName, parameter.Value) = ("$names", names);
        command.Parameters.Add(parameter);
        return command;
    }
}
