using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Sales;

/// <summary>An order whose bringer an assignment changes; renewals that follow their first order are among them.</summary>
/// <param name="From">A payee's name, or null for nobody; likewise <paramref name="To"/>.</param>
public sealed record ReassignedOrder(string OrderId, string? From, string? To, bool Follows);

/// <summary>What assignments change: whose orders, and the entries they post.</summary>
/// <param name="Posted">By payee's name and currency.</param>
public sealed record AssignmentDifference(IReadOnlyList<ReassignedOrder> Orders, IReadOnlyList<(string Payee, Money Amount)> Posted, int Entries);

/// <summary>
/// Assigns orders by hand, which comes before codes and clicks. What it would post is shown first: it is really posted, looked at and taken back in one
/// transaction, so that what is shown is what is done.
/// </summary>
public sealed class AssignOrders(BookDbContext db, BookCache cache, BookClock clock, AuditLog audit) : IUseCase
{
    public const int MostAtOnce = 2000;

    public const int MaxBytes = 512 * 1024;

    /// <summary>One payee, or nobody, for all of some orders.</summary>
    /// <exception cref="RefusedException">No order, no such payee, or no reason is given.</exception>
    public IReadOnlyList<Assignment> ToOne(IReadOnlyCollection<string> orders, string payee, string note)
    {
        if (orders.Count == 0) throw new RefusedException("Mark at least one order.", "Orders");
        if (payee.Length > 0 && cache.Get(db).Rules.FindPayee(new PayeeId(payee)) is null) throw new RefusedException("Choose a payee.", "Payee");
        if (string.IsNullOrWhiteSpace(note)) throw new RefusedException("Say why; it stands in the log beside your name.", "Note");
        return [.. orders.Distinct().Select(o => new Assignment(o, payee.Length == 0 ? null : new PayeeId(payee), note.Trim()))];
    }

    /// <summary>Reads assignments.csv.</summary>
    /// <exception cref="RefusedException">No such file.</exception>
    public (IReadOnlyList<Assignment> Assignments, IReadOnlyList<RowFault> Faults) Read(string content)
    {
        using var file = new MemoryStream(Encoding.UTF8.GetBytes(content));
        try
        {
            using var table = new CsvTable(file, AssignmentsCsv.Columns);
            var (assignments, faults) = AssignmentsCsv.Read(table.Rows(), cache.Get(db).Rules);
            var known = Keys(assignments).Keys.ToHashSet();
            var unknown = assignments.Where(a => !known.Contains(a.OrderId)).Select(a => new RowFault(a.Row, "order_id", a.OrderId, "the id of an order in the book"));
            return (assignments, [.. faults, .. unknown]);
        }
        catch (CsvFileException unreadable)
        {
            throw new RefusedException(unreadable.Message, "File");
        }
    }

    /// <summary>What assigning would change; nothing is changed.</summary>
    public AssignmentDifference Show(IReadOnlyList<Assignment> assignments, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var difference = Post(assignments, by);
        transaction.Rollback();
        db.ChangeTracker.Clear();
        return difference;
    }

    /// <exception cref="RefusedException">An order is not in the book, or there are too many.</exception>
    public AssignmentDifference Assign(IReadOnlyList<Assignment> assignments, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var difference = Post(assignments, by);
        transaction.Commit();
        return difference;
    }

    private AssignmentDifference Post(IReadOnlyList<Assignment> assignments, string by)
    {
        if (assignments.Count > MostAtOnce) throw new RefusedException($"{MostAtOnce} orders can be assigned at once; divide them.", "File");
        var keys = Keys(assignments);
        if (assignments.FirstOrDefault(a => !keys.ContainsKey(a.OrderId)) is { } unknown) throw new RefusedException($"There is no order {unknown.OrderId}.", "Orders");
        var before = Bringers(keys);
        var wanted = keys.Values.ToArray();
        var orders = db.Orders.Where(o => wanted.Contains(o.Id)).ToDictionary(o => o.Id);
        foreach (var assignment in assignments)
        {
            var payee = assignment.Payee?.Value;
            orders[keys[assignment.OrderId]].ManualPayee = payee;
            audit.Note(by, payee is null ? "take an assignment back" : "assign by hand", $"{assignment.OrderId} to {payee ?? "nobody"}: {assignment.Note}");
        }
        db.SaveChanges();
        db.ChangeTracker.Clear();
        var lastEntry = db.Entries.Max(e => (long?)e.Id) ?? 0;
        new OrderPosting(db, cache.Get(db), clock.Today).Recalculate(keys.Values);
        return Difference(keys, before, lastEntry);
    }

    private sealed record PostedSum(string Payee, string Currency, long Amount, int Count);

    private Dictionary<string, long> Keys(IReadOnlyList<Assignment> assignments)
    {
        var ids = assignments.Select(a => a.OrderId).ToArray();
        return db.Orders.Where(o => ids.Contains(o.OrderId)).Select(o => new { o.OrderId, o.Id }).ToDictionary(o => o.OrderId, o => o.Id);
    }

    /// <summary>Who brought the orders and their renewals, by key.</summary>
    private Dictionary<long, (string OrderId, string? Payee)> Bringers(Dictionary<string, long> keys)
    {
        var bringers = new Dictionary<long, (string, string?)>();
        for (var ids = keys.Keys.ToArray(); ids.Length > 0;)
        {
            foreach (var o in db.Orders.AsNoTracking().Where(o => ids.Contains(o.OrderId)).Select(o => new { o.Id, o.OrderId, o.AttributedTo })) bringers.TryAdd(o.Id, (o.OrderId, o.AttributedTo));
            ids = [.. db.Orders.Where(o => o.Origin != null && ids.Contains(o.Origin)).Select(o => new { o.Id, o.OrderId }).AsEnumerable().Where(o => !bringers.ContainsKey(o.Id)).Select(o => o.OrderId)];
        }
        return bringers;
    }

    private AssignmentDifference Difference(Dictionary<string, long> keys, Dictionary<long, (string OrderId, string? Payee)> before, long lastEntry)
    {
        var book = cache.Get(db);
        var after = Bringers(keys);
        var orders = before.Where(o => o.Value.Payee != after[o.Key].Payee)
            .Select(o => new ReassignedOrder(o.Value.OrderId, Name(o.Value.Payee), Name(after[o.Key].Payee), !keys.ContainsKey(o.Value.OrderId)))
            .OrderBy(o => o.OrderId, StringComparer.Ordinal).ToArray();
        // By the keys alone: the planner would rather go through every payee and day of an index.
        var posted = db.Database.SqlQuery<PostedSum>($"SELECT Payee, Currency, SUM(Amount) AS Amount, COUNT(*) AS Count FROM Entries NOT INDEXED WHERE Id > {lastEntry} GROUP BY Payee, Currency").ToArray();
        return new AssignmentDifference(
            orders,
            [.. posted.Select(p => (book.PayeeName(p.Payee), new Money(p.Amount, Currency.Of(p.Currency)))).OrderBy(p => p.Item1, StringComparer.Ordinal)],
            posted.Sum(p => p.Count));

        string? Name(string? payee) => payee is null ? null : book.PayeeName(payee);
    }
}
