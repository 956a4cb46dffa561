using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>
/// What of the bank's bench a change can reach: whatever may be held against the same line, payment, file or payout, in however many steps. What is outside of
/// it would be found as it stands. Derived from the rows themselves; noted is only where something has changed.
/// </summary>
internal sealed class BankReach
{
    /// <summary>A file's debit, and a payout's credit, is looked for within these days.</summary>
    public const int DaysApart = 5;

    /// <summary>Where more has changed than this, everything is looked over.</summary>
    private const int Most = 2_000;

    /// <summary>A line as far as it is looked at.</summary>
    private sealed record Line(long Id, string Reference, string Note, DateOnly On, string Currency, long Gross, string? Ours);

    private readonly BookDbContext _db;
    private readonly Frontier<long> _lines = new();
    private readonly Frontier<string> _references = new();
    private readonly Frontier<int> _files = new();
    private readonly Frontier<string> _settlements = new();
    private readonly BankPayout[] _payouts;
    private readonly BankFile[] _issued;
    private readonly (long Line, string[] Names)[] _links;
    private readonly Lazy<Line[]> _credits;

    public BankReach(BookDbContext db, BankPayout[] payouts, BankFile[] issued)
    {
        (_db, _payouts, _issued) = (db, payouts, issued);
        _links = [.. db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Bank && s.LineId != null && s.Way == SettlingWay.Link && s.UndoneBy == null && s.Ours != null)
            .Select(s => new { s.LineId, s.Ours }).AsEnumerable().Select(s => (s.LineId!.Value, s.Ours!.Split('+')))];
        _credits = new(() => Read(db.OutsideLines.Where(l => l.Bench == Bench.Bank && l.Gross > 0)));
    }

    /// <summary>Ids of lines.</summary>
    public IReadOnlyCollection<long> Lines => _lines.All;

    public IReadOnlySet<int> Files => _files.All;

    /// <summary>References of payments, and of lines.</summary>
    public IReadOnlyCollection<string> References => _references.All;

    public IReadOnlySet<string> Settlements => _settlements.All;

    /// <summary>What has changed since matches were found last; null where that is so much that everything is looked over.</summary>
    public static BenchToMatchRecord[]? Changes(BookDbContext db) => db.BenchToMatch.AsNoTracking().Where(c => c.Kind <= BenchChange.Settlement).OrderBy(c => c.Kind).ThenBy(c => c.Name).Take(Most + 1).ToArray() is { Length: <= Most } changes ? changes : null;

    /// <summary>Adds what a change is about, and all that follows from it.</summary>
    /// <param name="alsoLines">Lines of which something else has changed.</param>
    public void Close(IEnumerable<BenchToMatchRecord> changes, IEnumerable<long> alsoLines)
    {
        foreach (var change in changes)
        {
            switch (change.Kind)
            {
                case BenchChange.Line: _lines.Add(long.Parse(change.Name, System.Globalization.CultureInfo.InvariantCulture)); break;
                case BenchChange.File: _files.Add(int.Parse(change.Name, System.Globalization.CultureInfo.InvariantCulture)); break;
                case BenchChange.Settlement: PaidOutOtherwise(change.Name); break;
                default: _references.Add(change.Name); break;
            }
        }
        foreach (var line in alsoLines) _lines.Add(line);
        while (true)
        {
            var (lines, references, files, settlements) = (_lines.Next(), _references.Next(), _files.Next(), _settlements.Next());
            if (lines.Length + references.Length + files.Length + settlements.Length == 0) return;
            if (references.Length > 0) FromReferences(references);
            if (files.Length > 0) FromFiles(files);
            if (settlements.Length > 0) FromSettlements(settlements.ToHashSet(StringComparer.Ordinal));
            if (lines.Length > 0) foreach (var line in Read(_db.OutsideLines.Where(l => lines.Contains(l.Id)))) FromLine(line);
        }
    }

    /// <summary>Payments that are known by one of these.</summary>
    public static IQueryable<RemittanceRecord> Payments(BookDbContext db, IReadOnlyCollection<string> references) =>
        db.Remittances.Where(r => r.EndToEnd != null && references.Contains(r.EndToEnd)).Concat(db.Remittances.Where(r => r.EndToEnd == null && r.Reference != null && references.Contains(r.Reference)));

    /// <summary>The words in which a line may name a settlement.</summary>
    public static HashSet<string> Words(string reference, string note) => [reference, .. Words(reference), .. Words(note)];

    public static int Apart(DateOnly a, DateOnly b) => Math.Abs(a.DayNumber - b.DayNumber);

    /// <summary>What it paid out before is not known any more; a credit of any amount near one of its days may have been taken for it, or been in doubt because of it.</summary>
    private void PaidOutOtherwise(string settlement)
    {
        _settlements.Add(settlement);
        var days = _db.OutsideLines.Where(l => l.Bench == Bench.Processors && l.Source == settlement && l.Kind == MovementKind.Payout).Select(l => l.On).Distinct().ToArray();
        _lines.Add(_credits.Value.Where(c => Array.Exists(days, d => Apart(d, c.On) <= DaysApart)).Select(c => c.Id));
    }

    private void FromReferences(string[] references)
    {
        var names = references.ToHashSet(StringComparer.Ordinal);
        _files.Add(Payments(_db, references).Where(r => r.FileId != null && r.Method == PayoutMethod.Bank).Select(r => r.FileId!.Value).Distinct());
        _files.Add(_issued.Where(f => names.Contains(f.MessageId)).Select(f => f.Id));
        _lines.Add(_db.OutsideLines.Where(l => l.Bench == Bench.Bank && references.Contains(l.Reference)).Select(l => l.Id));
        _lines.Add(_links.Where(l => Array.Exists(l.Names, n => n.StartsWith(OursName.Remittance, StringComparison.Ordinal) && names.Contains(OursName.Of(n)))).Select(l => l.Line));
    }

    private void FromFiles(int[] files)
    {
        _references.Add(_db.Remittances.Where(r => r.FileId != null && files.Contains(r.FileId.Value)).Select(r => r.EndToEnd ?? r.Reference).AsEnumerable().Where(r => !string.IsNullOrEmpty(r)).Select(r => r!));
        foreach (var file in _issued.Where(f => files.Contains(f.Id)))
        {
            _references.Add(file.MessageId);
            var (first, last) = (file.On.AddDays(-DaysApart), file.On.AddDays(DaysApart));
            _lines.Add(_db.OutsideLines.Where(l => l.Bench == Bench.Bank && l.On >= first && l.On <= last && l.Gross == -file.Sum && l.Currency == file.Currency).Select(l => l.Id));
        }
    }

    private void FromSettlements(HashSet<string> settlements)
    {
        var payouts = Array.FindAll(_payouts, p => settlements.Contains(p.Settlement));
        _lines.Add(_credits.Value.Where(c => settlements.Overlaps(Words(c.Reference, c.Note)) || Array.Exists(payouts, p => MayBe(c, p))).Select(c => c.Id));
        _lines.Add(_links.Where(l => Array.Exists(l.Names, n => n.StartsWith(OursName.Payout, StringComparison.Ordinal) && settlements.Contains(OursName.Of(n)))).Select(l => l.Line));
    }

    private void FromLine(Line line)
    {
        if (line.Reference.Length > 0) _references.Add(line.Reference);
        // What it was held against, and what somebody says it belongs to.
        foreach (var name in (line.Ours?.Split('+') ?? []).Concat(_links.Where(l => l.Line == line.Id).SelectMany(l => l.Names)))
        {
            (name.StartsWith(OursName.Payout, StringComparison.Ordinal) ? _settlements : _references).Add(OursName.Of(name));
        }
        if (line.Gross < 0) _files.Add(_issued.Where(f => f.Currency == line.Currency && f.Sum == -line.Gross && Apart(line.On, f.On) <= DaysApart).Select(f => f.Id));
        else
        {
            var words = Words(line.Reference, line.Note);
            _settlements.Add(_payouts.Where(p => words.Contains(p.Settlement) || MayBe(line, p)).Select(p => p.Settlement));
        }
    }

    private static bool MayBe(Line credit, BankPayout payout) => payout.Amount.Minor == credit.Gross && payout.Amount.Currency.Code == credit.Currency && Apart(payout.On, credit.On) <= DaysApart;

    private static Line[] Read(IQueryable<OutsideLineRecord> lines) => [.. lines.AsNoTracking().Select(l => new Line(l.Id, l.Reference, l.Note, l.On, l.Currency, l.Gross, l.Ours))];

    private static string[] Words(string text) => text.Split([' ', ',', ';', ':', '/', '(', ')', '.'], StringSplitOptions.RemoveEmptyEntries);

    /// <summary>What was reached, and what of it has not been gone on from.</summary>
    private sealed class Frontier<T> where T : notnull
    {
        private List<T> _next = [];

        public HashSet<T> All { get; } = [];

        public void Add(T one)
        {
            if (All.Add(one)) _next.Add(one);
        }

        public void Add(IEnumerable<T> many)
        {
            foreach (var one in many) Add(one);
        }

        public T[] Next()
        {
            T[] next = [.. _next];
            _next = [];
            return next;
        }
    }
}
