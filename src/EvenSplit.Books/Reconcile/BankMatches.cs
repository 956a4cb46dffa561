using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>
/// Holds what banks have booked against payments, payment files and payouts of settlements (reconcile contract, section 3). Found from nothing for all that a
/// change can reach, by the days of the lines, so that the order of files is without effect.
/// </summary>
internal sealed class BankMatches(BookDbContext db, OpenedBook book, DateOnly today)
{
    /// <summary>A payment that should leave, or has left, an account.</summary>
    private sealed record Payment(string Reference, string Payee, Money Amount, RemittanceState State, DateOnly On, int? FileId, bool IsDoubted, bool IsAtBank)
    {
        public string Ours => OursName.Remittance + Reference;
        public bool IsStopped => IsDoubted || State is RemittanceState.Refused or RemittanceState.SetAside or RemittanceState.Returned;
    }

    private readonly HashSet<string> _left = [], _back = [], _arrived = [];
    private readonly BankPayout[] _allPayouts = BankPayout.All(db);
    private readonly BankFile[] _allFiles = BankFile.All(db, book.Time);
    private Dictionary<string, Payment> _payments = [];
    private BankPayout[] _payouts = [];
    private ILookup<int, Payment> _ofFile = Array.Empty<Payment>().ToLookup(_ => 0);
    private Dictionary<string, BankFile> _files = [];

    /// <summary>Finds matches again, inside the caller's transaction: of what has changed, or all of them.</summary>
    public void Find(bool all)
    {
        var restated = Restated();
        var changes = all ? null : BankReach.Changes(db);
        var reach = changes is null ? null : new BankReach(db, _allPayouts, _allFiles);
        reach?.Close(changes!, restated);
        var lines = db.OutsideLines.Where(l => l.Bench == Bench.Bank);
        if (reach is not null) lines = lines.Where(l => reach.Lines.Contains(l.Id));
        Match([.. lines], reach);
        Await(reach);
        db.BenchToMatch.Where(c => c.Kind <= BenchChange.Settlement).ExecuteDelete();
        db.SaveChanges();
    }

    /// <summary>Finds all anew and tells where what is kept is otherwise; changes nothing.</summary>
    public (int Compared, IReadOnlyList<MatchDifference> Differences) Compare()
    {
        var lines = db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Bank).ToArray();
        var kept = Array.ConvertAll(lines, MatchDifference.Words);
        var told = StatementFindings();
        foreach (var line in lines) line.PartFindings = told.GetValueOrDefault(line.Id);
        Match(lines, null);
        var differences = lines.Select((line, i) => new MatchDifference(MatchDifference.NameOf(line), kept[i], MatchDifference.Words(line))).Where(d => d.Kept != d.Found).ToList();
        var awaited = db.Awaited.AsNoTracking().Where(a => a.Bench == Bench.Bank).ToArray();
        differences.AddRange(MatchDifference.Between(awaited, Wanted()));
        return (lines.Length + awaited.Length, differences);
    }

    private void Match(OutsideLineRecord[] lines, BankReach? reach)
    {
        Read(reach);
        var ids = lines.Select(l => l.Id).ToArray();
        var settlings = db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Bank && s.LineId != null);
        if (reach is not null) settlings = settlings.Where(s => ids.Contains(s.LineId!.Value));
        var settled = settlings.ToLookup(s => s.LineId!.Value);
        // What comes back tells that it had left; what a person has linked is for no other line.
        var returned = lines.Where(l => l.Gross > 0 && _payments.ContainsKey(l.Reference)).Select(l => l.Reference).ToHashSet();
        foreach (var line in lines.OrderBy(l => Link(settled[l.Id]) is null).ThenBy(l => l.On).ThenBy(l => l.Source, StringComparer.Ordinal).ThenBy(l => l.LineId, StringComparer.Ordinal))
        {
            var (ours, amount, findings) = Link(settled[line.Id]) is { } linked ? Linked(line, linked) : line.Gross < 0 ? Debit(line, returned) : Credit(line);
            line.Set(ours, amount?.Minor, amount is null ? null : 0, findings, settled[line.Id], today);
        }
    }

    private void Read(BankReach? reach)
    {
        var doubted = db.PaymentDoubts.AsNoTracking().Where(d => d.Kind == PaymentDoubtKind.PaidThoughRefused && d.SettledBy == null).Select(d => d.RemittanceId).ToHashSet();
        var madeOn = db.PaymentFiles.AsNoTracking().Select(f => new { f.Id, f.MadeAt }).AsEnumerable().ToDictionary(f => f.Id, f => book.Time.DateOf(f.MadeAt));
        var remittances = reach is null ? db.Remittances.Where(r => r.EndToEnd != null || (r.Reference != null && r.Reference != "")) : BankReach.Payments(db, reach.References);
        _payments = remittances.AsNoTracking().Where(r => r.Paid > 0)
            .Select(r => new { r.Id, Key = r.EndToEnd ?? r.Reference!, r.Through, r.Payee, r.Paid, r.Currency, r.State, r.FileId, r.ExecuteOn, r.PaidOn, r.Method }).OrderBy(r => r.Id).AsEnumerable()
            .Select(r => new Payment(
                r.Key, r.Through ?? r.Payee, new Money(r.Paid, Currency.Of(r.Currency)), r.State,
                r.FileId is { } file ? (r.ExecuteOn > madeOn[file] ? r.ExecuteOn.Value : madeOn[file]) : r.PaidOn ?? today, r.FileId, doubted.Contains(r.Id), r.Method is PayoutMethod.Bank or PayoutMethod.ByHand))
            .GroupBy(p => p.Reference, StringComparer.Ordinal).ToDictionary(g => g.Key, Together, StringComparer.Ordinal);
        _ofFile = _payments.Values.Where(p => p.FileId is not null).ToLookup(p => p.FileId!.Value);
        _files = _allFiles.Where(f => reach?.Files.Contains(f.Id) != false).ToDictionary(f => f.MessageId, StringComparer.Ordinal);
        _payouts = Array.FindAll(_allPayouts, p => reach?.Settlements.Contains(p.Settlement) != false);
    }

    /// <summary>Payments by hand that were marked under one reference left as one.</summary>
    private static Payment Together(IEnumerable<Payment> payments)
    {
        var all = payments.ToArray();
        return all[0] with { Amount = new Money(all.Where(p => p.Amount.Currency == all[0].Amount.Currency).Sum(p => p.Amount.Minor), all[0].Amount.Currency), Payee = all.DistinctBy(p => p.Payee).Count() == 1 ? all[0].Payee : "" };
    }

    private static string? Link(IEnumerable<SettlingRecord> settlings) => settlings.FirstOrDefault(s => s is { Way: SettlingWay.Link, UndoneBy: null })?.Ours;

    /// <summary>Several with + between, each of them a payment or a payout.</summary>
    private (string?, Money?, Finding) Linked(OutsideLineRecord line, string linked)
    {
        var currency = Currency.Of(line.Currency);
        long sum = 0;
        foreach (var one in linked.Split('+'))
        {
            var (name, isPayout) = (OursName.Of(one), one.StartsWith(OursName.Payout, StringComparison.Ordinal));
            var payout = isPayout ? Array.Find(_payouts, p => p.Settlement == name && p.Amount.Currency == currency) : null;
            var amount = isPayout ? payout?.Amount : _payments.GetValueOrDefault(name)?.Amount;
            if (amount is not { } known || known.Currency != currency) return (linked, null, Finding.AmountDiffers);
            (isPayout ? _arrived : line.Gross < 0 ? _left : _back).Add(payout?.Key ?? name);
            sum += isPayout || line.Gross > 0 ? known.Minor : -known.Minor;
        }
        return (linked, new Money(sum, currency), sum == line.Gross ? Finding.None : Finding.AmountDiffers);
    }

    private (string?, Money?, Finding) Debit(OutsideLineRecord line, HashSet<string> returned)
    {
        if (_payments.TryGetValue(line.Reference, out var payment))
        {
            if (!_left.Add(payment.Reference)) return (payment.Ours, null, Finding.Twice);
            var isStopped = payment.IsStopped && !(payment.State == RemittanceState.Returned && returned.Contains(payment.Reference));
            return Compared(line, payment.Ours, new Money(-payment.Amount.Minor, payment.Amount.Currency), isStopped ? Finding.PaidThoughStopped : Finding.None);
        }
        if (FileOf(line) is { } file)
        {
            // Those that were stopped did not leave with it; what came back since did.
            var paid = _ofFile[file.Id].Where(p => p.State is RemittanceState.Sent or RemittanceState.Confirmed or RemittanceState.Returned).OrderBy(p => p.Reference, StringComparer.Ordinal).ToArray();
            if (paid.Length > 0 && !paid.Any(p => _left.Contains(p.Reference)))
            {
                foreach (var p in paid) _left.Add(p.Reference);
                return Compared(line, string.Join('+', paid.Select(p => p.Ours)), new Money(-paid.Sum(p => p.Amount.Minor), paid[0].Amount.Currency), Finding.None);
            }
            if (line.Reference == file.MessageId && paid.Length > 0) return (string.Join('+', paid.Select(p => p.Ours)), null, Finding.Twice);
        }
        return (null, null, Finding.NotInBook);
    }

    private BankFile? FileOf(OutsideLineRecord line) => _files.GetValueOrDefault(line.Reference)
        ?? _files.Values.Where(f => f.Currency == line.Currency && f.Sum == -line.Gross && BankReach.Apart(line.On, f.On) <= BankReach.DaysApart && !_ofFile[f.Id].Any(p => _left.Contains(p.Reference))).OrderBy(f => f.Id).FirstOrDefault();

    private (string?, Money?, Finding) Credit(OutsideLineRecord line)
    {
        if (_payments.TryGetValue(line.Reference, out var payment))
        {
            return _back.Add(payment.Reference) ? Compared(line, payment.Ours, payment.Amount, Finding.None) : (payment.Ours, null, Finding.Twice);
        }
        var words = BankReach.Words(line.Reference, line.Note);
        // One settlement may pay out in several currencies.
        var named = Array.FindAll(_payouts, p => words.Contains(p.Settlement)).OrderByDescending(p => p.Amount.Currency.Code == line.Currency).FirstOrDefault();
        if (named is not null) return _arrived.Add(named.Key) ? Compared(line, named.Ours, named.Amount, Finding.None) : (named.Ours, null, Finding.Twice);
        return Array.FindAll(_payouts, p => !_arrived.Contains(p.Key) && p.Amount.Minor == line.Gross && p.Amount.Currency.Code == line.Currency && BankReach.Apart(p.On, line.On) <= BankReach.DaysApart) is [var only] && _arrived.Add(only.Key)
            ? (only.Ours, only.Amount, Finding.None)
            : (null, null, Finding.NotInBook);
    }

    private static (string?, Money?, Finding) Compared(OutsideLineRecord line, string ours, Money amount, Finding findings) => amount.Currency.Code != line.Currency
        ? (ours, null, findings | Finding.AmountDiffers)
        : (ours, amount, amount.Minor == line.Gross ? findings : findings | Finding.AmountDiffers);

    /// <summary>Notes what no line has shown. Whether it is late is told by the day on which somebody looks.</summary>
    private void Await(BankReach? reach)
    {
        var wanted = Wanted().ToDictionary(a => a.Ours);
        var held = db.Awaited.Where(a => a.Bench == Bench.Bank);
        if (reach is not null)
        {
            string[] names = [.. reach.References.Select(r => OursName.Remittance + r), .. reach.Settlements.Select(s => OursName.Payout + s)];
            held = held.Where(a => names.Contains(a.Ours));
        }
        foreach (var was in held.ToArray())
        {
            if (wanted.GetValueOrDefault(was.Ours) is { } same && (same.On, same.Source, same.Currency, same.Gross) == (was.On, was.Source, was.Currency, was.Gross)) wanted.Remove(was.Ours);
            else db.Awaited.Remove(was);
        }
        db.SaveChanges();
        db.Awaited.AddRange(wanted.Values);
    }

    private IEnumerable<AwaitedRecord> Wanted()
    {
        var accounts = db.PayingAccounts.AsNoTracking().ToDictionary(a => a.Currency, a => a.Iban.Replace(" ", "", StringComparison.Ordinal));
        return _payments.Values.Where(p => p.IsAtBank && p.State is RemittanceState.Sent or RemittanceState.Confirmed && !_left.Contains(p.Reference))
            .Select(p => Awaiting(p.Ours, MovementKind.Fee, p.On, accounts.GetValueOrDefault(p.Amount.Currency.Code, ""), new Money(-p.Amount.Minor, p.Amount.Currency), p.Payee))
            .Concat(_payouts.Where(p => !_arrived.Contains(p.Key)).DistinctBy(p => p.Settlement).Select(p => Awaiting(p.Ours, MovementKind.Payout, p.On, accounts.GetValueOrDefault(p.Amount.Currency.Code, ""), p.Amount, "")));
    }

    private static AwaitedRecord Awaiting(string ours, MovementKind kind, DateOnly on, string account, Money amount, string payee) =>
        new() { Bench = Bench.Bank, Ours = ours, Kind = kind, On = on, Source = account, Currency = amount.Currency.Code, Gross = amount.Minor, Name = payee };

    /// <summary>Tells lines what their statements come to.</summary>
    /// <returns>Lines that are told otherwise than before.</returns>
    private long[] Restated()
    {
        var told = StatementFindings();
        var ids = told.Keys.ToArray();
        var restated = db.OutsideLines.Where(l => l.Bench == Bench.Bank && l.State != MatchState.Matched && l.PartFindings != Finding.None).AsEnumerable()
            .UnionBy(db.OutsideLines.Where(l => ids.Contains(l.Id)), l => l.Id).Where(l => l.PartFindings != told.GetValueOrDefault(l.Id)).ToArray();
        foreach (var line in restated) line.PartFindings = told.GetValueOrDefault(line.Id);
        db.SaveChanges();
        return [.. restated.Select(l => l.Id)];
    }

    /// <summary>Whether statements add up, and follow one another without a gap: told at their last and first lines.</summary>
    private Dictionary<long, Finding> StatementFindings()
    {
        var told = new Dictionary<long, Finding>();
        foreach (var account in db.BankStatements.AsNoTracking().AsEnumerable().GroupBy(s => (s.Account, s.Currency)))
        {
            long? closing = null;
            foreach (var statement in account.OrderBy(s => s.First).ThenBy(s => s.Last).ThenBy(s => s.Id))
            {
                if (statement.Opening is { } opening)
                {
                    if (closing is { } before && opening != before) At(statement.FirstLine, Finding.BalanceGap);
                    if (statement.Closing is { } end && opening + statement.Sum != end) At(statement.LastLine, Finding.DoesNotAddUp);
                }
                closing = statement.Closing ?? closing;
            }
        }
        return told;

        void At(long? line, Finding finding)
        {
            if (line is { } id) told[id] = told.GetValueOrDefault(id) | finding;
        }
    }
}
