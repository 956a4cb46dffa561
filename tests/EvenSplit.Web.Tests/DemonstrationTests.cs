using System.Net;
using EvenSplit.Books;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Demo;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

/// <summary>A new book is filled with the demonstration and emptied again: then it is as it was, and whoever could sign in still can.</summary>
public sealed class DemonstrationTests : IAsyncLifetime
{
    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
    }

    public ValueTask DisposeAsync() => _site.DisposeAsync();

    [Fact]
    public async Task A_new_book_is_filled_worked_in_and_as_it_was_once_it_is_emptied()
    {
        var before = Rows();
        Assert.Contains("Fill with the demonstration", await DeskAsync(), StringComparison.Ordinal);
        var bookkeeper = await _site.SignedInAsync("bookkeeper");
        Assert.DoesNotContain("Fill with the demonstration", await bookkeeper.GetStringAsync("/2026-11"), StringComparison.Ordinal);
        await TestSite.PostAsync(bookkeeper, "/2026-11?handler=Fill", [], formOn: "/2026-11");
        Assert.Null(_site.Do<Demonstration, string?>(d => d.Making));

        // Twice is once, and what is open stays open while it is made.
        foreach (var _ in Enumerable.Range(0, 2)) Assert.Equal(HttpStatusCode.Redirect, (await SendAsync("Fill")).StatusCode);
        Assert.Contains("being made", await DeskAsync(), StringComparison.Ordinal);
        // Whoever works in it meanwhile is answered, also in the moment in which the books change places.
        var done = _site.Do<Demonstration, Task>(d => d.WhenDoneAsync());
        var approver = await _site.SignedInAsync("approver");
        while (!done.IsCompleted)
        {
            var answers = await Task.WhenAll(_lead.GetAsync("/2026-10/books/proof"), approver.GetAsync("/2026-10"), TestSite.PostAsync(_lead, "/2026-10/books/proof?handler=Withdraw", [], formOn: "/2026-10/books/proof"), TestSite.PostAsync(approver, "/2026-10/books/proof?handler=Confirm", [], formOn: "/2026-10/books/proof"));
            Assert.All(answers, a => Assert.True((int)a.StatusCode < 500, $"{a.RequestMessage!.RequestUri}: {a.StatusCode}"));
        }

        Assert.Null(_site.Do<Demonstration, string?>(d => d.Fault));
        var desk = await DeskAsync();
        Assert.Contains("Hedgerow &amp; Sky", desk, StringComparison.Ordinal);
        Assert.Contains("Empty the book again", desk, StringComparison.Ordinal);
        Assert.True(_site.Do<BookDbContext, int>(db => db.Orders.Count()) > 2_000);
        Assert.Equal(0, _site.Do<BookCheck, long>(c => c.Run().Differences));
        Assert.Equal(HttpStatusCode.OK, (await (await _site.SignedInAsync("approver")).GetAsync("/2026-10/pay")).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await SendAsync("Fill")).StatusCode);
        // Somebody comes to it while it is there, and something is done in it.
        using (var scope = _site.Services.CreateScope()) await BookUsers.AddAsync(scope.ServiceProvider, "late", "Lara", Roles.Bookkeeper, TestSite.Password);
        SaveProcessor();

        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync("Empty")).StatusCode);
        Assert.Equal(before, Rows());
        Assert.Equal(("Test book", null), _site.Do<BookDbContext, (string, DateOnly?)>(db => (db.Book.Single().Name, db.Book.Single().DemoToday)));
        Assert.Equal(0, _site.Do<BookCheck, long>(c => c.Run().Differences));
        await _site.SignedInAsync("late");
        Assert.Empty(_site.Do<BookPlace, string[]>(p => [.. Directory.GetFiles(p.AsTheyCame), .. Directory.GetFiles(p.Uploads), .. Directory.GetFiles(p.Bank, "*", SearchOption.AllDirectories), .. Directory.GetDirectories(p.Folder, "*demonstration*")]));
        Assert.Equal(["fill the book with the demonstration", "empty the book of the demonstration"], _site.Do<BookDbContext, string[]>(db => [.. db.Audit.Where(a => a.Action.Contains("the demonstration")).OrderBy(a => a.Id).Select(a => a.Action)]));
        Assert.Equal(HttpStatusCode.Conflict, (await SendAsync("Empty")).StatusCode);
        Assert.Contains("Fill with the demonstration", await DeskAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_book_with_anything_in_it_is_not_filled()
    {
        var form = await FormOfAsync();
        SaveProcessor();
        Assert.DoesNotContain("Fill with the demonstration", await DeskAsync(), StringComparison.Ordinal);
        var refused = await _lead.PostAsync("/2026-11?handler=Fill", new FormUrlEncodedContent(form));
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        Assert.Contains("Only a new book is filled", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    private Task<string> DeskAsync() => _lead.GetStringAsync("/2026-11");

    private async Task<HttpResponseMessage> SendAsync(string handler) => await TestSite.PostAsync(_lead, $"/2026-11?handler={handler}", [], formOn: "/2026-11");

    private async Task<Dictionary<string, string>> FormOfAsync() => new() { ["__RequestVerificationToken"] = System.Text.RegularExpressions.Regex.Match(await DeskAsync(), "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value };

    private void SaveProcessor() => _site.Do<RateDesk, bool>(r =>
    {
        r.Save(new Processor(new ProcessorId("other"), Rate.Parse("0.02"), 30, Currency.Of("EUR")), "Lena");
        return true;
    });

    /// <summary>How many rows each table has; but for those that tell who was here and did what.</summary>
    private Dictionary<string, long> Rows() => _site.Do<BookDbContext, Dictionary<string, long>>(db => db.Database.SqlQueryRaw<string>(
        "SELECT name AS Value FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite%' AND name NOT LIKE 'Audit%' AND name NOT LIKE 'AspNetUser%' AND name NOT IN ('Sessions', 'SentForms')").ToArray().ToDictionary(name => name, name => CountOf(db, name)));

    private static long CountOf(BookDbContext db, string table)
    {
        var sql = $"SELECT COUNT(*) AS Value FROM \"{table}\"";
        return db.Database.SqlQueryRaw<long>(sql).Single();
    }
}
