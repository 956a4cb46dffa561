using System.ComponentModel.DataAnnotations;
using System.Text;
using EvenSplit.Books;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Fee schedules with their dates, and exchange rates.</summary>
public sealed class FeesPage(RateDesk desk, FileColumns columns) : BookPage
{
    private const int RatesShown = 30;

    [BindProperty]
    public ScheduleDraft Processor { get; set; } = new();

    [BindProperty]
    public ScheduleDraft Channel { get; set; } = new();

    [BindProperty]
    public IFormFile? RatesFile { get; set; }

    /// <summary>The same as text, where what it changes was looked at first.</summary>
    [BindProperty, StringLength(LargestRates)]
    public string RatesText { get; set; } = "";

    private const int LargestRates = 4 << 20;

    public IReadOnlyList<RowFault> RateFaults { get; private set; } = [];

    public IReadOnlyList<ExchangeRate> Rates { get; private set; } = [];

    public Rulebook Rules => Book.Rules;

    public Currency Currency => Book.Currency;

    public string ChannelName(string id) => Book.ChannelName(id);

    /// <param name="processor">The one that a schedule is missing for.</param>
    public void OnGet(string? processor)
    {
        Processor = Processor with { Id = processor ?? "" };
        RateFrom = Book.Currency.Code;
        Show();
    }

    /// <summary>What orders name without a fee.</summary>
    public IReadOnlyList<(string Id, int Orders)> WithoutSchedule { get; private set; } = [];

    public override void Show() => (Rates, WithoutSchedule) = (desk.Latest(RatesShown), desk.WithoutSchedule());

    internal override string? About => "fees:all";

    [Overwrites]
    public IActionResult OnPostProcessor() => Saved("Processor", desk.SaveProcessor(Processor, By), Processor.Id);

    [Overwrites]
    public IActionResult OnPostChannel() => Saved("Channel", desk.SaveChannel(Channel, By), Channel.Id);

    [BindProperty]
    public DateOnly? RateOn { get; set; }

    [BindProperty]
    public string RateFrom { get; set; } = "";

    [BindProperty]
    public string RateTo { get; set; } = "";

    [BindProperty]
    public string RateText { get; set; } = "";

    public IActionResult OnPostRate()
    {
        ModelState.Clear();
        return Answer(desk.Set(RateOn, RateFrom, RateTo, RateText, By), "The rate is set.");
    }

    public IActionResult OnPostNoRate(DateOnly on, string from, string to)
    {
        desk.Remove(on, from, to, By);
        return Answer([], "The rate is taken out.");
    }

    public IActionResult OnPostNoProcessor(string id, DateOnly from)
    {
        desk.RemoveProcessorSchedule(id, from, By);
        return Answer([], $"The schedule of {id} is taken out.");
    }

    public IActionResult OnPostNoChannel(string id, DateOnly from)
    {
        desk.RemoveChannelSchedule(id, from, By);
        return Answer([], $"The schedule of {id} is taken out.");
    }

    [KeepsFileAs(nameof(RatesText))]
    public async Task<IActionResult> OnPostRatesAsync(CancellationToken cancellation)
    {
        if (RatesText.Length == 0 && RatesFile is not { Length: > 0 }) throw new RefusedException("Choose a file that is not empty.", "RatesFile");
        if (RatesFile?.Length > LargestRates) throw new RefusedException("More than 4 MB of rates: divide the file by years.", "RatesFile");
        if (RatesText.Length == 0 && await AskColumnsAsync(columns, RatesFile!, ImportKind.Rates, cancellation) is { } asked) return asked;
        await using Stream content = RatesText.Length > 0 ? new MemoryStream(Encoding.UTF8.GetBytes(RatesText)) : RatesFile!.OpenReadStream();
        (var added, RateFaults) = desk.Import(content, By);
        if (RateFaults.Count == 0)
        {
            Done = Taken(added);
            return RedirectToPage();
        }
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Show();
        return Page();
    }

    internal static string Taken(int added) => added == 0 ? "Every rate of the file was there already." : $"{MoneyWords.Count(added, "rate")} taken; what they change is posted.";

    private IActionResult Saved(string of, IReadOnlyList<FieldFault> faults, string id)
    {
        ModelState.Clear();
        return Answer([.. faults.Select(f => f with { Field = $"{of}.{f.Field}" })], $"The schedule of {id} is saved; the orders it touches are being worked out again.");
    }
}
