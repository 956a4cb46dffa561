using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>
/// Holds what banks have booked against payments, payment files and payouts of settlements (reconcile contract, section 3). Found from nothing each time, by the
/// days of the lines, so that the order of files is without effect.
/// </summary>
internal sealed class BankMatches(BookDbContext db, OpenedBook book, DateOnly today)
{
    /// <summary>A file's debit, and a payout's credit, is looked for within these days.</summary>
    private const int DaysApart = 5;

    /// <summary>A payment that should leave, or has left, an account.</summary>
    private sealed record Payment(string Reference, string Payee, Money Amount, RemittanceState State, DateOnly On, int? FileId, bool IsDoubted, bool IsAtBank)
    {
        public string Ours => $"remittance:{Reference}";
        public bool IsStopped => IsDoubted || State is RemittanceState.Refused or RemittanceState.SetAside or RemittanceState.Returned;
    }

    private sealed record Payout(string Settlement, Money Amount, DateOnly On)
    {
        public string Ours => $"payout:{Settlement}";
        public string Key => $"{Settlement} {Amount.Currency}";
    }

    private readonly HashSet<string> _left = [], _back = [], _arrived = [];
    private Dictionary<string, Payment> _payments = [];
    private Payout[] _payouts = [];
    private ILookup<int, Payment> _ofFile = Array.Empty<Payment>().ToLookup(_ => 0);
    private Dictionary<string, PaymentFileRecord> _files = [];

    /// <summary>Finds all matches again, inside the caller's transaction.</summary>
    public void Find()
    {
        Read();
        var lines = db.OutsideLines.Where(l => l.Bench == Bench.Bank).AsEnumerable().OrderBy(l => l.On).ThenBy(l => l.Source, StringComparer.Ordinal).ThenBy(l => l.LineId, StringComparer.Ordinal).ToArray();
        var settlings = db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Bank && s.LineId != null).ToLookup(s => s.LineId!.Value);
        Statements(lines);
        // What comes back tells that it had left; what a person has linked is for no other line.
        var returned = lines.Where(l => l.Gross > 0 && _payments.ContainsKey(l.Reference)).Select(l => l.Reference).ToHashSet();
        foreach (var line in lines.OrderByDescending(l => Link(settlings[l.Id]) is not null))
        {
            var (ours, amount, findings) = Link(settlings[line.Id]) is { } linked ? Linked(line, linked) : line.Gross < 0 ? Debit(line, returned) : Credit(line);
            line.Set(ours, amount?.Minor, amount is null ? null : 0, findings, settlings[line.Id], today);
        }
        Await();
        db.SaveChanges();
    }

    private void Read()
    {
        var doubted = db.PaymentDoubts.AsNoTracking().Where(d => d.Kind == PaymentDoubtKind.PaidThoughRefused && d.SettledBy == null).Select(d => d.RemittanceId).ToHashSet();
        var issued = db.PaymentFiles.AsNoTracking().Select(f => new { f.Id, f.MessageId, f.MadeAt, f.Sum, f.Currency, f.Method }).AsEnumerable()
            .Select(f => new PaymentFileRecord { Id = f.Id, MessageId = f.MessageId, MadeAt = f.MadeAt, Sum = f.Sum, Currency = f.Currency, Method = f.Method, FileName = "", Protected = [], MadeBy = "" }).ToArray();
        var madeOn = issued.ToDictionary(f => f.Id, f => book.Time.DateOf(f.MadeAt));
        _payments = db.Remittances.AsNoTracking().Where(r => r.Paid > 0 && (r.EndToEnd != null || (r.Reference != null && r.Reference != ""))).AsEnumerable()
            .Select(r => new Payment(
                r.EndToEnd ?? r.Reference!, r.Through ?? r.Payee, new Money(r.Paid, Currency.Of(r.Currency)), r.State,
                r.FileId is { } file ? (r.ExecuteOn > madeOn[file] ? r.ExecuteOn.Value : madeOn[file]) : r.PaidOn ?? today, r.FileId, doubted.Contains(r.Id), r.Method is PayoutMethod.Bank or PayoutMethod.ByHand))
            .GroupBy(p => p.Reference, StringComparer.Ordinal).ToDictionary(g => g.Key, Together, StringComparer.Ordinal);
        _ofFile = _payments.Values.Where(p => p.FileId is not null).ToLookup(p => p.FileId!.Value);
        _files = issued.Where(f => f.Method == PayoutMethod.Bank).ToDictionary(f => f.MessageId, StringComparer.Ordinal);
        _payouts = [.. db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Processors && l.Kind == MovementKind.Payout).OrderBy(l => l.On).AsEnumerable()
            .GroupBy(l => (l.Source, l.Currency)).Select(g => new Payout(g.Key.Source, new Money(-g.Sum(l => l.Gross - l.Fee), Currency.Of(g.Key.Currency)), g.Max(l => l.On))).Where(p => p.Amount.Minor > 0)];
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
            var name = one[(one.IndexOf(':', StringComparison.Ordinal) + 1)..];
            var isPayout = one.StartsWith("payout:", StringComparison.Ordinal);
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

    private PaymentFileRecord? FileOf(OutsideLineRecord line) => _files.GetValueOrDefault(line.Reference)
        ?? _files.Values.Where(f => f.Currency == line.Currency && f.Sum == -line.Gross && Apart(line.On, book.Time.DateOf(f.MadeAt)) <= DaysApart && !_ofFile[f.Id].Any(p => _left.Contains(p.Reference))).OrderBy(f => f.Id).FirstOrDefault();

    private (string?, Money?, Finding) Credit(OutsideLineRecord line)
    {
        if (_payments.TryGetValue(line.Reference, out var payment))
        {
            return _back.Add(payment.Reference) ? Compared(line, payment.Ours, payment.Amount, Finding.None) : (payment.Ours, null, Finding.Twice);
        }
        var words = Words(line.Note);
        words.UnionWith(Words(line.Reference));
        // One settlement may pay out in several currencies.
        var named = Array.FindAll(_payouts, p => p.Settlement == line.Reference || words.Contains(p.Settlement)).OrderByDescending(p => p.Amount.Currency.Code == line.Currency).FirstOrDefault();
        if (named is not null) return _arrived.Add(named.Key) ? Compared(line, named.Ours, named.Amount, Finding.None) : (named.Ours, null, Finding.Twice);
        return Array.FindAll(_payouts, p => !_arrived.Contains(p.Key) && p.Amount.Minor == line.Gross && p.Amount.Currency.Code == line.Currency && Apart(p.On, line.On) <= DaysApart) is [var only] && _arrived.Add(only.Key)
            ? (only.Ours, only.Amount, Finding.None)
            : (null, null, Finding.NotInBook);
    }

    private static (string?, Money?, Finding) Compared(OutsideLineRecord line, string ours, Money amount, Finding findings) => amount.Currency.Code != line.Currency
        ? (ours, null, findings | Finding.AmountDiffers)
        : (ours, amount, amount.Minor == line.Gross ? findings : findings | Finding.AmountDiffers);

    private static HashSet<string> Words(string text) => [.. text.Split([' ', ',', ';', ':', '/', '(', ')', '.'], StringSplitOptions.RemoveEmptyEntries)];

    private static int Apart(DateOnly a, DateOnly b) => Math.Abs(a.DayNumber - b.DayNumber);

    /// <summary>Notes what no line has shown. Whether it is late is told by the day on which somebody looks.</summary>
    private void Await()
    {
        var accounts = db.PayingAccounts.AsNoTracking().ToDictionary(a => a.Currency, a => a.Iban.Replace(" ", "", StringComparison.Ordinal));
        var wanted = _payments.Values.Where(p => p.IsAtBank && p.State is RemittanceState.Sent or RemittanceState.Confirmed && !_left.Contains(p.Reference))
            .Select(p => Awaiting(p.Ours, MovementKind.Fee, p.On, accounts.GetValueOrDefault(p.Amount.Currency.Code, ""), new Money(-p.Amount.Minor, p.Amount.Currency), p.Payee))
            .Concat(_payouts.Where(p => !_arrived.Contains(p.Key)).DistinctBy(p => p.Settlement).Select(p => Awaiting(p.Ours, MovementKind.Payout, p.On, accounts.GetValueOrDefault(p.Amount.Currency.Code, ""), p.Amount, "")))
            .ToDictionary(a => a.Ours);
        foreach (var held in db.Awaited.Where(a => a.Bench == Bench.Bank).ToArray())
        {
            if (wanted.GetValueOrDefault(held.Ours) is { } same && (same.On, same.Source, same.Currency, same.Gross) == (held.On, held.Source, held.Currency, held.Gross)) wanted.Remove(held.Ours);
            else db.Awaited.Remove(held);
        }
        db.SaveChanges();
        db.Awaited.AddRange(wanted.Values);
    }

    private static AwaitedRecord Awaiting(string ours, MovementKind kind, DateOnly on, string account, Money amount, string payee) =>
        new() { Bench = Bench.Bank, Ours = ours, Kind = kind, On = on, Source = account, Currency = amount.Currency.Code, Gross = amount.Minor, Name = payee };

    /// <summary>Whether statements add up, and follow one another without a gap: told at their last and first lines.</summary>
    private void Statements(IReadOnlyList<OutsideLineRecord> lines)
    {
        var byId = lines.ToDictionary(l => l.Id);
        foreach (var line in lines.Where(l => l.PartFindings != Finding.None)) line.PartFindings = Finding.None;
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

        void At(long? line, Finding finding)
        {
            if (line is { } id && byId.TryGetValue(id, out var told)) told.PartFindings |= finding;
        }
    }
}
