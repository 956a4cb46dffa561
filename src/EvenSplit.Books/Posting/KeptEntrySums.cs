using System.Runtime.InteropServices;
using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>The sums that balances, runs and lists are read from. Changes are collected and saved at once; nothing else writes them.</summary>
internal sealed class KeptEntrySums(BookDbContext db)
{
    private readonly Dictionary<(string Payee, string Currency, DateOnly ClearsOn), Sum> _open = [];
    private readonly Dictionary<(int Period, string Payee, string Currency, bool IsReversal), Sum> _posted = [];
    private readonly KeptJournalDays _days = new();

    private readonly record struct Sum(long Entries, long Amount, long Reversed, long Fingerprint)
    {
        public static Sum Of(EntryRecord e) => new(1, e.Amount, Math.Min(0, e.Amount), EntryFingerprint.Of(e));

        public Sum And(in Sum more) => new(Entries + more.Entries, Amount + more.Amount, Reversed + more.Reversed, EntryFingerprint.Add(Fingerprint, more.Fingerprint));

        public Sum Less(in Sum other) => new(Entries - other.Entries, Amount - other.Amount, Reversed - other.Reversed, EntryFingerprint.Add(Fingerprint, -other.Fingerprint));
    }

    /// <summary>Adds newly posted entries.</summary>
    public void Add(IReadOnlyList<EntryRecord> posted)
    {
        var sums = new Sum[posted.Count];
        SideBySide.For(sums.Length, i => sums[i] = Sum.Of(posted[i]));
        for (var i = 0; i < sums.Length; i++)
        {
            ref var month = ref CollectionsMarshal.GetValueRefOrAddDefault(_posted, (posted[i].Period, posted[i].Payee, posted[i].Currency, posted[i].RefundId is not null), out _);
            month = month.And(sums[i]);
            ref var day = ref CollectionsMarshal.GetValueRefOrAddDefault(_open, Day(posted[i], posted[i].ClearsOn), out _);
            day = day.And(sums[i]);
            _days.AddEntry(posted[i].PostedOn, posted[i].Payee, posted[i].Currency, posted[i].Amount);
        }
    }

    /// <summary>Moves entries to the day on which they clear now: an order was signed off, a hold has changed. Those that a run has taken stay.</summary>
    /// <param name="clearsOn">By the key of each entry.</param>
    /// <param name="openSince">The last taking there is: none so far has taken them.</param>
    public void Redate(IReadOnlyDictionary<long, DateOnly?> clearsOn, int openSince)
    {
        if (clearsOn.Count == 0) return;
        var open = BulkReader<EntryRecord>.Read(db, "Id", clearsOn.Keys, "Id").Where(e => e.RunId is null).ToArray();
        foreach (var entry in open)
        {
            var sum = Sum.Of(entry);
            var (was, now) = (Day(entry, entry.ClearsOn), Day(entry, clearsOn[entry.Id]));
            _open[was] = _open.GetValueOrDefault(was).Less(sum);
            _open[now] = _open.GetValueOrDefault(now).And(sum);
            (entry.ClearsOn, entry.OpenSince) = (clearsOn[entry.Id], openSince);
        }
        using var writer = BulkWriter<EntryRecord>.Updating(db, [nameof(EntryRecord.ClearsOn), nameof(EntryRecord.OpenSince)]);
        writer.Write(open);
    }

    /// <param name="alongside">As <see cref="BulkWriter{T}.WriteAll"/> has it.</param>
    public void Save(bool alongside)
    {
        EntrySumRecord[] posted =
        [
            .. _posted.Select(p => new EntrySumRecord
            {
                Period = p.Key.Period,
                Payee = p.Key.Payee,
                Currency = p.Key.Currency,
                IsReversal = p.Key.IsReversal,
                Entries = p.Value.Entries,
                Amount = p.Value.Amount,
                Fingerprint = p.Value.Fingerprint,
            }),
        ];
        OpenSumRecord[] open =
        [
            .. _open.Select(o => new OpenSumRecord
            {
                Payee = o.Key.Payee,
                Currency = o.Key.Currency,
                ClearsOn = o.Key.ClearsOn,
                Amount = o.Value.Amount,
                Reversed = o.Value.Reversed,
                Entries = o.Value.Entries,
                Fingerprint = o.Value.Fingerprint,
            }),
        ];
        BulkWriter<EntrySumRecord>.Adding(db).WriteAll(posted, alongside);
        BulkWriter<OpenSumRecord>.Adding(db).WriteAll(open, alongside);
        _days.Save(db, alongside);
        _posted.Clear();
        _open.Clear();
    }

    /// <summary>A run takes what has cleared for some payees; it is open no more.</summary>
    public static void Take(BookDbContext db, int run, DateOnly asOf, IEnumerable<string> payees)
    {
        var all = JsonSerializer.Serialize(payees);
        db.Database.ExecuteSql($"INSERT INTO Takings (RunId, Payee, AsOf) SELECT {run}, value, {asOf} FROM json_each({all})");
        db.Database.ExecuteSql(
            $"""
            INSERT INTO TakenSums (RunId, Payee, Currency, ClearsOn, Amount, Reversed, Entries, Fingerprint)
            SELECT {run}, Payee, Currency, ClearsOn, Amount, Reversed, Entries, Fingerprint FROM OpenSums WHERE ClearsOn <= {asOf} AND Payee IN (SELECT value FROM json_each({all}))
            """);
        db.Database.ExecuteSql($"DELETE FROM OpenSums WHERE ClearsOn <= {asOf} AND Payee IN (SELECT value FROM json_each({all}))");
    }

    /// <summary>Opens again what a run had taken.</summary>
    public static void GiveBack(BookDbContext db, int run)
    {
        db.Database.ExecuteSql(
            $"""
            INSERT INTO OpenSums (Payee, Currency, ClearsOn, Amount, Reversed, Entries, Fingerprint)
            SELECT Payee, Currency, ClearsOn, Amount, Reversed, Entries, Fingerprint FROM TakenSums WHERE RunId = {run}
            ON CONFLICT DO UPDATE SET Amount = Amount + excluded.Amount, Reversed = Reversed + excluded.Reversed, Entries = Entries + excluded.Entries,
                Fingerprint = (Fingerprint + excluded.Fingerprint) & 4611686018427387903
            """);
        db.TakenSums.Where(s => s.RunId == run).ExecuteDelete();
        db.Takings.Where(t => t.RunId == run).ExecuteDelete();
    }

    private static (string, string, DateOnly) Day(EntryRecord entry, DateOnly? clearsOn) => (entry.Payee, entry.Currency, clearsOn ?? DateOnly.MaxValue);
}
