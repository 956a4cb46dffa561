using EvenSplit.Books.Model;
using EvenSplit.Books.SettingAside;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Payments;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>Takes what processors, banks and partners write into the book, inside the caller's transaction (reconcile contract, section 1).</summary>
public sealed class TakeOutside(BookDbContext db, BookCache cache, BookClock clock, FindMatches matches) : IUseCase
{
    /// <summary>What was new in a bank's table, for what it says of payments.</summary>
    private readonly List<StatementRow> _booked = [];

    /// <summary>Orders that had lines before.</summary>
    private readonly HashSet<string> _later = new(StringComparer.Ordinal);

    /// <summary>Takes some lines of a file.</summary>
    internal void Take(ImportRecord import, IReadOnlyCollection<ReadOutside> groups)
    {
        if (groups.Count == 0) return;
        foreach (var group in groups.Where(g => g.Statement is { } row && !IsOurs(row.Account))) group.Faults.Add(new RowFault(group.Rows[0].Line, "account", group.Statement!.Account, NotOurs) { IsSentence = true });
        _later.UnionWith(new OutsideIntake(db, cache.Get(db), clock.Today, import).Take(groups));
        _booked.AddRange(groups.Where(g => g.Faults.Count == 0 && g.Line!.ImportId == import.Id).Select(g => g.Statement).OfType<StatementRow>());
    }

    /// <summary>Takes statements as a bank writes them.</summary>
    internal void Take(ImportRecord import, IReadOnlyList<BankStatement> statements)
    {
        foreach (var statement in statements)
        {
            if (!IsOurs(statement.Account)) throw new RefusedException($"The statement {statement.Id} is of the account {statement.Account}, which {NotOurs}; nothing of it was taken.", "File");
            var groups = ReadOutside.Of(statement).ToArray();
            new OutsideIntake(db, cache.Get(db), clock.Today, import).Take(groups);
            new SetAside(db, import).Take(groups);
            Note(statement.Account, statement.Id, statement.Currency.Code, statement.Opening, statement.Closing, [.. statement.Entries.Select(e => e.Row)], statement.To);
        }
        db.SaveChanges();
    }

    /// <summary>Once all lines of a file are in: whether they add up, and what they belong to.</summary>
    internal void Finish(ImportRecord import)
    {
        db.SaveChanges();
        if (import.Kind == ImportKind.Settlement)
        {
            AddUp(import.Id);
            matches.Of(_later);
            _later.Clear();
        }
        foreach (var account in _booked.GroupBy(r => (r.Account, r.Currency)))
        {
            var rows = account.ToArray();
            var (opening, closing) = Balances(rows);
            Note(account.Key.Account, System.FormattableString.Invariant($"{import.FileName} {import.Id}"), account.Key.Currency.Code, opening, closing, rows, null);
        }
        db.SaveChanges();
    }

    /// <summary>What was new in a bank's table since this was asked last.</summary>
    internal IReadOnlyList<StatementRow> NewlyBooked()
    {
        StatementRow[] booked = [.. _booked];
        _booked.Clear();
        return booked;
    }

    private const string NotOurs = "is none of the accounts payments leave from; name it under Set-up, Accounts first";

    /// <summary>Before any account is named, every one may be ours.</summary>
    private bool IsOurs(string account)
    {
        _accounts ??= [.. db.PayingAccounts.AsNoTracking().Select(a => a.Iban).AsEnumerable().Select(StatementRow.Number)];
        return _accounts.Count == 0 || _accounts.Contains(account);
    }

    private HashSet<string>? _accounts;

    /// <summary>By the balances beside the lines, the oldest or the latest first; null where the bank writes none.</summary>
    private static (long? Opening, long? Closing) Balances(StatementRow[] rows)
    {
        if (rows.Any(r => r.BalanceAfter is null)) return (null, null);
        var sum = rows.Sum(r => r.Amount);
        var (first, last) = (rows[0], rows[^1]);
        var isDown = first.On > last.On || (first.On == last.On && first.BalanceAfter - (last.BalanceAfter - last.Amount) == sum);
        return isDown ? (last.BalanceAfter - last.Amount, first.BalanceAfter) : (first.BalanceAfter - first.Amount, last.BalanceAfter);
    }

    private void Note(string account, string name, string currency, long? opening, long? closing, IReadOnlyList<StatementRow> rows, DateOnly? to)
    {
        if (db.BankStatements.Any(s => s.Account == account && s.Name == name) || (rows.Count == 0 && opening is null)) return;
        long? LineOf(StatementRow? row) => row is null ? null : db.OutsideLines.Where(l => l.Bench == Bench.Bank && l.Source == account && l.LineId == row.Id).Select(l => (long?)l.Id).FirstOrDefault();
        var days = rows.Select(r => r.On).DefaultIfEmpty(to ?? clock.Today).ToArray();
        db.BankStatements.Add(new StatementRecord
        {
            Account = account,
            Name = name,
            Currency = currency,
            First = days.Min(),
            Last = to is { } end && end > days.Max() ? end : days.Max(),
            Opening = opening,
            Closing = closing,
            Sum = rows.Sum(r => r.Amount),
            FirstLine = LineOf(rows.FirstOrDefault()),
            LastLine = LineOf(rows.LastOrDefault()),
        });
        db.SaveChanges();
    }

    /// <summary>A settlement's nets add up to nothing with its payout; where they do not, the payout tells. One that is not paid out yet has nothing to add up to.</summary>
    private void AddUp(int importId)
    {
        foreach (var settlement in db.OutsideLines.Where(l => l.ImportId == importId).Select(l => l.Source).Distinct().ToArray())
        {
            var lines = db.OutsideLines.Where(l => l.Bench == Bench.Processors && l.Source == settlement);
            var nets = lines.GroupBy(l => l.Currency).Select(g => new { g.Key, Net = g.Sum(l => l.Gross - l.Fee) }).ToDictionary(g => g.Key, g => g.Net);
            foreach (var payouts in lines.Where(l => l.Kind == MovementKind.Payout).OrderBy(l => l.Id).AsEnumerable().GroupBy(l => l.Currency))
            {
                var off = nets[payouts.Key];
                foreach (var payout in payouts)
                {
                    var tells = off != 0 && payout == payouts.Last();
                    payout.PartFindings = tells ? Finding.DoesNotAddUp : Finding.None;
                    payout.Set(null, payout.Gross - (tells ? off : 0), payout.Fee, Finding.None, db.Settlings.AsNoTracking().Where(s => s.LineId == payout.Id).ToArray(), clock.Today);
                }
            }
        }
        db.SaveChanges();
    }
}
