using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>An invoice in a payee's name as it was issued; a credit note where more was taken back than earned.</summary>
/// <param name="Number">Such as anna-3.</param>
/// <param name="Totals">By currency.</param>
public sealed record SelfBill(string Number, int RunId, DateOnly AsOf, DateOnly IssuedOn, string Supplier, string Recipient, IReadOnlyList<(string Agreement, long Entries, Money Sum)> Lines, IReadOnlyList<Money> Totals)
{
    public bool IsCreditNote => Totals.All(t => t.Minor < 0);
}

/// <summary>
/// Writes the invoices of payees whose agreements say that the book does (self-billing): one for each run that took something they earned under such an agreement, as the run is issued. What is on it
/// never changes, whoever is renamed later.
/// </summary>
public sealed class SelfBills(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    /// <summary>Writes those of a run; the caller issues it in the same transaction and saves.</summary>
    internal void Write(PayRunRecord run)
    {
        var billed = db.AgreementViews.AsNoTracking().Where(v => v.SelfBills).Select(v => v.AgreementId).ToHashSet();
        if (billed.Count == 0) return;
        var (book, today) = (cache.Get(db), clock.Today);
        var members = db.Memberships.AsNoTracking().Where(m => billed.Contains(m.AgreementId)).Select(m => m.PayeeId).Distinct().ToHashSet();
        foreach (var payee in run.Remittances.Select(r => r.Payee).Where(members.Contains).Order(StringComparer.Ordinal))
        {
            var lines = db.EntriesOf(run, payee).AsNoTracking().Where(e => billed.Contains(e.Agreement)).GroupBy(e => new { e.Agreement, e.Currency })
                .Select(g => new { g.Key.Agreement, g.Key.Currency, Entries = g.LongCount(), Sum = g.Sum(e => e.Amount) }).AsEnumerable()
                .OrderBy(l => l.Agreement, StringComparer.Ordinal).ThenBy(l => l.Currency, StringComparer.Ordinal)
                .Select(l => new SelfBillLine(book.AgreementName(l.Agreement), l.Entries, l.Sum, l.Currency)).ToArray();
            if (lines.Length == 0) continue;
            var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
            db.SelfBills.Add(new SelfBillRecord
            {
                RunId = run.Id,
                Payee = payee,
                Number = (db.SelfBills.Where(b => b.Payee == payee).Max(b => (int?)b.Number) ?? 0) + 1,
                IssuedOn = today,
                Supplier = Party(record.Name, record.PostalAddress, record.TaxNumber),
                Recipient = Party(book.Record.Name, book.Record.PostalAddress, book.Record.TaxNumber),
                Lines = JsonSerializer.Serialize(lines),
            });
        }
    }

    /// <returns>Null where none was written.</returns>
    public SelfBill? Find(int runId, string payee)
    {
        if (db.SelfBills.AsNoTracking().FirstOrDefault(b => b.RunId == runId && b.Payee == payee) is not { } bill) return null;
        var lines = JsonSerializer.Deserialize<SelfBillLine[]>(bill.Lines)!.Select(l => (l.Agreement, l.Entries, Sum: new Money(l.Minor, Currency.Of(l.Currency)))).ToArray();
        return new SelfBill($"{payee}-{bill.Number}", runId, db.PayRuns.Where(r => r.Id == runId).Select(r => r.AsOf).Single(), bill.IssuedOn, bill.Supplier, bill.Recipient, lines,
            [.. lines.GroupBy(l => l.Sum.Currency).Select(g => new Money(g.Sum(l => l.Sum.Minor), g.Key))]);
    }

    /// <summary>Of those who are on an agreement today, how many have no postal address or no tax number to stand on an invoice.</summary>
    public int Incomplete(string agreement)
    {
        var today = clock.Today;
        var on = db.Memberships.Where(m => m.AgreementId == agreement && m.From <= today && (m.To == null || m.To > today)).Select(m => m.PayeeId);
        return db.Payees.Count(p => on.Contains(p.Id) && (p.PostalAddress == "" || p.TaxNumber == ""));
    }

    private static string Party(string name, string address, string taxNumber) =>
        string.Join('\n', new[] { name, address.ReplaceLineEndings("\n").Trim(), taxNumber.Length > 0 ? $"Tax number {taxNumber}" : "" }.Where(l => l.Length > 0));
}
