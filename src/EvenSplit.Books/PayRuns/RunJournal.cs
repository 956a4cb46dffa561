using System.Globalization;
using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>
/// A run as double entry, in plain text that hledger and ledger read: what the lock makes of each payee's earnings, then each payment, and what came
/// back. Every transaction balances.
/// </summary>
public sealed class RunJournal(BookDbContext db, BookCache cache) : IUseCase
{
    /// <returns>Null where the run is not locked.</returns>
    public string? Write(int id)
    {
        var run = db.PayRuns.AsNoTracking().Include(r => r.Remittances).FirstOrDefault(r => r.Id == id);
        if (run is null or { State: RunState.Gathering }) return null;
        var book = cache.Get(db);
        var earned = db.TakenSums.Where(s => s.RunId == id).GroupBy(s => new { s.Payee, s.Currency }).Select(g => new { g.Key.Payee, g.Key.Currency, Sum = g.Sum(e => e.Amount) })
            .AsEnumerable().ToLookup(e => e.Payee, e => new Money(e.Sum, Currency.Of(e.Currency)));
        var adjusted = db.Adjustments.AsNoTracking().Where(a => a.RunId == id).AsEnumerable().ToLookup(a => a.Payee);
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"; {OneLine(book.Record.Name)}, run as of {run.AsOf:yyyy-MM-dd}\n");
        if (run.OnePerson is { } one) text.Append(CultureInfo.InvariantCulture, $"; prepared and approved by one person, {OneLine(one)}\n");
        text.Append('\n');
        foreach (var remittance in run.Remittances.OrderBy(r => r.Id).Where(r => r.Opening != 0 || r.Earned != 0 || r.Adjustments != 0))
        {
            var name = OneLine(book.PayeeName(remittance.Payee));
            var currency = Currency.Of(remittance.Currency);
            Locked(text, book, run, remittance, name, currency, [.. earned[remittance.Payee]], [.. adjusted[remittance.Payee]]);
            Paid(text, run, remittance, name, currency);
        }
        return text.ToString();
    }

    private static void Locked(StringBuilder text, OpenedBook book, PayRunRecord run, RemittanceRecord r, string name, Currency currency, Money[] earned, AdjustmentRecord[] adjusted)
    {
        Head(text, run.AsOf, name, $"run as of {run.AsOf:yyyy-MM-dd}");
        foreach (var money in earned) Post(text, $"Liabilities:Earnings:{name}", money, Converted(book, run, money, currency), currency);
        foreach (var a in adjusted)
        {
            var money = new Money(a.Amount, Currency.Of(a.Currency));
            var account = a.Kind switch
            {
                AdjustmentKind.Returned => $"Liabilities:Came back:{name}",
                AdjustmentKind.WriteOff => $"Income:Written off:{name}",
                _ => $"Expenses:Adjustments:{name}",
            };
            Post(text, account, money, Converted(book, run, money, currency), currency);
        }
        Post(text, $"Liabilities:Carried:{name}", new Money(r.Opening, currency));
        Post(text, $"Assets:Advances:{name}", new Money(-r.Recouped, currency));
        Post(text, "Liabilities:Tax withheld", new Money(-r.Withheld, currency));
        Post(text, "Income:Transfer fees", new Money(-r.TransferFee, currency));
        Post(text, $"Liabilities:Carried:{name}", new Money(-r.Carried, currency));
        Post(text, $"Liabilities:To be paid:{name}", new Money(-r.Paid, currency));
        text.Append('\n');
    }

    /// <summary>What left the account, and what did not arrive: owed again until the run that takes it, with the fee given back.</summary>
    private static void Paid(StringBuilder text, PayRunRecord run, RemittanceRecord r, string name, Currency currency)
    {
        // What came back had left before: money out, and in again, each on its day.
        var isReturned = r is { State: RemittanceState.Returned, PaidOn: not null };
        var bank = r.Method == PayoutMethod.StoreCredit ? "Liabilities:Store credit" : $"Assets:Bank:{currency}";
        if (r.State == RemittanceState.Confirmed || isReturned)
        {
            Head(text, r.PaidOn!.Value, name, $"paid, {OneLine(r.Reference ?? "")}");
            Post(text, $"Liabilities:To be paid:{name}", new Money(r.Paid, currency));
            Post(text, bank, new Money(-r.Paid, currency));
            text.Append('\n');
        }
        if (r.State is RemittanceState.Refused or RemittanceState.Returned or RemittanceState.SetAside)
        {
            Head(text, r.CameBackOn ?? r.PaidOn ?? run.AsOf, name, $"{(isReturned ? "came back" : "did not arrive")}, {OneLine(r.Why ?? "")}");
            Post(text, isReturned ? bank : $"Liabilities:To be paid:{name}", new Money(r.Paid, currency));
            Post(text, "Income:Transfer fees", new Money(r.TransferFee, currency));
            Post(text, $"Liabilities:Came back:{name}", new Money(-r.Paid - r.TransferFee, currency));
            text.Append('\n');
        }
    }

    /// <summary>Each sum converted once, at the run's date, as the run did.</summary>
    private static long Converted(OpenedBook book, PayRunRecord run, Money money, Currency to) => book.Rules.Rates.Convert(money.Minor, money.Currency, to, run.AsOf) ?? 0;

    private static void Head(StringBuilder text, DateOnly on, string name, string words) => text.Append(CultureInfo.InvariantCulture, $"{on:yyyy-MM-dd} {name} | {words}\n");

    private static void Post(StringBuilder text, string account, Money money)
    {
        if (money.Minor != 0) text.Append(CultureInfo.InvariantCulture, $"    {account}  {money.ToMajorText()} {money.Currency}\n");
    }

    private static void Post(StringBuilder text, string account, Money money, long worth, Currency currency)
    {
        if (money.Currency == currency) Post(text, account, money);
        // The price is of the whole posting, and has no sign.
        else if (money.Minor != 0) text.Append(CultureInfo.InvariantCulture, $"    {account}  {money.ToMajorText()} {money.Currency} @@ {new Money(Math.Abs(worth), currency).ToMajorText()} {currency}\n");
    }

    /// <summary>Nothing that a journal would read as the end of an account's name, a comment or a new line.</summary>
    private static string OneLine(string words) => string.Join(' ', new string(words.Select(c => char.IsControl(c) || c is ';' or '|' or ':' ? ' ' : c).ToArray()).Split(' ', StringSplitOptions.RemoveEmptyEntries));
}
