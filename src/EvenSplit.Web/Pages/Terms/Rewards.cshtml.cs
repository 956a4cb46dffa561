using EvenSplit.Books;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Books.Rewards;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Rewards between customers: the schemes, the codes, and one report of discounts and store credit.</summary>
public sealed class RewardsPage(RewardSchemes schemes, RewardReport report, ProductDesk products, BookClock clock, CustomerLinks links) : BookPage
{
    private const int DiscountRows = 4;

    /// <summary>First and last month of the report; left out, the month of the address.</summary>
    [BindProperty(SupportsGet = true, Name = "since")]
    public Period? Since { get; set; }

    [BindProperty(SupportsGet = true, Name = "until")]
    public Period? Until { get; set; }

    [BindProperty]
    public SchemeDraft Draft { get; set; } = new();

    [BindProperty]
    public string Code { get; set; } = "";

    [BindProperty]
    public string CustomerKey { get; set; } = "";

    [BindProperty]
    public string CustomerName { get; set; } = "";

    /// <summary>Whether the scheme's form was sent and refused.</summary>
    public bool IsSetting { get; private set; }

    public IReadOnlyList<RewardRow> Rows { get; private set; } = [];

    public IReadOnlyList<CustomerCredit> Credits { get; private set; } = [];

    public IReadOnlyList<SchemeView> Schemes { get; private set; } = [];

    public IReadOnlyList<CustomerCodeRecord> Codes { get; private set; } = [];

    public IReadOnlyList<(string Name, int Products)> Collections => products.Collections();

    public Currency Currency => Book.Currency;

    public DateOnly Today => clock.Today;

    public string FromMonth => From.ToString();

    public string ToMonth => To.ToString();

    public IEnumerable<(Currency Currency, long Goods, long Due, long Given)> Totals => Rows.GroupBy(r => r.Goods.Currency)
        .Select(g => (g.Key, g.Sum(r => r.Goods.Minor), g.Sum(r => r.Due.Minor), g.Sum(r => r.Given.Minor)));

    private Period From => Since ?? Period;

    private Period To => Until ?? Period;

    /// <summary>What opens a customer's own page.</summary>
    public string TokenOf(string customerKey) => links.TokenOf(customerKey);

    public void OnGet()
    {
        Draft = Draft with { From = Period.Next.FirstDay };
        Show();
    }

    public override void Show()
    {
        Rows = report.Rows(From, To);
        Credits = report.Credits();
        Schemes = schemes.List();
        Codes = schemes.Codes();
        Draft = Draft with { Discounts = [.. Draft.Discounts, .. Enumerable.Repeat(new FriendDiscountDraft(), Math.Max(0, DiscountRows - Draft.Discounts.Count))] };
    }

    public IActionResult OnGetCsv() => new CsvDownload(
        $"rewards-{From}-{To}.csv",
        ["paid_on", "order", "friend", "referred_by", "referrer", "items", "currency", "goods", "discount_by_scheme", "discount_given", "store_credit", "credit_currency", "note"],
        report.Rows(From, To).Select(r => new[]
        {
            CsvDownload.Date(r.PaidOn), r.Order, r.Friend, r.ReferrerKey, r.Referrer, string.Join(", ", r.Items), r.Goods.Currency.Code, r.Goods.ToMajorText(), r.Due.ToMajorText(), r.Given.ToMajorText(),
            r.Credit is { } credit ? new Money(credit, Currency).ToMajorText() : "", Currency.Code, r.Why ?? (r.IsHeld ? "held" : ""),
        }));

    public IActionResult OnPost()
    {
        ModelState.Clear();
        IsSetting = true;
        return Answer(schemes.Add(Draft, By), $"{Draft.Name} holds from {Draft.From?.InWords()}.");
    }

    public IActionResult OnPostEnd(int scheme, DateOnly? to)
    {
        if (to is not { } end) throw new RefusedException("Say on which day it ends.");
        schemes.End(scheme, end, By);
        Done = $"It holds until {end.AddDays(-1).InWords()}.";
        return RedirectToPage();
    }

    public IActionResult OnPostCode()
    {
        schemes.AddCode(Code, CustomerKey, CustomerName, By);
        Done = $"{Code} is the code of {CustomerName}.";
        return RedirectToPage();
    }

    /// <summary>The list of what is given, for the shop to enter.</summary>
    public IActionResult OnPostGive() => new CsvDownload(
        $"store-credit-{CsvDownload.Date(Today)}.csv", ["customer", "name", "amount", "currency"],
        report.Give(By).Select(c => new[] { c.Key, c.Name, new Money(c.Owed, Currency).ToMajorText(), Currency.Code }));
}
