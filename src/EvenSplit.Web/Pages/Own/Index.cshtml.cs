using EvenSplit.Books;
using EvenSplit.Books.Own;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>What a payee has coming, on a line of days.</summary>
public sealed class OwnHomePage(OwnHome home, BookClock clock, BookCache cache) : OwnPage(cache)
{
    public OwnView View { get; private set; } = null!;

    public DateOnly Today => clock.Today;

    public void OnGet() => View = home.Of(PayeeId);

    /// <summary>The bars of one currency: where on the line of days each stands and how high, of a hundred.</summary>
    public IEnumerable<(ComingDay Day, double X, double Height)> Bars(Currency currency)
    {
        var days = View.Days.Where(d => d.On is not null && d.Amount.Currency == currency).ToArray();
        if (days.Length == 0) yield break;
        var (last, most) = (Math.Max(1, days[^1].On!.Value.DayNumber - Today.DayNumber), days.Max(d => Math.Abs(d.Amount.Minor)));
        foreach (var day in days) yield return (day, 100.0 * (day.On!.Value.DayNumber - Today.DayNumber) / last, Math.Max(4, 100.0 * Math.Abs(day.Amount.Minor) / most));
    }
}
