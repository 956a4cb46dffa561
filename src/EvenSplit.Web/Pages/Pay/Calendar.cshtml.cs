using System.Globalization;
using System.Text;
using EvenSplit.Books;
using EvenSplit.Books.Clearing;
using EvenSplit.Core;
using EvenSplit.Web.Pictures;

namespace EvenSplit.Web.Pages;

/// <summary>What clears on which day of the month, by role and currency.</summary>
public sealed class CalendarPage(ClearingCalendar calendar, BookClock clock) : BookPage
{
    public static IReadOnlyList<string> Weekdays { get; } = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

    public CalendarView View { get; private set; } = null!;

    public DateOnly Today => clock.Today;

    public IReadOnlyList<Money> Totals => [.. View.Days.GroupBy(d => d.Amount.Currency).Select(g => new Money(g.Sum(d => d.Amount.Minor), g.Key))];

    /// <summary>The month in weeks from Monday; null for days of other months.</summary>
    public IEnumerable<DateOnly?[]> Weeks
    {
        get
        {
            var before = ((int)Period.FirstDay.DayOfWeek + 6) % 7;
            var days = Enumerable.Repeat((DateOnly?)null, before).Concat(Enumerable.Range(0, Period.LastDay.Day).Select(i => (DateOnly?)Period.FirstDay.AddDays(i))).ToList();
            while (days.Count % 7 != 0) days.Add(null);
            return days.Chunk(7);
        }
    }

    public void OnGet() => View = calendar.Find(Period);

    public string Words(IReadOnlyList<Money> amounts) => amounts.Count == 0 ? "nothing" : string.Join(" and ", amounts.Select(a => a.InWords()));

    public static EvenSplit.Books.Sales.Party Party(PayeeRole role) => role switch
    {
        PayeeRole.Affiliate => EvenSplit.Books.Sales.Party.Affiliates,
        PayeeRole.Collaborator => EvenSplit.Books.Sales.Party.Collaborators,
        _ => EvenSplit.Books.Sales.Party.Vendors,
    };

    /// <summary>The day's amounts against the fullest day of the month, in the book's currency where they can be converted.</summary>
    public string Bar(IReadOnlyList<ClearingAmount> amounts)
    {
        var most = View.Days.GroupBy(d => d.On).Max(g => g.Sum(Weight));
        var bar = new StringBuilder();
        var at = 0m;
        foreach (var amount in amounts)
        {
            var width = most == 0 ? 0 : 100m * Weight(amount) / most;
            bar.Append(CultureInfo.InvariantCulture, $"<rect x=\"{at:0.##}\" width=\"{width:0.##}\" height=\"6\" fill=\"{PartyPatterns.Fill(Party(amount.Role))}\"/>");
            at += width;
        }
        return bar.ToString();
    }

    private long Weight(ClearingAmount amount)
    {
        var book = Book;
        return Math.Max(0, book.Rules.Rates.Convert(amount.Amount.Minor, amount.Amount.Currency, book.Currency, amount.On < Today ? amount.On : Today) ?? 0);
    }
}
