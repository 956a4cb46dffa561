using System.Globalization;
using EvenSplit.Books;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Web.Pictures;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class OrderPage(OpenOrder orders, BookCache cache) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string OrderId { get; set; } = "";

    /// <summary>The entry whose trace is open.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Entry { get; set; }

    public OrderView View { get; private set; } = null!;

    public OrderEntryView? Selected => View.Entries.FirstOrDefault(e => e.Id == Entry);

    public IReadOnlyList<WaterfallStep> Waterfall { get; private set; } = [];

    public IActionResult OnGet()
    {
        // A slash inside an address's part is left as it was written.
        OrderId = OrderId.Replace("%2F", "/", StringComparison.OrdinalIgnoreCase);
        if (orders.Find(OrderId) is not { } view) return NotFound();
        View = view;
        Waterfall = view is { Figures: { } figures, Ribbon: { } ribbon } ? WaterfallSteps.Of(view, figures, ribbon).ToArray() : [];
        return Page();
    }

    public string Local(DateTimeOffset at) =>
        TimeZoneInfo.ConvertTime(at, cache.Find()!.Time.Zone).ToString("d MMM yyyy HH:mm", CultureInfo.InvariantCulture);

    public string Words(EntryPart part) => part switch
    {
        EntryPart.Fixed => "flat amount",
        EntryPart.Passed => "passed on",
        EntryPart.Recruiter => "recruiting",
        _ => "share",
    };

    public string Words(CalculationException exception)
    {
        var book = cache.Find()!;
        var payee = exception.Payee is { } id ? book.PayeeName(id.Value) : "";
        return exception.Code switch
        {
            ExceptionCode.FeeMissing => $"Fee missing: the order names the processor {View.Order.Processor}, which has no schedule, and no fee came with it. The fee counts as nothing until there is one.",
            ExceptionCode.OverCommitted => $"Over-committed: on line {exception.Line} more is given away than it brought in. The shares stand as agreed.",
            ExceptionCode.PayeeInactive => $"{payee} would have brought this order but was not active when it was placed.",
            ExceptionCode.RateMissing => payee.Length > 0
                ? $"Exchange rate missing: what {payee} earns on this order waits until there is one."
                : "Exchange rate missing: a fee or cost in another currency counts as nothing until there is one.",
            ExceptionCode.RefundExceeds => "A refund asked for more than was left of this order; the part beyond was dropped.",
            _ => $"{payee} is the buyer of this order, and nobody earns on their own purchase.",
        };
    }
}
