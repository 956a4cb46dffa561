using EvenSplit.Books.Accepting;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>What the book knows of somebody who asks and is a payee already. Money in the payee's payout currency and others apart.</summary>
/// <param name="RefundsOfOrders">Of the orders they brought in six months, as on the page of refund rates.</param>
/// <param name="RefundsOfMoney">Of what they earned in six months; of several currencies the highest.</param>
public sealed record KnownFigures(string Payee, string Name, DateOnly Since, long Orders, IReadOnlyList<Money> Sales, Rate RefundsOfOrders, Rate RefundsOfMoney, bool IsOverLimit, bool IsTrusted, IReadOnlyList<string> Agreements);

/// <summary>Something of a payee that waits for somebody.</summary>
/// <param name="Path">The page where it is done, below the month; empty where it is on the payee's own.</param>
public sealed record PayeeWait(string Words, string Path);

/// <summary>The figures by which somebody decides on a payee, and what of theirs waits.</summary>
public sealed class PayeeFigures(BookDbContext db, BookCache cache, BookClock clock, RefundRates rates, UnacceptedVersions unaccepted) : IUseCase
{
    public KnownFigures Of(string id)
    {
        var book = cache.Get(db);
        var payee = book.Rules.Payee(new PayeeId(id));
        var sales = db.SalesSums.AsNoTracking().Where(s => s.BroughtBy == id).GroupBy(s => s.Currency)
            .Select(g => new { Currency = g.Key, Orders = g.Sum(s => s.Orders), Charged = g.Sum(s => s.Charged) }).ToArray();
        // The very rates of the page of refund rates: over other months the same words would say something else.
        var refunds = rates.Find(Period.Of(clock.Today), RefundRates.MonthsOfMarks).Where(r => r.PayeeId == id).MaxBy(r => r.OfMoney);
        return new KnownFigures(
            id, book.PayeeName(id), payee.ActiveFrom, sales.Sum(s => s.Orders), [.. sales.OrderBy(s => s.Currency, StringComparer.Ordinal).Select(s => new Money(s.Charged, Currency.Of(s.Currency)))],
            refunds?.OfOrders ?? Rate.Zero, refunds?.OfMoney ?? Rate.Zero, refunds?.IsOver ?? false, db.TrustedPayees.Any(t => t.Payee == id),
            [.. db.Memberships.AsNoTracking().Where(m => m.PayeeId == id && m.To == null).Select(m => m.AgreementId).Distinct().AsEnumerable().Select(book.AgreementName).Order(StringComparer.Ordinal)]);
    }

    /// <summary>What of a payee waits: details, the tax form, acceptance of what is agreed, requests.</summary>
    public IReadOnlyList<PayeeWait> Waits(string id)
    {
        var book = cache.Get(db);
        var record = db.Payees.AsNoTracking().Known(p => p.Id == id);
        var waits = new List<PayeeWait>();
        if (db.PayoutDetails.Any(d => d.Payee == id && d.ConfirmedBy == null && d.RefusedBy == null)) waits.Add(new("Payout details wait for a second person.", "pay/details"));
        else if (record.Method is PayoutMethod.Bank or PayoutMethod.Wallet && !db.PayoutDetails.Any(d => d.Payee == id && d.ConfirmedBy != null && d.RefusedBy == null)) waits.Add(new("No payout details are on file.", ""));
        if (record.TaxForm.Length == 0) waits.Add(new("No tax form is on file.", $"people/{id}/edit"));
        foreach (var version in unaccepted.Of(id)) waits.Add(new($"They have not accepted what is agreed in {book.AgreementName(version.AgreementId)}{(HoldsPayments(version.AgreementId) ? "; until then nothing is paid" : "")}.", $"terms/{version.AgreementId}"));
        if (db.TaxForms.Any(f => f.Payee == id && f.CheckedAt == null)) waits.Add(new("They have sent a tax form.", $"people/{id}/tax-forms"));
        var email = record.Email?.ToLowerInvariant();
        foreach (var request in db.Applications.AsNoTracking().Where(a => a.Email == email && a.State == ApplicationState.Waiting).OrderBy(a => a.Id)) waits.Add(new($"They ask for {book.AgreementName(request.AgreementId)}.", $"people/applications?open={request.Id}"));
        return waits;
    }

    private bool HoldsPayments(string agreement) => db.Joinings.Any(j => j.AgreementId == agreement && j.Unaccepted == UnacceptedRule.HoldsPayments);
}
