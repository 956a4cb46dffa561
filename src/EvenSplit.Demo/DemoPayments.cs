using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Demo;

/// <summary>Where the payees of the demonstration book are paid, and from which accounts. Every number is made up; some end as the stand-in bank refuses.</summary>
internal static class DemoPayments
{
    private const string House = "Hedgerow & Sky";

    /// <summary>Numbers whose last two digits say what the stand-in bank does: 01 closed, 02 another name, 04 sends the money back.</summary>
    private static readonly Dictionary<string, int> Troubled = new() { ["orla-dellamere"] = 1, ["col-marrowby"] = 4 };

    private static readonly HashSet<string> Wallets = ["quiet-field-podcast", "low-tide-podcast", "far-orchard-letter"];

    public static void Make(IServiceProvider services, IReadOnlyList<PayeeRecord> payees, string lead, string approver)
    {
        Do<PayingAccounts>(services, accounts =>
        {
            foreach (var (currency, i) in new[] { "EUR", "GBP", "USD", "JPY" }.Select((c, i) => (c, i))) Sound(accounts.Save(currency, House, Irish(90_000_010 + i), "HSKYIE2D", lead));
        });
        Do<DueRuns>(services, due =>
        {
            due.AddHoliday(new DateOnly(2026, 12, 25), "Christmas Day", lead);
            due.AddHoliday(new DateOnly(2026, 12, 31), "New Year’s Eve, closed", lead);
        });
        foreach (var (payee, i) in payees.Select((p, i) => (p, i)))
        {
            // A few are paid by hand, as they always were.
            if (payee.Id is "brackenside-joinery" or "nessa-wrenfold" or "crooked-stile-letter") continue;
            var draft = Wallets.Contains(payee.Id)
                ? new PayoutDetailsDraft { Method = PayoutMethod.Wallet, Recipient = $"{payee.Id}@wallet.example" }
                : new PayoutDetailsDraft { Holder = payee.Name, Iban = Irish((10_000_000 + ((i + 1) * 9_700)) / 100 * 100 + Troubled.GetValueOrDefault(payee.Id, 10 + (i % 80))), Bic = "MADEIE2D" };
            Do<PayoutDetails>(services, details => Sound(details.Propose(payee.Id, draft, lead)));
        }
        Do<PayoutDetails>(services, details =>
        {
            foreach (var waiting in details.Waiting()) details.Confirm(waiting.Id, approver);
        });
    }

    /// <summary>An Irish IBAN with the account's eight digits and the check digits that fit.</summary>
    private static string Irish(int account)
    {
        var rest = string.Create(CultureInfo.InvariantCulture, $"MADE900017{account:D8}");
        var digits = string.Concat($"{rest}IE00".Select(c => char.IsAsciiDigit(c) ? c.ToString() : (c - 'A' + 10).ToString(CultureInfo.InvariantCulture)));
        var check = 98 - (int)(System.Numerics.BigInteger.Parse(digits, CultureInfo.InvariantCulture) % 97);
        return string.Create(CultureInfo.InvariantCulture, $"IE{check:D2}{rest}");
    }

    private static void Sound(IReadOnlyList<EvenSplit.Books.Forms.FieldFault> faults)
    {
        if (faults.Count > 0) throw new InvalidOperationException(string.Join(" ", faults.Select(f => $"{f.Field}: {f.Message}")));
    }

    private static void Do<T>(IServiceProvider services, Action<T> action) where T : notnull
    {
        using var scope = services.CreateScope();
        action(scope.ServiceProvider.GetRequiredService<T>());
    }
}
