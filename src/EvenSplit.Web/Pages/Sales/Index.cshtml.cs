using System.Globalization;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;

namespace EvenSplit.Web.Pages;

public sealed class SalesPageModel(SalesList sales, QuarantineDesk quarantine) : BookPage
{
    public static IReadOnlyList<(OrderKindFilter Kind, string Words)> Kinds { get; } =
    [
        (OrderKindFilter.Any, "of every kind"), (OrderKindFilter.Paid, "that are paid"), (OrderKindFilter.Unpaid, "not paid yet"),
        (OrderKindFilter.Exceptions, "with an exception"), (OrderKindFilter.Refunded, "with a refund"), (OrderKindFilter.Test, "placed as a test"),
        (OrderKindFilter.Contested, "that two claim"), (OrderKindFilter.SelfReferral, "of their own buyer"),
    ];

    [BindProperty(SupportsGet = true)]
    public OrderKindFilter Kind { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Channel { get; set; } = "";

    [BindProperty(SupportsGet = true, Name = "by")]
    public string BroughtBy { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string Find { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string? After { get; set; }

    /// <summary>What it is sorted by; null for the time of placing.</summary>
    [BindProperty(SupportsGet = true)]
    public SalesColumn? Sort { get; set; }

    [BindProperty(SupportsGet = true)]
    public bool Down { get; set; }

    /// <summary>Of a sorted list, how many rows come before.</summary>
    [BindProperty(SupportsGet = true)]
    public int Skip { get; set; }

    public SalesPage List { get; private set; } = null!;

    public int Waiting { get; private set; }

    public Currency MainCurrency => List.Totals.Count > 0 ? List.Totals[0].Currency : Book.Currency;

    public string CurrencyHead => MainCurrency.Code;

    /// <summary>Whether the foot sums every paid order of the month.</summary>
    public bool IsWhole => Kind is OrderKindFilter.Any or OrderKindFilter.Paid && (Channel, BroughtBy, Find) == ("", "", "");

    public bool IsFiltered => (Kind, Channel, BroughtBy, Find) != (OrderKindFilter.Any, "", "", "");

    public IEnumerable<(string Id, string Name)> Affiliates => Book.Rules.Payees.Where(p => p.Role == PayeeRole.Affiliate)
        .Select(p => (p.Id.Value, Book.PayeeName(p.Id.Value))).OrderBy(p => p.Item2, StringComparer.Ordinal);

    public void OnGet()
    {
        List = sales.Find(new SalesFilter(Period, Kind, Channel, BroughtBy, Find, ReadAfter()) { Sorting = Sort is { } by ? new SalesSorting(by, Down, Math.Max(0, Skip)) : null });
        Waiting = quarantine.Count();
    }

    public string ChannelName(string id) => Book.ChannelName(id);

    /// <summary>In the book's zone: 3 Oct 14:05.</summary>
    public string Local(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, Book.Time.Zone).ToString("d MMM HH:mm", CultureInfo.InvariantCulture);

    /// <summary>The list sorted by a column: the other way round where it is already, figures the largest first; by placing again where it was both ways.</summary>
    public string SortedBy(SalesColumn column)
    {
        var largestFirst = column >= SalesColumn.Charged;
        return Sort != column ? Address(null, column, largestFirst) : Down == largestFirst ? Address(null, column, !largestFirst) : Address(null, null, false);
    }

    public string? SortOf(SalesColumn column) => Sort != column ? null : Down ? "descending" : "ascending";

    /// <summary>By the time of placing again.</summary>
    public string Placed => Address(null, null, false);

    /// <summary>The columns of money.</summary>
    public static IReadOnlyList<(SalesColumn Column, string Words)> Figures { get; } =
    [
        (SalesColumn.Charged, "Charged"), (SalesColumn.Tax, "Tax"), (SalesColumn.Fees, "Net fees"), (SalesColumn.Affiliates, "Affiliates"), (SalesColumn.Collaborators, "Collaborators"), (SalesColumn.Vendors, "Vendors"), (SalesColumn.House, "House"),
    ];

    /// <summary>The page after this one.</summary>
    public string? Later => List.Next is null ? null : Sort is null || !List.CanSort ? Address(List.Next, null, false) : Address(null, Sort, Down, Math.Max(0, Skip) + SalesList.PageSize);

    public bool IsFirst => After is null && Skip <= 0;

    public string First => Address(null, Sort, Down);

    private string Address((long PlacedAt, long Id)? after, SalesColumn? sort, bool down, int skip = 0) => QueryHelpers.AddQueryString($"/{Period}/sales", new Dictionary<string, string?>
    {
        ["kind"] = Kind == OrderKindFilter.Any ? null : Kind.ToString().ToLowerInvariant(),
        ["channel"] = Channel,
        ["by"] = BroughtBy,
        ["find"] = Find,
        ["sort"] = sort?.ToString().ToLowerInvariant(),
        ["down"] = down ? "true" : null,
        ["skip"] = skip > 0 ? skip.ToString(CultureInfo.InvariantCulture) : null,
        ["after"] = after is { } a ? string.Create(CultureInfo.InvariantCulture, $"{a.PlacedAt}-{a.Id}") : null,
    }.Where(v => !string.IsNullOrEmpty(v.Value)));

    private (long PlacedAt, long Id)? ReadAfter() =>
        After?.Split('-') is [var at, var id] && long.TryParse(at, out var ticks) && ticks is > 0 and < 3_155_378_975_999_999_999 && long.TryParse(id, out var key) ? (ticks, key) : null;
}
