using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Proofs;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>How long money has been owed, waits for a processor, or is on its way.</summary>
public sealed class AgeingPage(OpenMoney money, BookClock clock) : BookPage
{
    public IReadOnlyList<OpenMoneyRow> Rows { get; private set; } = [];

    public DateOnly Today => clock.Today;

    public static IReadOnlyList<(OpenMoneyKind Kind, string Title, string Since)> Sections { get; } =
    [
        (OpenMoneyKind.Owed, "Owed to payees", "Cleared and not paid out, by how long ago it cleared."),
        (OpenMoneyKind.NotSettled, "Not settled by processors", "Sold or taken back and in no settlement yet, less their fee, by the day of the sale or refund."),
        (OpenMoneyKind.FromProcessors, "Settled and not at the bank", "Paid out by processors and on no statement yet, by the day of the settlement."),
        (OpenMoneyKind.ToPayees, "On its way to payees", "Issued, and neither confirmed nor back, by the day of issue."),
    ];

    public void OnGet() => Rows = money.Find();

    public IActionResult OnGetCsv() => new CsvDownload(
        $"ageing-{CsvDownload.Date(Today)}.csv", ["what", "of", "to_30", "31_to_60", "61_to_90", "older", "sum", "currency", "oldest"],
        money.Find().Select(r => (string[])[Sections.Single(s => s.Kind == r.Kind).Title, Name(r), .. r.Ages.Append(r.Sum).Select(a => new Core.Money(a, r.Currency).ToMajorText()), r.Currency.Code, r.Oldest is { } oldest ? CsvDownload.Date(oldest) : ""]));

    public static string Name(OpenMoneyRow row) => row.Kind switch
    {
        OpenMoneyKind.Owed => "All payees",
        OpenMoneyKind.FromProcessors => "All settlements",
        OpenMoneyKind.ToPayees => Enum.Parse<PayoutMethod>(row.Of) switch { PayoutMethod.Bank => "By bank", PayoutMethod.Wallet => "To wallets", _ => "By hand" },
        _ => row.Of,
    };

    /// <summary>Where its parts are seen.</summary>
    public string LinkTo(OpenMoneyRow row) => $"/{Period}/pay" + row.Kind switch
    {
        OpenMoneyKind.Owed => "/owed",
        OpenMoneyKind.NotSettled => "/bench",
        OpenMoneyKind.FromProcessors => "/bench/bank",
        _ => "/results",
    };
}
