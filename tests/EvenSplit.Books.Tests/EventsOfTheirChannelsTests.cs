using System.Text;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Formats.Events;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>A shop that sends events reports the orders of its own channels, under ids of its own, and opens no other shop's orders.</summary>
public sealed class EventsOfTheirChannelsTests : IDisposable
{
    private readonly TestBook _book = new();

    public EventsOfTheirChannelsTests()
    {
        _book.Do<BookDbContext>(db =>
        {
            db.Channels.AddRange(new ChannelRecord { Id = "shop", Name = "Shop", Currency = "EUR" }, new ChannelRecord { Id = "market", Name = "Market", Currency = "EUR" });
            db.SaveChanges();
        });
        _book.Get<EventSources, (string, string)>(s => s.Add("Own", ["shop"], Lead));
        _book.Get<EventSources, (string, string)>(s => s.Add("Other", null, Lead));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Ids_of_events_are_each_sources_own()
    {
        Send("own", "1", Order("A", "shop"));
        Send("other", "1", Order("B", "market"));
        Send("own", "1", Order("A", "shop"));
        Take();
        Assert.Equal(["A", "B"], Orders());
        Assert.Equal(2, _book.Get<BookDbContext, int>(db => db.Inbox.Count()));
    }

    [Fact]
    public void An_order_of_anothers_channel_is_set_aside_and_told()
    {
        Send("own", "1", Order("A", "market"));
        Take();
        Assert.Empty(Orders());
        Assert.Equal((EventState.Failed, "Own reports orders of shop; this one is of market."), (NotTaken().State, NotTaken().Fault));
        // Bound otherwise, it may be sent again.
        _book.Do<EventSources>(s => s.Bind("other", ["market"], Lead));
        Assert.Throws<RefusedException>(() => _book.Do<EventSources>(s => s.Bind("own", ["market"], Lead)));
        _book.Do<EventSources>(s => s.Close("other", Lead));
        _book.Do<EventSources>(s => s.Bind("own", ["shop", "market"], Lead));
        _book.Do<Inbox>(i => i.SendAgain(NotTaken().Id, Lead));
        Take();
        Assert.Equal(["A"], Orders());
    }

    [Theory]
    [InlineData("""{ "type": "order", "data": { "order_id": "A", "channel": "market", "placed_at": "2026-10-05T12:00:00Z", "currency": "EUR", "lines": [ { "line_id": "1", "product": "guide", "quantity": 1, "unit_price": "1.00" } ] } }""")]
    [InlineData("""{ "type": "payment", "data": { "order_id": "A", "paid_at": "2026-10-05T12:01:00Z" } }""")]
    [InlineData("""{ "type": "refund", "data": { "refund_id": "R", "order_id": "A", "at": "2026-10-06T12:00:00Z", "kind": "cancel" } }""")]
    public void Nothing_is_done_to_another_shops_order_that_comes_with_it_or_is_in_the_book(string attack)
    {
        Send("own", "1", Order("A", "shop"));
        foreach (var id in new[] { "together", "after" })
        {
            Send("other", id, attack);
            Take();
            Assert.Equal((id, EventState.Failed, "Other reports orders of market; this one is of shop."), (NotTaken().EventId, NotTaken().State, NotTaken().Fault));
        }
        Assert.Equal((24_00L, null, 0), _book.Get<BookDbContext, (long, DateTimeOffset?, int)>(db => (db.OrderLines.Single().UnitPrice, db.Orders.Single().PaidAt, db.Refunds.Count())));
    }

    [Fact]
    public void A_channel_is_reported_by_one_shop_and_there_is_one()
    {
        Assert.Equal("Channels", Assert.Throws<RefusedException>(() => _book.Get<EventSources, (string, string)>(s => s.Add("Third", ["shop"], Lead))).Field);
        Assert.Equal("Channels", Assert.Throws<RefusedException>(() => _book.Get<EventSources, (string, string)>(s => s.Add("Third", ["nowhere"], Lead))).Field);
        Assert.Equal("Channels", Assert.Throws<RefusedException>(() => _book.Get<EventSources, (string, string)>(s => s.Add("Third", null, Lead))).Field);
        Assert.Equal("Channels", Assert.Throws<RefusedException>(() => _book.Do<EventSources>(s => s.Bind("own", [], Lead))).Field);
    }

    private void Send(string source, string id, string json)
    {
        var body = Encoding.UTF8.GetBytes(json);
        _book.Do<Inbox>(i => i.Store([new ReceivedEvent(id, source, SalesEventJson.Read(body), body, DateTimeOffset.UnixEpoch)]));
    }

    private void Take() => _book.Do<TakeEvents>(t => t.RunAll());

    private string[] Orders() => _book.Get<BookDbContext, string[]>(db => [.. db.Orders.OrderBy(o => o.OrderId).Select(o => o.OrderId)]);

    private InboxEventRecord NotTaken() => _book.Get<Inbox, IReadOnlyList<InboxEventRecord>>(i => i.NotTaken())[0];

    private static string Order(string id, string channel) =>
        $$"""{ "type": "order", "data": { "order_id": "{{id}}", "channel": "{{channel}}", "placed_at": "2026-10-05T12:00:00Z", "currency": "EUR", "lines": [ { "line_id": "1", "product": "guide", "quantity": 1, "unit_price": "24.00" } ] } }""";
}
