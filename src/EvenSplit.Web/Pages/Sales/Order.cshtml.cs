using EvenSplit.Books;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Web.Pictures;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class OrderPage(OpenOrder orders, CorrectOrder correct, EvenSplit.Books.Clearing.EntryHolds holds) : BookPage
{
    internal override string? About => "order:" + OrderId;

    [BindProperty(SupportsGet = true)]
    // A slash inside an address's part is left as it was written.
    public string OrderId { get; set => field = value.Replace("%2F", "/", StringComparison.OrdinalIgnoreCase); } = "";

    /// <summary>The entry whose trace is open.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Entry { get; set; }

    [BindProperty]
    public string ProcessingFee { get; set; } = "";

    [BindProperty]
    public string ChannelFee { get; set; } = "";

    public OrderView View { get; private set; } = null!;

    public OrderEntryView? Selected => View.Entries.FirstOrDefault(e => e.Id == Entry);

    public IReadOnlyList<WaterfallStep> Waterfall { get; private set; } = [];

    internal override bool IsThere => orders.Exists(OrderId);

    public IActionResult OnGet()
    {
        if (orders.Find(OrderId) is not { } view) return NotFound();
        ProcessingFee = Typed(view.Order.ProcessingFee, view.Currency);
        ChannelFee = Typed(view.Order.ChannelFee, view.Currency);
        Show();
        return Page();
    }

    public override void Show()
    {
        View = orders.Find(OrderId) ?? throw new RefusedException($"There is no order {OrderId}.");
        Waterfall = View is { Figures: { } figures, Ribbon: { } ribbon } ? WaterfallSteps.Of(View, figures, ribbon).ToArray() : [];
    }

    [Overwrites]
    public IActionResult OnPostFees()
    {
        correct.CorrectFees(OrderId, ProcessingFee, ChannelFee, By);
        return Corrected("The fees are corrected; the differences are posted.");
    }

    public IActionResult OnPostHold(long entry, string? holdReason)
    {
        holds.Hold(entry, holdReason ?? "", By);
        Done = "It is held back until it is let go.";
        return Redirect($"/{Period}/sales/{Uri.EscapeDataString(OrderId)}?entry={entry}#trace");
    }

    public IActionResult OnPostLetGo(long entry, int hold)
    {
        holds.LetGo(hold, By);
        Done = "It clears on its day again.";
        return Redirect($"/{Period}/sales/{Uri.EscapeDataString(OrderId)}?entry={entry}#trace");
    }

    public IActionResult OnPostTest()
    {
        correct.MarkAsTest(OrderId, By);
        Done = "It is a test now and stands in no figure; what it had earned is taken back.";
        return RedirectToPage();
    }

    public IActionResult OnPostNoTest()
    {
        correct.MarkAsNoTest(OrderId, By);
        return Corrected("It counts again; what it earns is posted.");
    }

    public IActionResult OnPostWithdraw(string refund, string? reason)
    {
        correct.WithdrawRefund(OrderId, refund, reason ?? "", By);
        return Corrected("The refund counts as never having been; what it took back is posted again.");
    }

    public IActionResult OnPostSignOff()
    {
        correct.SignOff(OrderId, By);
        return Corrected("The order is signed off.");
    }

    private RedirectToPageResult Corrected(string done)
    {
        Done = done;
        return RedirectToPage(new { entry = (long?)null });
    }

    private static string Typed(long? fee, Currency currency) => fee is { } minor ? new Money(minor, currency).ToMajorText() : "";

    public string Local(DateTimeOffset at) => Book.Local(at);

    public string Words(EntryPart part) => part switch
    {
        EntryPart.Fixed => "flat amount",
        EntryPart.Passed => "passed on",
        EntryPart.Recruiter => "recruiting",
        _ => "share",
    };

    public string Words(CalculationException exception)
    {
        var book = Book;
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
