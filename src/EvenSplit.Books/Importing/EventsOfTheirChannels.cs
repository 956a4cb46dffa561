using EvenSplit.Books.Model;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>Lets a source say nothing about orders of channels that are not its own: the secret of one shop does not open the orders of another.</summary>
internal sealed class EventsOfTheirChannels(BookDbContext db)
{
    /// <returns>Those that may be taken; the others are told as failed, to be sent again once the source is bound otherwise.</returns>
    public (InboxEventRecord Record, SalesEvent Event)[] Only((InboxEventRecord Record, SalesEvent Event)[] events)
    {
        var sources = events.Select(e => e.Record.Source).Distinct().ToArray();
        var bound = db.EventSources.AsNoTracking().Where(s => sources.Contains(s.Id) && s.Channels != null).ToDictionary(s => s.Id, s => s);
        if (bound.Count == 0) return events;
        var ids = events.Select(e => e.Event.Order).Where(o => o.Length > 0).Distinct().ToArray();
        var channels = db.Orders.AsNoTracking().Where(o => ids.Contains(o.OrderId)).Select(o => new { o.OrderId, o.Channel }).ToDictionary(o => o.OrderId, o => o.Channel);
        var allowed = new List<(InboxEventRecord, SalesEvent)>();
        // Orders first: what is said of one in the same batch is held against its channel.
        foreach (var one in events.OrderBy(e => e.Event.Kind))
        {
            var told = one.Event.Kind == SalesEventKind.Order ? one.Event.Rows[0].GetValueOrDefault("channel") : null;
            var known = channels.GetValueOrDefault(one.Event.Order);
            if (bound.TryGetValue(one.Record.Source, out var source) && new[] { told, known }.FirstOrDefault(c => c is not null && !source.Channels!.Contains(c)) is { } foreign)
            {
                (one.Record.State, one.Record.Fault) = (EventState.Failed, $"{source.Name} reports orders of {string.Join(", ", source.Channels!)}; this one is of {foreign}.");
                continue;
            }
            if (told is not null) channels.TryAdd(one.Event.Order, told);
            allowed.Add(one);
        }
        return [.. allowed.OrderBy(e => e.Item1.Id)];
    }
}
