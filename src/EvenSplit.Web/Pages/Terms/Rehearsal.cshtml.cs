using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Web.Pictures;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>A draft worked over past orders: who would have had what, and what was posted.</summary>
public sealed class RehearsalPage(Rehearsals rehearsals, AgreementDesk desk, AgreementDrafts drafts) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public int Id { get; set; }

    /// <summary>The order whose two waterfalls are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Order { get; set; }

    public RehearsalView View { get; private set; } = null!;

    public bool IsUnderWay => View.Record.State is RehearsalState.Waiting or RehearsalState.Running;

    public string DraftLink => $"/{Period}/terms/{(View.IsNewAgreement ? "new" : View.Record.AgreementId + "/next")}?saved={View.Record.DraftId}";

    public RehearsedOrder? Open => View.Result?.Changed.FirstOrDefault(o => o.Order == Order);

    public IActionResult OnGet() => Fetch() ? Page() : NotFound();

    public IActionResult OnGetPart() => Fetch() ? Partial("_RehearsalState", View.Record) : NotFound();

    /// <summary>Publishes just what was rehearsed.</summary>
    [ShowsItself]
    public IActionResult OnPost()
    {
        if (!Fetch()) return NotFound();
        if (View.Record is not { State: RehearsalState.Done, ToPublish: true }) throw new RefusedException("Only what has been rehearsed to be published can be published here.");
        var (id, faults) = desk.Publish(View.Record.AgreementId, View.Draft, By);
        if (id is null) throw new RefusedException(string.Join(" ", faults.Select(f => f.Message)));
        drafts.Discard(View.Record.DraftId, By);
        Done = $"{View.Draft.Name} is published from {View.Draft.From!.Value.InWords()}.";
        return Redirect($"/{Period}/terms/{id}");
    }

    public override void Show() => Fetch();

    public string PayeeName(string id) => Book.PayeeName(id);

    public string ProductName(string id) => Book.ProductName(id);

    public string Words(RehearsedException raised) => $"{raised.Order}: " + raised.Code switch
    {
        ExceptionCode.OverCommitted => $"line {raised.Line} would give away more than it brought in.",
        ExceptionCode.RateMissing => raised.Payee is { } waiting ? $"what {PayeeName(waiting)} earns would wait for an exchange rate." : "an exchange rate would be missing.",
        ExceptionCode.PayeeInactive => $"{PayeeName(raised.Payee!)} was not active.",
        ExceptionCode.SelfReferral => $"{PayeeName(raised.Payee!)} is the buyer.",
        ExceptionCode.FeeMissing => "its fee is missing.",
        _ => "a refund takes more than is left.",
    };

    /// <summary>The order from what was charged to what the house keeps, at the sale, then or now.</summary>
    public IReadOnlyList<WaterfallStep> Waterfall(RehearsedOrder order, Func<ThenAndNow, long> side)
    {
        var steps = order.Steps;
        var shares = order.Shares.Select(s => (s.Id, Amount: side(s.Amount))).Where(s => s.Amount != 0).ToArray();
        return
        [
            new WaterfallStep("Charged", steps.Charged, Party.House, true),
            .. new[]
            {
                new WaterfallStep("Tax", -steps.Tax, Party.Tax, false),
                new WaterfallStep("Processing fee", -steps.ProcessingFee, Party.Fees, false),
                new WaterfallStep("Channel fee", -steps.ChannelFee, Party.Fees, false),
                new WaterfallStep("Rebate", steps.Rebate, Party.Fees, false),
            }.Where(s => s.Amount != 0),
            .. shares.Select(s => new WaterfallStep(PayeeName(s.Id), -s.Amount, WaterfallSteps.PartyOf(Book.Rules.Payee(new PayeeId(s.Id)).Role), false)),
            new WaterfallStep("The house", steps.Charged - steps.Tax - steps.ProcessingFee - steps.ChannelFee + steps.Rebate - shares.Sum(s => s.Amount), Party.House, true),
        ];
    }

    private bool Fetch()
    {
        if (rehearsals.Find(Id) is not { } view) return false;
        View = view;
        return true;
    }
}
