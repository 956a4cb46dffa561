using System.Runtime.InteropServices;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using SQLitePCL;

namespace EvenSplit.Books.Posting;

/// <summary>What an amount was posted for, within one order.</summary>
internal readonly record struct PostedKey(int LineNumber, string Payee, string Agreement, EntryPart Part, long? Refund, string Currency)
{
    public static PostedKey Of(EntryRecord entry) => new(entry.LineNumber, entry.Payee, entry.Agreement, entry.Part, entry.RefundId, entry.Currency);

    /// <summary>The entry that takes back all that was posted here.</summary>
    public EntryRecord Reversing(long orderKey, PostedAmount was, DateOnly today) => new()
    {
        OrderId = orderKey,
        LineNumber = LineNumber,
        Payee = Payee,
        Agreement = Agreement,
        Part = Part,
        RefundId = Refund,
        Amount = -was.Amount,
        Currency = Currency,
        PostedOn = today,
        Period = Period.Of(today).Number,
        ClearsOn = was.ClearsOn,
    };
}

/// <summary>What is posted for one thing in all.</summary>
internal sealed class PostedAmount
{
    private readonly List<(long Entry, DateOnly? ClearsOn)> _entries = [];

    public static PostedAmount Nothing { get; } = new();

    public long Amount { get; private set; }

    /// <summary>The last day on which any of it clears; null while a sign-off is awaited for all of it.</summary>
    public DateOnly? ClearsOn { get; private set; }

    /// <summary>The entries that do not clear on a day, whether a run has taken them or not.</summary>
    public IEnumerable<long> ClearingOtherwise(DateOnly? day) => _entries.Where(e => e.ClearsOn != day).Select(e => e.Entry);

    /// <summary>What some orders have posted, by order and what it was posted for.</summary>
    public static Dictionary<long, Dictionary<PostedKey, PostedAmount>> Of(BookDbContext db, IEnumerable<long> orders)
    {
        var posted = new Dictionary<long, Dictionary<PostedKey, PostedAmount>>();
        var texts = new TextPool();
        StatementRows.Each(
            db, "SELECT OrderId, Id, LineNumber, Payee, Agreement, Part, RefundId, Currency, Amount, ClearsOn FROM Entries WHERE OrderId IN (SELECT value FROM json_each(?)) ORDER BY OrderId, Id",
            [JsonSerializer.Serialize(orders)], row =>
            {
                ref var order = ref CollectionsMarshal.GetValueRefOrAddDefault(posted, raw.sqlite3_column_int64(row, 0), out _);
                var key = new PostedKey(
                    raw.sqlite3_column_int(row, 2), texts.Text(row, 3), texts.Text(row, 4), (EntryPart)raw.sqlite3_column_int(row, 5), IsNull(row, 6) ? null : raw.sqlite3_column_int64(row, 6),
                    texts.Text(row, 7));
                ref var amount = ref CollectionsMarshal.GetValueRefOrAddDefault(order ??= [], key, out _);
                (amount ??= new PostedAmount()).Add(raw.sqlite3_column_int64(row, 1), raw.sqlite3_column_int64(row, 8), IsNull(row, 9) ? null : TextPool.Date(row, 9));
            });
        return posted;
    }

    private static bool IsNull(sqlite3_stmt row, int column) => raw.sqlite3_column_type(row, column) == raw.SQLITE_NULL;

    private void Add(long entry, long amount, DateOnly? clearsOn)
    {
        Amount += amount;
        if (ClearsOn is null || clearsOn > ClearsOn) ClearsOn = clearsOn;
        _entries.Add((entry, clearsOn));
    }
}
