using EvenSplit.Books;
using EvenSplit.Books.Importing;
using EvenSplit.Core;
using EvenSplit.Formats.Events;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>One cell to type into.</summary>
/// <param name="Column">What the files call it.</param>
/// <param name="Choices">What there is to choose from, as value and words; null for text.</param>
public sealed record HandCell(string Column, string Label, string Help = "", string Type = "text", IReadOnlyList<(string Value, string Words)>? Choices = null);

/// <summary>Cells that belong together, under a heading where they have one.</summary>
public sealed record HandCells(string Heading, params IReadOnlyList<HandCell> Cells);

/// <summary>Types in an order, a payment, a refund or a click that no shop and no file reports.</summary>
[Authorize(Policies.Change)]
public sealed class ByHandPage(HandEntry entry, BookCache cache, BookClock clock) : BookPage
{
    private const int LinesShown = 4;

    private static readonly (string, string)[] NoOrYes = [("no", "no"), ("yes", "yes")];

    public static IReadOnlyList<(SalesEventKind Kind, string Words)> Kinds { get; } =
        [(SalesEventKind.Order, "an order or a renewal"), (SalesEventKind.Payment, "a payment"), (SalesEventKind.Refund, "a refund, chargeback or cancellation"), (SalesEventKind.Click, "a click")];

    [BindProperty(SupportsGet = true)]
    public SalesEventKind Kind { get; set; }

    [BindProperty]
    public Dictionary<string, string> Cells { get; set; } = [];

    [BindProperty]
    public List<Dictionary<string, string>> Lines { get; set; } = [];

    public bool HasLines => Kind is SalesEventKind.Order or SalesEventKind.Refund;

    /// <summary>What is asked first, before any lines.</summary>
    public HandCells First => Kind switch
    {
        SalesEventKind.Payment => new("", new("order_id", "Order"), new("paid_at", "Paid at", "In the book’s zone.", "datetime-local"), new("processing_fee", "Processing fee", "Empty: by the schedule.")),
        SalesEventKind.Refund => new("",
            new("refund_id", "Reference of the refund", "An id of your own; one that is used corrects that refund."), new("order_id", "Order"), new("at", "At", "In the book’s zone.", "datetime-local"),
            new("kind", "It is", Choices: [("refund", "a refund"), ("chargeback", "a chargeback"), ("cancel", "a cancellation of all that is left")])),
        SalesEventKind.Click => new("",
            new("payee", "Payee", "Their id, as it stands in the address of their page."), new("at", "At", "In the book’s zone.", "datetime-local"), new("order_id", "The order it led to"),
            new("visitor", "Or the visitor"), new("source", "Page it was on")),
        _ => new("",
            new("order_id", "Order", "An id of your own; the same as one there is changes that one."), new("placed_at", "Placed at", "In the book’s zone.", "datetime-local"),
            new("paid_at", "Paid at", "Empty: not paid yet, it earns nothing.", "datetime-local"), new("channel", "Channel"), new("currency", "Currency"),
            new("customer", "Customer", Choices: [("new", "new"), ("returning", "returning")]), new("customer_key", "Buyer", "What the shop knows them by."), new("prices_include_tax", "Prices include tax", Choices: NoOrYes), new("test", "Only a test", Choices: NoOrYes)),
    };

    /// <summary>What is asked after the lines.</summary>
    public IReadOnlyList<HandCells> Further => Kind switch
    {
        SalesEventKind.Refund =>
            [new("Besides the lines", new("shipping", "Shipping given back, net"), new("shipping_tax", "Tax on shipping given back"), new("processing_fee_returned", "Processing fee returned"), new("dispute_fee", "Dispute fee"))],
        SalesEventKind.Order =>
        [
            new("On the whole order", new("order_discount", "Discount"), new("shipping", "Shipping"), new("shipping_tax", "Tax on shipping"),
                new("processor", "Processor", "Empty: no processing fee."), new("processing_fee", "Processing fee", "Empty: by the processor’s schedule."), new("channel_fee", "Channel fee", "Empty: by the channel’s schedule."), new("rebate", "Rebate", "Empty: by the channel’s schedule.")),
            new("Who brought it", new("coupon_codes", "Coupon codes", "A space between."), new("manual_payee", "Assigned to", "A payee’s id. Empty: by codes and clicks."), new("origin_order", "Renews the order")),
        ],
        _ => [],
    };

    public IReadOnlyList<HandCell> LineFields => Kind == SalesEventKind.Refund
        ? [new("line_id", "line"), new("quantity", "units"), new("goods", "goods, net"), new("tax", "tax")]
        : [new("line_id", "line"), new("product", "product"), new("variant", "variant"), new("quantity", "units"), new("unit_price", "price a unit"), new("line_discount", "discount"), new("line_tax", "tax"), new("requires_shipping", "shipped"), new("payment_number", "payment number")];

    public IEnumerable<(string Id, string Name)> Products => Book.Rules.Products.Select(p => (p.Id.Value, Book.ProductName(p.Id.Value)));

    /// <param name="order">The order that is to be changed; null for a new one.</param>
    /// <param name="refund">The refund that is to be corrected; null for a new one.</param>
    public IActionResult OnGet(string? order, string? refund)
    {
        if (refund is not null)
        {
            if (entry.FindRefund(refund) is not var (cells, lines)) return NotFound();
            (Kind, Cells, Lines) = (SalesEventKind.Refund, cells, [.. lines]);
        }
        else if (order is not null)
        {
            if (entry.Find(order) is not var (cells, lines)) return NotFound();
            (Kind, Cells, Lines) = (SalesEventKind.Order, cells, [.. lines]);
        }
        else if (Kind == SalesEventKind.Order) Cells["currency"] = Book.Currency.Code;
        Show();
        return Page();
    }

    public IActionResult OnPost()
    {
        ModelState.Clear();
        ReadMoments();
        var faults = entry.Enter(new HandDraft { Kind = Kind, Cells = Cells, Lines = Lines }, By);
        if (faults.Count == 0)
        {
            Done = "It is stored; what was in the book already is put right, what is new is taken into it in a moment.";
            return Redirect($"/{Period}/sales/by-hand?kind={Kind}");
        }
        Refuse(faults);
        Show();
        return Page();
    }

    /// <summary>Points in time are typed as they are written; what is none stays as it is, and is told at its cell.</summary>
    private void ReadMoments()
    {
        var days = DayBinder.Reader(cache, clock);
        foreach (var column in First.Cells.Where(c => c.Type == "datetime-local").Select(c => c.Column))
        {
            if (WrittenMoment.Read(Cells.GetValueOrDefault(column) ?? "", days) is { } moment) Cells[column] = moment.ToString("yyyy-MM-ddTHH:mm:ss", System.Globalization.CultureInfo.InvariantCulture);
        }
    }

    public override void Show()
    {
        while (HasLines && Lines.Count < LinesShown) Lines.Add([]);
    }

    /// <summary>Faults that stand at no cell of this form.</summary>
    public IEnumerable<string> Elsewhere => ModelState.Where(f => f.Value!.Errors.Count > 0 && !Further.Prepend(First).Any(g => g.Cells.Any(c => f.Key == $"Cells[{c.Column}]")) && !f.Key.StartsWith("Lines[", StringComparison.Ordinal))
        .SelectMany(f => f.Value!.Errors.Select(e => e.ErrorMessage));
}
