using System.Globalization;
using EvenSplit.Books.Ledger;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>A table of entries, on a payee's page or among the books.</summary>
/// <param name="TracesHere">Whether a trace opens on this page; else on the order's.</param>
/// <param name="Selected">The entry whose trace is open beside the list.</param>
public sealed record EntriesView(Period Period, EntryPage Page, bool ShowPayee, bool TracesHere = false, long? Selected = null)
{
    /// <summary>What its sum measures of the month; null where that has no name.</summary>
    public string? Measured { get; init; }

    /// <summary>Where a page ended, for an address: 20261003-1234.</summary>
    public static string WriteAfter((DateOnly PostedOn, long Id) after) =>
        string.Create(CultureInfo.InvariantCulture, $"{after.PostedOn:yyyyMMdd}-{after.Id}");

    /// <returns>Null for the first page, or where the text is no such place.</returns>
    public static (DateOnly PostedOn, long Id)? ReadAfter(string text) =>
        text.Split('-') is [var on, var id]
        && DateOnly.TryParseExact(on, "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var postedOn)
        && long.TryParse(id, NumberStyles.None, CultureInfo.InvariantCulture, out var key) ? (postedOn, key) : null;
}
