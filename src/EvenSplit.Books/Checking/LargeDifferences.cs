using System.Collections.Concurrent;
using System.Diagnostics;
using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Checking;

/// <summary>A difference that is being worked out, or is.</summary>
/// <param name="Difference">Null until it is there.</param>
/// <param name="Fault">Why it cannot be told; null where it can.</param>
public sealed record LargeDifference(TimeSpan Since, PostedDifference? Difference, string? Fault);

/// <summary>
/// Works out by the side what a change of rules would post that reaches more orders than somebody can wait for: the whole book by the rules as they would be, held against what is posted. It reads one state of
/// the book and writes nothing; others write meanwhile.
/// </summary>
public sealed class LargeDifferences(IServiceScopeFactory scopes, BookClock clock)
{
    /// <summary>Whoever asked for more has long gone on.</summary>
    private const int MostKept = 8;

    private sealed record Work(Stopwatch Watch, Task<PostedDifference> Task);

    private readonly ConcurrentDictionary<string, Work> _works = new(StringComparer.Ordinal);

    // One at a time: each takes the memory of the whole book.
    private readonly SemaphoreSlim _turn = new(1);

    /// <summary>How far it is; null where nobody asked for it.</summary>
    /// <param name="key">Says which change it is of.</param>
    public LargeDifference? Find(string key) => _works.TryGetValue(key, out var work) ? Of(work) : null;

    /// <summary>Begins it unless it is there or on its way.</summary>
    /// <param name="after">The book's rules as they would be.</param>
    /// <param name="change">What the change makes of the book's facts; null where it changes rules alone.</param>
    public LargeDifference Begin(string key, OpenedBook after, Func<Facts, Facts>? change)
    {
        foreach (var old in _works.Where(w => w.Value.Task.IsCompleted).OrderByDescending(w => w.Value.Watch.Elapsed).Take(Math.Max(0, _works.Count - MostKept)).ToArray()) _works.TryRemove(old);
        var work = _works.GetOrAdd(key, _ => new Work(Stopwatch.StartNew(), Task.Run(() => WorkOutAsync(after, change))));
        // Told once; what was in its way may be over when it is asked for again.
        if (work.Task.IsFaulted) _works.TryRemove(KeyValuePair.Create(key, work));
        return Of(work);
    }

    private static LargeDifference Of(Work work) => work.Task switch
    {
        { IsCompletedSuccessfully: true } => new(work.Watch.Elapsed, work.Task.Result, null),
        { IsFaulted: true } => new(work.Watch.Elapsed, null, work.Task.Exception.InnerException is RefusedException refused ? refused.Message : $"It could not be worked out: {work.Task.Exception.InnerException!.Message}"),
        _ => new(work.Watch.Elapsed, null, null),
    };

    private async Task<PostedDifference> WorkOutAsync(OpenedBook after, Func<Facts, Facts>? change)
    {
        await _turn.WaitAsync();
        try
        {
            using var scope = scopes.CreateScope();
            var asOf = clock.GetUtcNow();
            return WorkOut(scope.ServiceProvider.GetRequiredService<BookDbContext>(), scope.ServiceProvider.GetRequiredService<BookFacts>(), after, change) with { AsOf = asOf };
        }
        finally
        {
            _turn.Release();
        }
    }

    /// <exception cref="RefusedException">The book is too large, or orders wait to be worked out again after an earlier change.</exception>
    internal static PostedDifference WorkOut(BookDbContext db, BookFacts facts, OpenedBook after, Func<Facts, Facts>? change)
    {
        using var reading = db.BeginReading();
        if (db.Orders.LongCount() > OrdersInMemory.Most) throw new RefusedException($"With the memory of this machine the difference is told in books of up to {MoneyWords.Count(OrdersInMemory.Most)} orders.");
        if (db.Recalculations.Any(r => !r.IsFinished)) throw new RefusedException("Orders are being worked out again after an earlier change; the difference can be told once that is done.");
        var read = facts.Read() with { Rules = after.Rules };
        var anew = BookAnew.WorkOut(db, after, change?.Invoke(read) ?? read);
        return Difference(db, anew);
    }

    private static PostedDifference Difference(BookDbContext db, BookAnew anew)
    {
        var differences = new Dictionary<(string Payee, string Currency, int Period), long>();
        void Add(string payee, string currency, int period, long amount) => differences[(payee, currency, period)] = differences.GetValueOrDefault((payee, currency, period)) + amount;
        foreach (var entry in anew.Result.Entries) Add(entry.Payee.Value, entry.Amount.Currency.Code, anew.Figures[entry.Order.Value].Period, entry.Amount.Minor);
        foreach (var posted in db.Entries.Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { e.Payee, e.Currency, o.Period, e.Amount }).GroupBy(e => new { e.Payee, e.Currency, e.Period })
            .Select(g => new { g.Key.Payee, g.Key.Currency, g.Key.Period, Sum = g.Sum(e => e.Amount) })) Add(posted.Payee, posted.Currency, posted.Period, -posted.Sum);
        var house = anew.Figures.Values.GroupBy(f => f.Currency).ToDictionary(g => g.Key, g => g.Sum(f => f.House));
        foreach (var posted in db.Orders.GroupBy(o => o.Currency).Select(g => new { g.Key, Sum = g.Sum(o => o.House) })) house[posted.Key] = house.GetValueOrDefault(posted.Key) - posted.Sum;
        ChangedSum[] sums =
        [
            .. house.Where(h => h.Value != 0).OrderBy(h => h.Key, StringComparer.Ordinal).Select(h => new ChangedSum(null, new Money(h.Value, Currency.Of(h.Key)), 0)),
            .. differences.GroupBy(d => (d.Key.Payee, d.Key.Currency)).Select(g => new ChangedSum(g.Key.Payee, new Money(g.Sum(d => d.Value), Currency.Of(g.Key.Currency)), 0)).Where(s => s.Amount.Minor != 0)
                .OrderBy(s => s.Payee, StringComparer.Ordinal).ThenBy(s => s.Amount.Currency.Code, StringComparer.Ordinal),
        ];
        var months = differences.GroupBy(d => d.Key.Period).OrderBy(m => m.Key).Select(m => new ChangedMonth(new Period(m.Key), 0,
            [.. m.GroupBy(d => d.Key.Currency).OrderBy(c => c.Key, StringComparer.Ordinal).Select(c => new Money(c.Sum(d => d.Value), Currency.Of(c.Key))).Where(a => a.Minor != 0)])).Where(m => m.Amounts.Count > 0);
        return new PostedDifference(0, sums, false, "large " + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', sums.Select(s => $"{s.Payee} {s.Amount}")))))[..16]) { Months = [.. months], IsLarge = true };
    }
}
