using System.ComponentModel.DataAnnotations;
using EvenSplit.Books;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Keeping;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.Payouts;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>How a payee is paid and reached, their tax form, and all that is held of them as a file.</summary>
public sealed class OwnDetailsPage(OwnDetails own, PayeeSignIn signIn, PayoutDetails payouts, TaxForms forms, PersonData data, PayeeQuestions questions, ShownToPayees shown, BookClock clock, BookCache cache) : OwnPage(cache)
{
    [BindProperty]
    public string Language { get; set; } = "";

    [BindProperty, StringLength(1000)]
    public string PostalAddress { get; set; } = "";

    [BindProperty]
    public string TaxNumber { get; set; } = "";

    [BindProperty]
    public bool IsUnsubscribed { get; set; }

    [BindProperty]
    public bool WithoutAdvices { get; set; }

    /// <summary>How they were reached when the form was shown: what somebody else changed since is not overwritten.</summary>
    // Named, so that a form without it is not read from the fields of the same names.
    [BindProperty(Name = "Was")]
    public ReachDraft Was { get; set; } = new();

    [BindProperty]
    public string NewEmail { get; set; } = "";

    public string Email { get; private set; } = "";

    [BindProperty]
    public PayoutMethod Method { get; set; } = PayoutMethod.Bank;

    [BindProperty]
    public string Holder { get; set; } = "";

    [BindProperty]
    public string Iban { get; set; } = "";

    [BindProperty]
    public string Bic { get; set; } = "";

    [BindProperty]
    public string Recipient { get; set; } = "";

    public IReadOnlyList<PayoutDetailsRecord> Payouts { get; private set; } = [];

    public IReadOnlyList<TaxFormRow> Forms { get; private set; } = [];

    public DateOnly Today => clock.Today;

    public void OnGet()
    {
        ReadReach();
        Show();
    }

    private void ReadReach()
    {
        var reach = Was = own.Reach(PayeeId);
        (Language, PostalAddress, TaxNumber, IsUnsubscribed, WithoutAdvices) = (reach.Language, reach.PostalAddress, reach.TaxNumber, reach.IsUnsubscribed, reach.WithoutAdvices);
    }

    public override void Show()
    {
        Email = own.Email(PayeeId);
        Payouts = [.. payouts.Of(PayeeId).Where(d => d.RefusedBy is null).Take(3)];
        Forms = forms.Of(PayeeId);
        // Another form of the page was sent: this one is as it stands.
        if (HttpContext.Request.Method == HttpMethods.Post && !HttpContext.Request.Query["handler"].Contains("Reach")) ReadReach();
        // Refused: they see what it is now, so that sending again is their decision.
        else if (HttpContext.Request.Method == HttpMethods.Post) Was = own.Reach(PayeeId);
    }

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPostReach() => Told(own.SetReach(PayeeId, new ReachDraft { Language = Language, PostalAddress = PostalAddress, TaxNumber = TaxNumber, IsUnsubscribed = IsUnsubscribed, WithoutAdvices = WithoutAdvices }, Was), "That is how you are reached from now on.");

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPostEmail()
    {
        signIn.AskNewEmail(PayeeId, NewEmail, Site);
        return Told([], $"Look into the mail of {NewEmail.Trim()}: once you open the link in it, that is your address.");
    }

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPostPayout() => Told(own.Propose(PayeeId, new PayoutDetailsDraft { Method = Method, Holder = Holder, Iban = Iban, Bic = Bic, Recipient = Recipient }), $"It is noted. Somebody confirms it; {PayoutDetails.DaysToWait} days later it can be used. You have a mail that says so.");

    [WriteBy(Policies.OwnChange)]
    public async Task<IActionResult> OnPostFormAsync(IFormFile? file)
    {
        if (file is null || file.Length == 0) throw new RefusedException("Choose a file first.", "File");
        if (file.Length > TaxForms.MostBytes) throw new RefusedException($"Send a file of at most {TaxForms.MostBytes / 1024 / 1024} MB.", "File");
        using var bytes = new MemoryStream();
        await file.CopyToAsync(bytes);
        forms.Send(PayeeId, file.FileName, bytes.ToArray());
        return Told([], "It is sent. It is looked at before it counts.");
    }

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPostForget()
    {
        questions.Ask(PayeeId, null, null, "Please take out what you need not keep of me.");
        return Told([], "It is asked. You get a mail when it is answered.");
    }

    public IActionResult OnGetForm(int id) => forms.File(id, PayeeId) is { } form ? File(form.Content, form.Type, form.FileName) : NotFound();

    public IActionResult OnGetData() => new FileDownload("my-data.json", "application/json", output => data.Write(PayeeId, output, SeenBy ?? PayeeName, shown.OrderFor));

    private IActionResult Told(IReadOnlyList<FieldFault> faults, string done)
    {
        if (faults.Count > 0) return Answer(faults, done);
        Done = done;
        return RedirectToPage(new { handler = "" });
    }
}
