using EvenSplit.Books.Backups;
using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Desk;

/// <summary>How a book is set up, in words and figures.</summary>
public sealed record SetUpView(string Policies, string Fees, string Sources, string Files, string Accounts, string RefundLimit, string Users, string Mails, string Safety);

public sealed class BookSetUp(BookDbContext db, BookCache cache, BookClock clock, BookBackup backups) : IUseCase
{
    public SetUpView Find()
    {
        var book = cache.Get(db);
        var (processors, channels, rates) = (db.Processors.Count(), db.Channels.Count(), db.ExchangeRates.Max(r => (DateOnly?)r.Date));
        var users = db.Users.Count(u => u.EndedAt == null);
        return new SetUpView(
            $"the {(book.Rules.Policy.ClickModel == ClickModel.First ? "first" : "last")} click, {book.Record.Currency}, {book.Record.TimeZone}",
            $"{MoneyWords.Count(processors, "processor")}, {MoneyWords.Count(channels, "channel")}, {(rates is { } last ? $"rates until {last.InWords()}" : "no rates")}",
            MoneyWords.Count(db.EventSources.Count(s => s.ClosedAt == null), "shop"),
            MoneyWords.Count(db.FileSources.Count(), "kind of file", "kinds of files"),
            $"{(db.PayingAccounts.Any() ? string.Join(", ", db.PayingAccounts.Select(a => a.Currency).OrderBy(c => c)) : "none")}; {MoneyWords.Count(db.Holidays.Count(h => h.On >= clock.Today), "holiday")} to come",
            $"{book.Record.RefundLimit.ToPercentText()}",
            $"{MoneyWords.Count(users, "person", "people")}{(book.Record.WorksAlone ? ", who works alone" : "")}",
            db.MailTemplates.Count() is > 0 and var own ? $"{MoneyWords.Count(own, "mail")} in your own words" : "as they came",
            backups.Last() is { } made ? $"last backup {book.Local(made)}" : "no backup yet");
    }
}
