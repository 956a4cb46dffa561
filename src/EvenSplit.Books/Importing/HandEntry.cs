using System.Text.Json;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>What a person types in of something that no shop and no file reports: its cells have the names of the files' columns.</summary>
public sealed record HandDraft
{
    public SalesEventKind Kind { get; init; }
    public Dictionary<string, string> Cells { get; init; } = [];
    /// <summary>Of an order or refund; a line in which nothing is typed counts as not there.</summary>
    public List<Dictionary<string, string>> Lines { get; init; } = [];
}

/// <summary>
/// Takes an order, a payment, a refund or a click that is typed in. It becomes an event and goes in by the same door as a shop's; unlike a shop, a person is
/// told at once what is wrong with it.
/// </summary>
public sealed class HandEntry(Inbox inbox, ReadImport imports, BookClock clock, AuditLog audit, CorrectOrder correct, TakeEvents events, ShownFirst shown, BookCache cache, BookDbContext db) : IUseCase
{
    public const string Source = "by hand";

    /// <returns>The cells at fault, as <c>Cells[placed_at]</c> or <c>Lines[0][product]</c>; none where it was stored.</returns>
    public IReadOnlyList<FieldFault> Enter(HandDraft draft, string by)
    {
        var lines = draft.Lines.Select((cells, i) => (Cells: Typed(cells), Index: i)).Where(l => l.Cells.Count > 0).ToArray();
        var read = Read(draft, lines.Select((l, i) => (l.Cells, i)));
        if (read is not ({ } taken, { } body)) return [new FieldFault("Lines", "Type in at least one line.")];
        var faults = Faults(draft.Kind, taken, [.. lines.Select(l => l.Index)]);
        if (faults.Length > 0) return faults;
        if (draft.Kind == SalesEventKind.Refund && CorrectRefund(taken, by) is { } corrected) return corrected;
        var received = new ReceivedEvent($"{Source}-{Guid.NewGuid():N}", Source, taken, body, clock.GetUtcNow());
        if (draft.Kind == SalesEventKind.Order && db.Orders.Where(o => o.OrderId == taken.Order).Select(o => (long?)o.Id).FirstOrDefault() is { } key) return ChangeOrder(key, received, by);
        inbox.Store([received]);
        audit.Note(by, "enter by hand", $"{draft.Kind.ToString().ToLowerInvariant()} {taken.Order}");
        db.SaveChanges();
        return [];
    }

    /// <summary>An order that is in the book is changed at once; what is said otherwise of it, and what that posts, is shown first.</summary>
    private IReadOnlyList<FieldFault> ChangeOrder(long key, ReceivedEvent received, string by)
    {
        var order = received.Event.Order;
        var changes = HandChanges.Between(Find(order)!.Value, received.Event.Rows);
        using var transaction = db.BeginUnlessBegun();
        audit.Note(by, "change order by hand", $"{order}: {string.Join("; ", changes)}");
        db.SaveChanges();
        var posting = new PostedAtOnce(db, cache.Get(db), clock.Today);
        var became = "";
        var difference = posting.Post([key], () =>
        {
            inbox.Store([received]);
            if (events.TakeNow(Source, received.EventId) is { State: not EventState.Taken, Fault: var fault }) became = fault ?? "It could not be taken.";
        });
        if (became.Length > 0) return [new FieldFault("Cells[order_id]", became)];
        posting.Seen(difference with { Changes = changes }, shown, $"change order by hand, {order}", by, clock.GetUtcNow());
        transaction?.Commit();
        return [];
    }

    /// <summary>A refund that is in the book is put right at once; what that posts is shown first.</summary>
    /// <returns>What is at fault; null where there is no such refund yet.</returns>
    private IReadOnlyList<FieldFault>? CorrectRefund(SalesEvent taken, string by)
    {
        var read = (ReadRefund)taken.Rows.Select((cells, i) => new CsvRow(i, cells)).InGroups(ImportKind.Refunds, imports.Reader()).First();
        var order = db.AllRefunds.Where(r => r.RefundId == read.Id).Join(db.Orders, r => r.OrderId, o => o.Id, (r, o) => o.OrderId).FirstOrDefault();
        if (order is null) return null;
        if (order != taken.Order) return [new FieldFault("Cells[refund_id]", $"There is a refund {read.Id} of order {order} already; give this one another id.")];
        correct.CorrectRefund(read.Refund!, by);
        return [];
    }

    /// <summary>A refund as it is, cell by cell, withdrawn ones too.</summary>
    /// <returns>Null where there is no such refund.</returns>
    public (Dictionary<string, string> Cells, IReadOnlyList<Dictionary<string, string>> Lines)? FindRefund(string refundId)
    {
        if (db.AllRefunds.AsNoTracking().Include(r => r.Lines).FirstOrDefault(r => r.RefundId == refundId) is not { } record) return null;
        var order = db.Orders.AsNoTracking().Where(o => o.Id == record.OrderId).Select(o => new { o.OrderId, o.Currency }).Single();
        var (refund, currency, time) = (OrderFacts.ToRefund(record, new OrderId(order.OrderId)), Currency.Of(order.Currency), imports.Reader().Rules.Policy.Time);
        var cells = Texts(RefundColumns.All.Where(c => c.Fact is not null).Select(c => (c.Name, c.Fact!(refund))), currency, time);
        (cells["refund_id"], cells["order_id"]) = (refundId, order.OrderId);
        return (cells, [.. refund.Lines.Select(l => Texts(RefundColumns.All.Where(c => c.LineFact is not null).Select(c => (c.Name, c.LineFact!(l))), currency, time))]);
    }

    /// <summary>An order as it is, cell by cell, so that changing it by hand begins from there.</summary>
    /// <returns>Null where there is no such order.</returns>
    public (Dictionary<string, string> Cells, IReadOnlyList<Dictionary<string, string>> Lines)? Find(string orderId)
    {
        var reader = imports.Reader();
        if (reader.HeldOrder(new OrderId(orderId)) is not { } order) return null;
        var time = reader.Rules.Policy.Time;
        var cells = Texts(OrderColumns.All.Where(c => c.Fact is not null).Select(c => (c.Name, c.Fact!(order))), order.Currency, time);
        cells["order_id"] = orderId;
        return (cells, [.. order.Lines.Select(l => Texts(OrderColumns.All.Where(c => c.LineFact is not null).Select(c => (c.Name, c.LineFact!(l))), order.Currency, time))]);
    }

    private static readonly HashSet<string> Amounts = ["order_discount", "shipping", "shipping_tax", "processing_fee", "channel_fee", "rebate", "unit_price", "line_discount", "line_tax", "processing_fee_returned", "dispute_fee", "goods", "tax"];

    private static Dictionary<string, string> Texts(IEnumerable<(string Name, object? Fact)> facts, Currency currency, BookTime time) => facts
        .Select(f => (f.Name, Text: f.Fact switch
        {
            null => "",
            bool yes => yes ? "yes" : "no",
            long ticks when f.Name is "placed_at" or "paid_at" or "at" => TimeZoneInfo.ConvertTime(new DateTimeOffset(ticks, TimeSpan.Zero), time.Zone).ToString("yyyy-MM-dd'T'HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture),
            long minor when Amounts.Contains(f.Name) => minor == 0 ? "" : new Money(minor, currency).ToMajorText(),
            IReadOnlyList<string> codes => string.Join(' ', codes),
            Enum word => word.ToString().ToLowerInvariant(),
            IFormattable number => number.ToString(null, System.Globalization.CultureInfo.InvariantCulture),
            var other => other.ToString() ?? "",
        })).Where(f => f.Text.Length > 0).ToDictionary(f => f.Name, f => f.Text);

    /// <summary>As an event with its body; null where an order has no line.</summary>
    private static (SalesEvent Event, byte[] Body)? Read(HandDraft draft, IEnumerable<(Dictionary<string, string> Cells, int Number)> lines)
    {
        var data = Typed(draft.Cells).ToDictionary(c => c.Key, c => (object)c.Value);
        // What is missing is told by the checks of the files, in words that name the cell.
        data.TryAdd("order_id", "");
        if (draft.Kind is SalesEventKind.Order or SalesEventKind.Refund)
        {
            var list = lines.Select(l => new Dictionary<string, string>(l.Cells) { ["line_id"] = l.Cells.GetValueOrDefault("line_id") ?? $"{l.Number + 1}" }).ToArray();
            if (list.Length == 0 && draft.Kind == SalesEventKind.Order) return null;
            if (list.Length > 0) data["lines"] = list;
        }
        var rows = data.TryGetValue("lines", out var withLines)
            ? ((Dictionary<string, string>[])withLines).Select(l => data.Where(d => d.Key != "lines").Select(d => KeyValuePair.Create(d.Key, (string)d.Value)).Concat(l).ToDictionary()).ToArray()
            : [data.ToDictionary(d => d.Key, d => (string)d.Value)];
        var body = JsonSerializer.SerializeToUtf8Bytes(new { type = draft.Kind.ToString().ToLowerInvariant(), data });
        return (new SalesEvent(draft.Kind, (string)data["order_id"], rows), body);
    }

    private FieldFault[] Faults(SalesEventKind kind, SalesEvent taken, int[] lineIndexes)
    {
        var reader = imports.Reader();
        if (kind == SalesEventKind.Payment)
        {
            return reader.HeldOrder(new OrderId(taken.Order)) is { } order
                ? [.. PaymentReport.Read(new CsvRow(0, taken.Rows[0]), reader.Rules.Policy.Time, order.Currency).Faults.Select(f => At(f, null))]
                : [new FieldFault("Cells[order_id]", "There is no such order in the book.")];
        }
        var files = kind switch { SalesEventKind.Order => ImportKind.Orders, SalesEventKind.Refund => ImportKind.Refunds, _ => ImportKind.Clicks };
        return [.. taken.Rows.Select((cells, i) => new CsvRow(i, cells)).InGroups(files, reader).SelectMany(g => g.Faults)
            .Select(f => At(f, f.Row < lineIndexes.Length ? lineIndexes[f.Row] : null)).Distinct()];
    }

    private static FieldFault At(RowFault fault, int? line) => new(
        line is { } index && LineColumns.Contains(fault.Column) ? $"Lines[{index}][{fault.Column}]" : $"Cells[{fault.Column}]",
        fault.IsSentence || fault.Column.Length == 0 ? fault.Expected : $"Expected {fault.Expected}.");

    private static readonly HashSet<string> LineColumns = ["line_id", "product", "variant", "quantity", "unit_price", "line_discount", "line_tax", "requires_shipping", "payment_number", "goods", "tax"];

    private static Dictionary<string, string> Typed(Dictionary<string, string> cells) =>
        cells.Where(c => !string.IsNullOrWhiteSpace(c.Value)).ToDictionary(c => c.Key, c => c.Value.Trim());
}
