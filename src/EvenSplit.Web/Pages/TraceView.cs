using EvenSplit.Books.Sales;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>The trace of one entry, for the reading pane of whichever page it was opened on.</summary>
/// <param name="ShowOrder">Whether to lead to the order: not on the order's own page.</param>
public sealed record TraceView(Period Period, string OrderId, OrderEntryView Entry, string CloseHref, bool ShowOrder);
