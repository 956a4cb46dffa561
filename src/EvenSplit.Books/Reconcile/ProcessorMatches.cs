using System.Data.Common;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Reconcile;

/// <summary>
/// Holds orders against what processors have settled (reconcile contract, section 2). The database notes each order of which something has changed, and each
/// that a line names; their matches are found again from nothing, so that the order in which things came is without effect.
/// </summary>
internal sealed class ProcessorMatches(BookDbContext db, OpenedBook book, DateOnly today)
{
    /// <summary>What is known of an order of the book.</summary>
    private sealed record KnownOrder(long Key, SettledOrder Order, string? Processor, DateTimeOffset? PaidAt, long Charged, long ProcessingFee, bool IsRefunded);

    private sealed record MatchedOrder(OrderId Order, IReadOnlyList<(OutsideLineRecord Line, SettlementMatch Match)> Lines, IReadOnlyList<AwaitedRecord> Awaited);

    /// <summary>Books some orders for the journal and finds their matches, inside the caller's transaction; they wait for neither any more.</summary>
    /// <param name="names">As the shop calls them, each once; the book may not have them.</param>
    public void Find(IReadOnlyCollection<string> names)
    {
        new OrderBookings(db, book, today).Book(names);
        var text = JsonSerializer.Serialize(names);
        var matched = Matched(names, text);
        var settlings = Settlings(matched);
        var changed = matched.SelectMany(m => m.Lines.Where(l => Hold(l.Line, l.Match, m.Order, settlings[l.Line.Id])).Select(l => l.Line)).ToArray();
        using (var writer = BulkWriter<OutsideLineRecord>.Updating(db, SettledState.Columns)) writer.Write(changed);
        Execute("DELETE FROM Awaited WHERE Bench = 0 AND \"Order\" IN (SELECT value FROM json_each($names))", text);
        using (var writer = BulkWriter<AwaitedRecord>.Replacing(db)) writer.Write(matched.SelectMany(m => m.Awaited));
        Execute("DELETE FROM OrdersToMatch WHERE \"Order\" IN (SELECT value FROM json_each($names))", text);
    }

    /// <summary>Finds the matches of some orders from nothing and tells where what is kept is otherwise; changes nothing. The caller reads in a transaction.</summary>
    public (int Compared, IReadOnlyList<MatchDifference> Differences) Compare(IReadOnlyCollection<string> names)
    {
        var text = JsonSerializer.Serialize(names);
        var matched = Matched(names, text);
        var settlings = Settlings(matched);
        var differences = new List<MatchDifference>();
        foreach (var of in matched)
        {
            foreach (var (line, match) in of.Lines)
            {
                var kept = MatchDifference.Words(line);
                if (Hold(line, match, of.Order, settlings[line.Id])) differences.Add(new MatchDifference(MatchDifference.NameOf(line), kept, MatchDifference.Words(line)));
            }
        }
        var awaited = db.Awaited.FromSqlRaw("SELECT * FROM Awaited WHERE Bench = 0 AND \"Order\" IN (SELECT value FROM json_each({0}))", text).AsNoTracking().ToArray();
        differences.AddRange(MatchDifference.Between(awaited, matched.SelectMany(m => m.Awaited)));
        return (matched.Sum(m => m.Lines.Count) + awaited.Length, differences);
    }

    /// <summary>Of each order: its lines with what they were matched to, and what of ours was left.</summary>
    private IReadOnlyList<MatchedOrder> Matched(IReadOnlyCollection<string> names, string text)
    {
        var orders = Orders(text);
        var movements = MovementsOf(orders);
        var lines = Lines(text, movements);
        return [.. names.Select(name => Match(new OrderId(name), orders.GetValueOrDefault(name), movements.GetValueOrDefault(name) ?? [], lines.GetValueOrDefault(name) ?? []))];
    }

    private static MatchedOrder Match(OrderId order, KnownOrder? known, IReadOnlyList<Movement> ours, List<(OutsideLineRecord Line, SettlementLine Read)> theirs)
    {
        var matches = OrderMatching.Match(known?.Order, ours, [.. theirs.Select(l => l.Read)]);
        var taken = matches.Select(m => m.Ours).OfType<Movement>().ToHashSet<Movement>(ReferenceEqualityComparer.Instance);
        return new MatchedOrder(order, [.. theirs.Select((l, i) => (l.Line, matches[i]))], [.. ours.Where(m => !taken.Contains(m)).Select(m => Await(known!, m))]);
    }

    /// <summary>Finds the matches of lines that are about to be written: where their order has no others, that is all there is to do.</summary>
    /// <returns>The orders that have others, whose matches have to be found with them.</returns>
    public IReadOnlyCollection<string> FindNew(IEnumerable<OutsideLineRecord> lines)
    {
        var byOrder = lines.Where(l => l.Order is not null && l.Kind < MovementKind.Fee).GroupBy(l => l.Order!, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.ToArray(), StringComparer.Ordinal);
        if (byOrder.Count == 0) return [];
        var text = JsonSerializer.Serialize(byOrder.Keys);
        var later = new HashSet<string>(StringComparer.Ordinal);
        using (var command = Command("SELECT DISTINCT \"Order\" FROM OutsideLines INDEXED BY IX_OutsideLines_Order WHERE Bench = 0 AND Kind < 3 AND \"Order\" IN (SELECT value FROM json_each($names))", text))
        using (var row = command.ExecuteReader())
        {
            while (row.Read()) later.Add(row.GetString(0));
        }
        var orders = Orders(text);
        var movements = MovementsOf(orders);
        var linked = Links().Values.ToHashSet(StringComparer.Ordinal);
        var taken = new List<string>();
        foreach (var (name, theirs) in byOrder)
        {
            if (later.Contains(name) || !orders.TryGetValue(name, out var known)) continue;
            if (linked.Count > 0 && movements[name].Any(m => linked.Contains(m.Ours(known.Order.Id))))
            {
                later.Add(name);
                continue;
            }
            foreach (var (match, line) in OrderMatching.Match(known.Order, movements[name], [.. theirs.Select(l => Read(l, null))]).Zip(theirs))
            {
                Hold(line, match, known.Order.Id, []);
                if (line.Ours is { } ours) taken.Add(ours);
            }
        }
        Execute("DELETE FROM Awaited WHERE Bench = 0 AND Ours IN (SELECT value FROM json_each($names))", JsonSerializer.Serialize(taken));
        return later;
    }

    /// <returns>Whether anything of the line is otherwise than it was.</returns>
    private bool Hold(OutsideLineRecord line, SettlementMatch match, OrderId order, IEnumerable<SettlingRecord> settlings)
    {
        var isComparable = match.Ours is not null && !match.Findings.HasFlag(Finding.CurrencyDiffers);
        return line.Set(match.Ours?.Ours(order), isComparable ? match.Ours!.Gross : null, isComparable ? match.Ours!.Fee : null, match.Findings, settlings, today);
    }

    private static AwaitedRecord Await(KnownOrder known, Movement movement) => new()
    {
        Bench = Bench.Processors,
        Ours = movement.Ours(known.Order.Id),
        Kind = movement.Kind,
        On = movement.On,
        Order = known.Order.Id.Value,
        Source = known.Processor!,
        Currency = known.Order.Currency.Code,
        Gross = movement.Gross,
        Fee = movement.Fee,
    };

    /// <summary>By their ids; tests are left out.</summary>
    private Dictionary<string, KnownOrder> Orders(string names)
    {
        var orders = new Dictionary<string, KnownOrder>(StringComparer.Ordinal);
        using var command = Command("SELECT Id, OrderId, Currency, PaidAt, Processor, Charged, ProcessingFee, IsRefunded FROM Orders WHERE NOT IsTest AND OrderId IN (SELECT value FROM json_each($names))", names);
        using var row = command.ExecuteReader();
        while (row.Read())
        {
            DateTimeOffset? paidAt = row.IsDBNull(3) ? null : new DateTimeOffset(row.GetInt64(3), TimeSpan.Zero);
            orders[row.GetString(1)] = new KnownOrder(
                row.GetInt64(0), new SettledOrder(new OrderId(row.GetString(1)), Currency.Of(row.GetString(2)), paidAt is not null), row.IsDBNull(4) ? null : row.GetString(4), paidAt,
                row.GetInt64(5), row.GetInt64(6), row.GetBoolean(7));
        }
        return orders;
    }

    /// <summary>By order. Where nothing was refunded, the order's own figures say it.</summary>
    private Dictionary<string, IReadOnlyList<Movement>> MovementsOf(Dictionary<string, KnownOrder> orders)
    {
        var refunded = orders.Values.Where(o => o.IsRefunded && o is { PaidAt: not null, Processor: not null }).Select(o => o.Key).Order().ToArray();
        var refunds = refunded.Length == 0 ? null : db.Refunds.AsNoTracking().Include(r => r.Lines).Where(r => refunded.Contains(r.OrderId)).ToLookup(r => r.OrderId);
        var whole = refunded.Length == 0 ? [] : new OrdersInBulk(db).Read(refunded).ToDictionary(o => o.Key, o => Movements.Of(book.Rules, o.Order, refunds![o.Key].Select(r => OrderFacts.ToRefund(r, o.Order.Id))));
        return orders.ToDictionary(o => o.Key, o => whole.GetValueOrDefault(o.Value.Key) ?? OfSale(o.Value), StringComparer.Ordinal);
    }

    private Movement[] OfSale(KnownOrder order) => order is { PaidAt: { } paidAt, Processor: not null } && (order.Charged != 0 || order.ProcessingFee != 0)
        ? [Movements.OfSale(book.Time, paidAt, order.Charged, order.ProcessingFee)]
        : [];

    /// <summary>By order, in the order in which they came: those that name it and were not linked elsewhere, and those that were linked to it.</summary>
    private Dictionary<string, List<(OutsideLineRecord Line, SettlementLine Read)>> Lines(string names, Dictionary<string, IReadOnlyList<Movement>> movements)
    {
        var links = Links();
        var named = db.OutsideLines.FromSqlRaw("SELECT * FROM OutsideLines INDEXED BY IX_OutsideLines_Order WHERE Bench = 0 AND Kind < 3 AND \"Order\" IN (SELECT value FROM json_each({0}))", names).AsNoTracking().ToArray();
        var linked = links.Count == 0
            ? []
            : movements.SelectMany(m => m.Value.Select(o => (Order: m.Key, Ours: o.Ours(new OrderId(m.Key))))).Where(o => links.ContainsValue(o.Ours)).ToDictionary(o => o.Ours, o => o.Order, StringComparer.Ordinal);
        var fromElsewhere = linked.Count == 0 ? [] : db.OutsideLines.AsNoTracking().Where(l => links.Keys.Contains(l.Id)).AsEnumerable().Where(l => linked.ContainsKey(links[l.Id])).ToArray();
        return named.Where(l => !links.ContainsKey(l.Id)).Select(l => (Order: l.Order!, Line: l)).Concat(fromElsewhere.Select(l => (Order: linked[links[l.Id]], Line: l)))
            .OrderBy(l => l.Line.Id).GroupBy(l => l.Order, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Select(l => (l.Line, Read(l.Line, links.GetValueOrDefault(l.Line.Id)))).ToList(), StringComparer.Ordinal);
    }

    private static SettlementLine Read(OutsideLineRecord line, string? link) => new(line.Kind, line.Reference, Currency.Of(line.Currency), line.Gross, line.Fee, link);

    /// <summary>By line, what of ours somebody linked it to. They are few.</summary>
    private Dictionary<long, string> Links() => db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Processors && s.Way == SettlingWay.Link && s.UndoneBy == null && s.LineId != null && s.Ours != null)
        .Select(s => new { s.LineId, s.Ours }).ToDictionary(s => s.LineId!.Value, s => s.Ours!);

    private ILookup<long, SettlingRecord> Settlings(IReadOnlyList<MatchedOrder> matched)
    {
        var lines = matched.SelectMany(m => m.Lines).Select(l => l.Line.Id).ToArray();
        return db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Processors && s.LineId != null && lines.Contains(s.LineId.Value)).ToLookup(s => s.LineId!.Value);
    }

    private void Execute(string sql, string names)
    {
        using var command = Command(sql, names);
        command.ExecuteNonQuery();
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
