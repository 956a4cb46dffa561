using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Demo;

/// <summary>What payees of the demonstration see and ask, and what they may use.</summary>
internal sealed class DemoOwn(IServiceProvider services, string lead)
{
    private const string Friends = "friends-of-the-hedge", Asking = "low-tide-podcast";

    public void Make()
    {
        // Illustrators and authors see each step; those who bring orders what their share is taken of.
        foreach (var agreement in new[] { "guide-illustrators", "co-author" }) Do<ShownToPayees>(s => s.Save(new AgreementViewRecord { AgreementId = agreement, Steps = ShownSteps.All, ShowsFees = true, SelfBills = agreement == "guide-illustrators" }, lead));
        Do<BookPolicies>(p => p.SaveSeller("Hedgerow & Sky\nThe Old Forge\nClonmel, Tipperary", "IE 6388047V", lead));
        Do<Leaderboards>(b => b.Open(new LeaderboardDraft { Name = "The autumn walk", Measure = LeaderboardMeasure.Sales, From = new DateOnly(2026, 10, 1), To = new DateOnly(2026, 11, 30), ShowsNames = true }, lead));
        Do<Materials>(m => m.Add(new MaterialDraft { Name = "One sentence for a letter", Agreement = Friends, Text = "Hedgerow & Sky make the guides I walk with. Say {code} at their till and they know I sent you: {link}" }, null, lead));
        Click("quiet-field-letter", new DateOnly(2026, 9, 1), new DateOnly(2026, 11, 2));
        Do<PayeeQuestions>(q => q.Ask(Asking, LastTakenBack(), null, "Why was this taken back? The listener told me she kept the guide."));
    }

    /// <summary>Two months of clicks on a letter's link: most on the days after it goes out.</summary>
    private void Click(string payee, DateOnly from, DateOnly to)
    {
        var random = new Random(17);
        Do<BookDbContext>(db =>
        {
            for (var day = from; day <= to; day = day.AddDays(1))
            {
                var most = day.DayOfWeek is DayOfWeek.Thursday ? 9 : day.DayOfWeek is DayOfWeek.Friday ? 5 : 2;
                for (var click = random.Next(most + 1); click > 0; click--)
                {
                    var (page, source) = random.Next(3) == 0 ? ("/p/print-fox", "quietfield.example/letters") : ("/", "quietfield.example");
                    db.Clicks.Add(new ClickRecord { Payee = payee, At = new DateTimeOffset(day.ToDateTime(new TimeOnly(7 + random.Next(14), random.Next(60), click)), TimeSpan.Zero), Visitor = $"demo-{day:MMdd}-{click}", Order = "", Page = page, Source = source, Period = Period.Of(day).Number });
                }
            }
            db.SaveChanges();
        });
    }

    private long LastTakenBack()
    {
        using var scope = services.CreateScope();
        return scope.ServiceProvider.GetRequiredService<BookDbContext>().Entries.AsNoTracking().Where(e => e.Payee == Asking && e.RefundId != null).OrderByDescending(e => e.Id).Select(e => e.Id).First();
    }

    private void Do<T>(Action<T> use) where T : notnull
    {
        using var scope = services.CreateScope();
        use(scope.ServiceProvider.GetRequiredService<T>());
    }
}
