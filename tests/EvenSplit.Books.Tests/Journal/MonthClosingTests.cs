using EvenSplit.Books.Balances;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Tests;

/// <summary>A month is closed by two persons; from then on what comes late is posted later, and nothing of the month changes.</summary>
public sealed class MonthClosingTests : IDisposable
{
    private const string Lead = TestBook.Lead, Other = TestBook.Approver;
    private static readonly Period October = new(202610);

    private readonly TestBook _book = new();

    public static TheoryData<int> Seeds => new(Enumerable.Range(2600, 8));

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Two_persons_close_a_month_and_what_comes_late_is_posted_today()
    {
        SellAndClose();
        _book.ImportOrders(TestBook.Row("B", "2026-10-20", "ANNA"));
        _book.ImportRefunds("RF,A,2026-10-30T10:00:00Z,refund,1,0,40.00,0");
        _book.Do<FindMatches>(m => m.RunAll());
        var late = _book.Get<BookDbContext, EntryRecord[]>(db => [.. db.Entries.AsNoTracking().Where(e => e.Period != October.Number)]);
        Assert.NotEmpty(late);
        Assert.All(late, e => Assert.Equal(new DateOnly(2026, 11, 8), e.PostedOn));
        Assert.Equal(
            ["B  2026-11-08", "A RF 2026-11-08"],
            _book.Get<MonthClosing, string[]>(c => [.. c.CameAfter(October).Reverse().Select(l => $"{l.Order} {l.Refund} {l.On:yyyy-MM-dd}")]));
        Assert.Contains("for OCTOBER 2026", _book.Get<BookJournal, string>(j => string.Join('\n', j.Between(new DateOnly(2026, 11, 1), null).Select(t => t.Words))), StringComparison.Ordinal);
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    [Fact]
    public void Nobody_closes_alone_or_twice_or_what_is_not_ready()
    {
        Assert.Contains("ends on 31 Oct 2026", Refused(c => c.Close(October, Lead)), StringComparison.Ordinal);
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        var run = _book.Get<PayRunSteps, int>(s => s.Gather(new DateOnly(2026, 10, 31), Lead));
        Assert.Contains("still gathering", Refused(c => c.Close(October, Lead)), StringComparison.Ordinal);
        _book.Do<PayRunSteps>(s => s.Discard(run, Lead));
        _book.Do<MonthClosing>(c => c.Close(October, Lead));
        Assert.Contains("somebody else confirms", Refused(c => c.Close(October, Other)), StringComparison.Ordinal);
        Assert.Contains("somebody else must", Refused(c => c.Confirm(October, Lead)), StringComparison.Ordinal);
        _book.Do<MonthClosing>(c => c.Withdraw(October, Lead));
        Assert.Contains("does not wait", Refused(c => c.Confirm(October, Other)), StringComparison.Ordinal);
        _book.Do<MonthClosing>(c => c.Close(October, Lead));
        _book.Do<MonthClosing>(c => c.Confirm(October, Other));
        Assert.Contains("closed already", Refused(c => c.Close(October, Other)), StringComparison.Ordinal);
    }

    [Fact]
    public void What_does_not_hold_keeps_a_month_open()
    {
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        _book.Do<BookDbContext>(db => db.EntrySums.ExecuteUpdate(set => set.SetProperty(s => s.Amount, s => s.Amount + 1)));
        Assert.Contains("checks do not hold", Refused(c => c.Close(October, Lead)), StringComparison.Ordinal);
    }

    [Fact]
    public void What_somebody_types_for_a_closed_month_is_refused_with_words()
    {
        SellAndClose();
        foreach (var typed in new Action[]
        {
            () => _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 31), "5.00", "EUR", AdjustmentKind.Bonus, "late", Lead)),
            () => _book.Get<PayRunSteps, int>(s => s.Gather(new DateOnly(2026, 10, 31), Lead)),
        }) Assert.Contains("October 2026 is closed", Assert.Throws<RefusedException>(typed).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_database_holds_a_closed_month_whatever_the_code_does()
    {
        SellAndClose();
        foreach (var (sql, says) in new[]
        {
            ("INSERT INTO Entries (OrderId, LineNumber, Payee, Agreement, Part, Amount, Currency, PostedOn, Period, OpenSince) SELECT OrderId, LineNumber, Payee, Agreement, Part, 1, Currency, PostedOn, Period, OpenSince FROM Entries LIMIT 1", "nothing is posted in a closed month"),
            ("INSERT INTO Bookings (OrderId, \"On\", Period, Processor, Channel, Currency, Goods, Shipping, Tax, ProcessingFee, ChannelFee, Rebate) SELECT OrderId, \"On\", Period, Processor, Channel, Currency, 1, 0, 0, 0, 0, 0 FROM Bookings LIMIT 1", "nothing is posted in a closed month"),
            ("INSERT INTO Adjustments (Reference, Payee, \"On\", Amount, Currency, Kind, Note, \"By\") VALUES ('x', 'anna', '2026-10-31', 1, 'EUR', 0, '', '')", "nothing is posted in a closed month"),
            ("UPDATE MonthCloses SET Hash = 'x'", "closed and opened by two persons"),
            ("UPDATE MonthCloses SET OpenedBy = 'Lena', OpenedConfirmedBy = 'Lena', OpenedBecause = 'so'", "closed and opened by two persons"),
            ("DELETE FROM MonthCloses", "never deleted"),
        })
        {
            Assert.Contains(says, Assert.ThrowsAny<Exception>(() => _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql))).Message, StringComparison.Ordinal);
        }
    }

    [Theory]
    [InlineData("UPDATE Entries SET Amount = Amount + 1 WHERE Id = 2", "DROP TRIGGER Entries_NoUpdate", "entry 2 of order A: is not what it was")]
    [InlineData("UPDATE Entries SET PostedOn = '2026-10-06' WHERE Id = 1", "DROP TRIGGER Entries_NoUpdate", "entry 1 of order A: is not what it was")]
    [InlineData("UPDATE Entries SET Period = 202609 WHERE Id = 1", "DROP TRIGGER Entries_NoUpdate", "entry 1: is gone")]
    [InlineData("UPDATE Entries SET Id = 9 WHERE Id = 1", "DROP TRIGGER Entries_NoUpdate", "entry 1: is gone; entry 9 of order A: was not there")]
    [InlineData("UPDATE Bookings SET Tax = Tax + 1, Goods = Goods - 1 WHERE Id = 1", "DROP TRIGGER Bookings_NoUpdate", "booking 1 of order A: is not what it was")]
    [InlineData("UPDATE Orders SET OrderId = 'Z' WHERE OrderId = 'A'", "DROP TRIGGER Entries_NoUpdate", "entry 1 of order Z: is not what it was; entry 2 of order Z: is not what it was; booking 1 of order Z: is not what it was")]
    [InlineData("DELETE FROM Bookings WHERE Id = 1", "DROP TRIGGER Bookings_NoDelete", "booking 1: is gone")]
    [InlineData("INSERT INTO Bookings (OrderId, \"On\", Period, Processor, Channel, Currency, Goods, Shipping, Tax, ProcessingFee, ChannelFee, Rebate) SELECT OrderId, \"On\", Period, Processor, Channel, Currency, 1, 0, 0, 0, 0, 0 FROM Bookings LIMIT 1", "DROP TRIGGER Bookings_OpenMonth", "booking 2 of order A: was not there")]
    [InlineData("UPDATE RowSeals SET Hash = 'x' WHERE Id = 1", "DROP TRIGGER RowSeals_NoUpdate", "entry 1: has another seal than it had")]
    [InlineData("UPDATE MonthCloses SET Hash = 'x'", "DROP TRIGGER MonthCloses_TwoPersons", "its entries and bookings: not what they were")]
    public void What_was_changed_with_the_guards_off_is_found_and_named(string sql, string guard, string named)
    {
        SellAndClose();
        Assert.Equal(0, Months().Differences);
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(guard));
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql));
        Assert.Equal(named, string.Join("; ", Months().Shown.Select(d => $"{d.What["October 2026, ".Length..]}: {d.Kept}")));
    }

    [Fact]
    public void Seals_are_made_by_the_side_and_never_twice()
    {
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"), TestBook.Row("B", "2026-09-30", "ANNA"));
        Assert.False(_book.Get<RowSeals, bool>(s => s.SealNext()));
        Assert.True(_book.Get<RowSeals, bool>(s => s.SealNext(3)));
        Assert.False(_book.Get<RowSeals, bool>(s => s.SealNext(3)));
        // Three of four entries: some of each month.
        Assert.Equal([202609, 202610], Sealed().Select(s => s.Period).Order());
        Close(October.Previous);
        Close(October);
        Assert.Contains("one after the other", Refused(c => c.Close(October.Previous.Previous, Lead)), StringComparison.Ordinal);
        Assert.Equal(_book.Get<BookDbContext, int>(db => db.Entries.Count()), Sealed().Sum(s => s.Count));
        foreach (var sql in new[] { "UPDATE RowSeals SET Count = 1", "DELETE FROM RowSeals", "INSERT OR REPLACE INTO RowSeals SELECT * FROM RowSeals" })
        {
            Assert.Contains("a seal is never", Assert.ThrowsAny<Exception>(() => _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql))).Message, StringComparison.Ordinal);
        }
        Assert.Equal(0, Months().Differences);
        RowSealRecord[] Sealed() => _book.Get<BookDbContext, RowSealRecord[]>(db => [.. db.RowSeals.AsNoTracking().Where(s => s.Kind == SealedKind.Entries)]);
    }

    [Fact]
    public async Task Two_who_confirm_at_once_close_it_once()
    {
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Assert.Equal(1, await AtOnce(c => c.Close(October, Lead)));
        Assert.Equal(1, await AtOnce(c => c.Confirm(October, Other)));
        Assert.Single(_book.Get<MonthClosing, IReadOnlyList<MonthCloseRecord>>(c => c.History(October)));
        Assert.Equal(0, Months().Differences);
    }

    [Fact]
    public void Wherever_it_is_stopped_it_is_closed_whole_or_not_at_all()
    {
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        foreach (var step in new Action<MonthClosing>[] { c => c.Close(October, Lead), c => c.Confirm(October, Other) })
        {
            var (stops, before) = (0, Kept());
            // Near the beginning before each command, later before some.
            for (; !TryStopped(stops, step); stops += 1 + (stops / 5)) Assert.Equal(before, Kept());
            Assert.True(stops > 10, $"only {stops} commands");
        }
        Assert.Equal(Other, _book.Get<MonthClosing, MonthCloseRecord?>(c => c.Standing(October))!.ConfirmedBy);
        Assert.Equal(0, Months().Differences);
    }

    private (int Closes, string? ConfirmedBy, int Seals) Kept() => _book.Get<BookDbContext, (int, string?, int)>(db => (db.MonthCloses.Count(), db.MonthCloses.Select(c => c.ConfirmedBy).FirstOrDefault(), db.RowSeals.Count()));

    private async Task<int> AtOnce(Action<MonthClosing> step) => (await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() =>
    {
        try
        {
            _book.Do(step);
            return 1;
        }
        catch (RefusedException)
        {
            return 0;
        }
    })))).Sum();

    /// <returns>Whether it came to its end before it was stopped.</returns>
    private bool TryStopped(int afterCommands, Action<MonthClosing> step)
    {
        var options = new DbContextOptionsBuilder<BookDbContext>().UseSqlite($"Data Source={_book.Place.Database}", sqlite => sqlite.UseParameterizedCollectionMode(ParameterTranslationMode.Parameter))
            .AddInterceptors(new Record.RecordChain(), new StopsAfter(afterCommands)).Options;
        var services = new ServiceCollection();
        services.AddLogging();
        services.AddBook(_book.Place);
        services.AddScoped(_ => new BookDbContext(options));
        using var provider = services.BuildServiceProvider();
        using var scope = provider.CreateScope();
        try
        {
            step(scope.ServiceProvider.GetRequiredService<MonthClosing>());
            return true;
        }
        catch (Exception stopped) when (stopped is StoppedException || stopped.InnerException is StoppedException)
        {
            return false;
        }
    }

    [Fact]
    public void A_month_is_opened_again_by_two_persons_with_a_reason_the_last_one_first()
    {
        SellAndClose();
        _book.MoveTo(new DateOnly(2026, 12, 5));
        Close(October.Next);
        Assert.Contains("November 2026 is closed too", Refused(c => c.AskToOpen(October, "a mistake", Lead)), StringComparison.Ordinal);
        Assert.Contains("Say why", Refused(c => c.AskToOpen(October.Next, " ", Lead)), StringComparison.Ordinal);
        foreach (var month in new[] { October.Next, October })
        {
            _book.Do<MonthClosing>(c => c.AskToOpen(month, "a mistake", Lead));
            Assert.Contains("somebody else must", Refused(c => c.ConfirmOpening(month, Lead)), StringComparison.Ordinal);
            _book.Do<MonthClosing>(c => c.ConfirmOpening(month, Other));
        }
        _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 31), "5.00", "EUR", AdjustmentKind.Bonus, "late", Lead));
        Close(October);
        Assert.Equal(2, _book.Get<MonthClosing, int>(c => c.History(October).Count));
        Assert.Equal(0, Months().Differences);
    }

    [Theory, MemberData(nameof(Seeds))]
    public void Months_closed_one_after_another_never_change_whatever_comes_late(int seed)
    {
        var facts = ScenarioBook.Random(seed, 30) with { Runs = [], Adjustments = [] };
        using var book = new ScenarioBook(facts with { Orders = [], Refunds = [] });
        var random = new Random(seed);
        var waiting = facts.Orders.OrderBy(o => o.PlacedAt).ToList();
        var refunds = facts.Refunds.OrderBy(r => r.At).ToList();
        var closed = new Dictionary<Period, string>();
        for (var month = Period.Of(DateOnly.FromDateTime(waiting[0].PlacedAt.UtcDateTime)); month.Number <= 202606; month = month.Next)
        {
            // Most of the month comes in time; some comes later.
            foreach (var order in waiting.Where(o => Period.Of(DateOnly.FromDateTime(o.PlacedAt.UtcDateTime)).Number <= month.Number && random.Next(4) > 0).ToArray())
            {
                waiting.Remove(order);
                book.Take(order);
            }
            foreach (var refund in refunds.Where(r => waiting.All(o => o.Id != r.Order) && random.Next(3) > 0).ToArray())
            {
                refunds.Remove(refund);
                book.Take(refund);
            }
            book.Get<RowSeals, bool>(s => s.SealNext(1 + random.Next(40)));
            Assert.Equal(BothSides(book, month), InProof(book, month));
            book.Do<MonthClosing>(c => c.Close(month, Lead));
            book.Do<MonthClosing>(c => c.Confirm(month, Other));
            Assert.Equal(BothSides(book, month), InProof(book, month));
            foreach (var (earlier, was) in closed) Assert.Equal(was, Says(book, earlier));
            closed[month] = Says(book, month);
        }
        foreach (var order in waiting) book.Take(order);
        foreach (var refund in refunds) book.Take(refund);
        foreach (var (month, was) in closed) Assert.Equal(was, Says(book, month));
        Assert.Equal(0, book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    /// <summary>Both sides of a month's journal by currency, added up from its postings.</summary>
    private static IEnumerable<(string, long, long)> BothSides(ScenarioBook book, Period month)
    {
        book.Do<FindMatches>(m => m.RunAll());
        return book.Get<BookJournal, (string, long, long)[]>(j => [.. j.Between(month.FirstDay, month.LastDay).SelectMany(t => t.Postings).Select(p => p.Worth ?? p.Amount).GroupBy(w => w.Currency.Code).OrderBy(g => g.Key, StringComparer.Ordinal)
            .Select(g => (g.Key, g.Where(w => w.Minor > 0).Sum(w => w.Minor), -g.Where(w => w.Minor < 0).Sum(w => w.Minor)))]);
    }

    /// <summary>The same as the proof has it, of which most is sealed.</summary>
    private static IEnumerable<(string, long, long)> InProof(ScenarioBook book, Period month) =>
        book.Get<MonthProof, ProofView>(p => p.Of(month)).Lines.Where(l => l.Check == ProofChecks.Journal).Select(l => (l.Currency, l.Left, l.Right));

    /// <summary>All that a month says: its journal and what its payees closed with.</summary>
    private static string Says(ScenarioBook book, Period month)
    {
        book.Do<FindMatches>(m => m.RunAll());
        using var text = new StringWriter();
        book.Do<JournalExport>(e => e.WriteText(month.FirstDay, month.LastDay, text));
        return text + string.Join('\n', book.Get<MonthProof, ProofView>(p => p.Of(month)).Earnings);
    }

    private CheckLine Months() => _book.Get<BookCheck, CheckResult>(c => c.Run()).Lines.Single(l => l.Name == "Closed months");

    private string Refused(Action<MonthClosing> close) => Assert.Throws<RefusedException>(() => _book.Do(close)).Message;

    private void SellAndClose()
    {
        _book.MoveTo(new DateOnly(2026, 11, 8));
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Close(October);
    }

    private void Close(Period month)
    {
        _book.Do<MonthClosing>(c => c.Close(month, Lead));
        _book.Do<MonthClosing>(c => c.Confirm(month, Other));
    }
}
