using EvenSplit.Books;
using EvenSplit.Books.Accepting;
using EvenSplit.Books.Own;
using EvenSplit.Core;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What a payee has coming, on a line of days.</summary>
public sealed class OwnHomePage(OwnHome home, PaymentRequests requests, UnacceptedVersions unaccepted, BookClock clock, BookCache cache) : OwnPage(cache)
{
    public OwnView View { get; private set; } = null!;

    public DateOnly Today => clock.Today;

    public SinceLast? Since { get; private set; }

    /// <summary>Null where they are paid by a schedule.</summary>
    public Requestable? MayAsk { get; private set; }

    /// <summary>Agreements whose text they have still to accept.</summary>
    public IReadOnlyList<string> ToAccept { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show()
    {
        (View, Since, MayAsk) = (home.Of(PayeeId), home.Since(PayeeId, PayeeCookie.SessionOf(User)), requests.Of(PayeeId));
        ToAccept = [.. unaccepted.Of(PayeeId).Select(v => Book.AgreementName(v.AgreementId))];
    }

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPostAsk()
    {
        requests.Ask(PayeeId);
        Done = "You have asked to be paid.";
        return RedirectToPage(new { handler = "" });
    }

    [WriteBy(Policies.OwnChange)]
    public IActionResult OnPostWithdraw()
    {
        requests.Withdraw(PayeeId);
        Done = "You ask no more.";
        return RedirectToPage(new { handler = "" });
    }

    /// <summary>The bars of one currency: where on the line of days each stands and how high, of a hundred.</summary>
    public IEnumerable<(ComingDay Day, double X, double Height)> Bars(Currency currency)
    {
        var days = View.Days.Where(d => d.On is not null && d.Amount.Currency == currency).ToArray();
        if (days.Length == 0) yield break;
        var (last, most) = (Math.Max(1, days[^1].On!.Value.DayNumber - Today.DayNumber), days.Max(d => Math.Abs(d.Amount.Minor)));
        foreach (var day in days) yield return (day, 100.0 * (day.On!.Value.DayNumber - Today.DayNumber) / last, Math.Max(4, 100.0 * Math.Abs(day.Amount.Minor) / most));
    }
}
