using EvenSplit.Books.Balances;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Exceptions;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Scenarios;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Events;
using EvenSplit.Formats.Scenarios;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>What was said of codes, memberships, refunds, advances and tests can be said otherwise, or never to have been so.</summary>
public sealed class NeverSoTests : IDisposable
{
    private static readonly DateOnly October = new(2026, 10, 1), November = new(2026, 11, 1);

    private readonly TestBook _book = new();

    public NeverSoTests()
    {
        _book.Do<PayeeDesk>(d => Assert.Empty(d.Save(null, new PayeeDraft { Name = "Bea", PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2026, 1, 1), Codes = "BEA" }, Lead).Faults));
        _book.PutOn("friends", "bea");
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_code_counts_on_its_days_in_the_book_as_in_a_scenario_of_it()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        var earned = _book.Owed("anna");
        Assert.True(earned > 0);
        var code = _book.Get<BookDbContext, int>(db => db.PayeeCodes.Single(c => c.Code == "anna").Id);
        _book.Do<PayeeCodes>(c => c.Redate(code, null, October, Lead));
        _book.Recalculate();
        Assert.Equal(0, _book.Owed("anna"));
        var cause = Assert.Single(_book.Get<ExceptionQueue, IReadOnlyList<CauseOfExceptions>>(q => q.Find(Period.Of(October))));
        Assert.Equal((ExceptionCode.CodeWithoutEffect, "anna"), (cause.Cause.Code, cause.Cause.Subject));
        Agrees();
        _book.Do<PayeeCodes>(c => c.Add("bea", "ANNA", October, null, Lead));
        _book.Recalculate();
        Assert.Equal(earned, _book.Owed("bea"));
        Assert.Equal("Code", Assert.Throws<RefusedException>(() => _book.Do<PayeeCodes>(c => c.Redate(code, null, November, Lead))).Field);
        Assert.Equal("CodeTo", Assert.Throws<RefusedException>(() => _book.Do<PayeeCodes>(c => c.Redate(code, November, October, Lead))).Field);
        Agrees();
    }

    [Fact]
    public void Days_on_an_agreement_are_changed_taken_away_and_an_agreement_of_nobody_too()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        var earned = _book.Owed("anna");
        var (membership, agreement) = _book.Get<BookDbContext, (int, string)>(db => db.Memberships.Where(m => m.PayeeId == "anna").Select(m => ValueTuple.Create(m.Id, m.AgreementId)).Single());
        _book.Do<AgreementDesk>(d => d.Redate(membership, November, null, Lead));
        _book.Recalculate();
        Assert.Equal(0, _book.Owed("anna"));
        _book.Do<AgreementDesk>(d => d.Redate(membership, October, November, Lead));
        _book.Recalculate();
        Assert.Equal(earned, _book.Owed("anna"));
        Assert.Equal("MemberTo", Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.Redate(membership, October, October, Lead))).Field);
        _book.Do<AgreementDesk>(d => d.NeverOn(membership, Lead));
        _book.Recalculate();
        Assert.Equal(0, _book.Owed("anna"));
        Agrees();
        Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.TakeAway(agreement, Lead)));

        _book.Publish(Draft("Empty", Basis.Referral, "5"));
        var empty = _book.Get<BookDbContext, string>(db => db.Agreements.Single(a => a.Name == "Empty").Id);
        _book.Do<AgreementDesk>(d => d.Rename(empty, "Still empty", Lead));
        Assert.Equal("Still empty", _book.Get<AgreementDesk, string>(d => d.Find(empty)!.Name));
        _book.Do<AgreementDesk>(d => d.TakeAway(empty, Lead));
        Assert.Null(_book.Get<AgreementDesk, AgreementView?>(d => d.Find(empty)));
        Agrees();
    }

    [Fact]
    public void A_refund_is_withdrawn_kept_out_and_put_right_again()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        var earned = _book.Owed("anna");
        const string refund = "R,A,2026-10-05T09:00:00Z,refund,1,1,12.00,0";
        _book.ImportRefunds(refund);
        var left = _book.Owed("anna");
        Assert.True(left < earned);
        Assert.Equal("Reason", Assert.Throws<RefusedException>(() => _book.Do<CorrectOrder>(c => c.WithdrawRefund("A", "R", " ", Lead))).Field);
        _book.Do<CorrectOrder>(c => c.WithdrawRefund("A", "R", "booked on the wrong order", Lead));
        Assert.Equal(earned, _book.Owed("anna"));
        Agrees();
        // The file once more does not bring it back.
        Assert.Equal(1, _book.ImportRefunds(refund).Quarantined);
        Assert.Equal(earned, _book.Owed("anna"));
        var (cells, lines) = _book.Get<HandEntry, (Dictionary<string, string>, IReadOnlyList<Dictionary<string, string>>)>(h => h.FindRefund("R")!.Value);
        Assert.Equal(("A", "refund", "12.00"), (cells["order_id"], cells["kind"], lines.Single()["goods"]));
        // An id that another order's refund has corrects nothing.
        _book.ImportOrders(Row("B"));
        var ofAnother = new Dictionary<string, string>(cells) { ["order_id"] = "B" };
        var fault = Assert.Single(_book.Get<HandEntry, IReadOnlyList<Forms.FieldFault>>(h => h.Enter(new HandDraft { Kind = SalesEventKind.Refund, Cells = ofAnother, Lines = [.. lines] }, Lead)));
        Assert.Equal(("Cells[refund_id]", "There is a refund R of order A already; give this one another id."), (fault.Field, fault.Message));
        lines[0]["goods"] = "24.00";
        _book.Do<HandEntry>(h => Assert.Empty(h.Enter(new HandDraft { Kind = SalesEventKind.Refund, Cells = cells, Lines = [.. lines] }, Lead)));
        Assert.True(_book.Owed("anna") < left);
        Assert.Equal(24_00, _book.Get<BookDbContext, long>(db => db.Refunds.Include(r => r.Lines).Single().Lines.Single().Goods));
        Agrees();
    }

    [Fact]
    public void A_mark_of_a_test_comes_off_and_one_set_by_hand_stays_over_its_hour()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        var earned = _book.Owed("anna");
        _book.Do<CorrectOrder>(c => c.MarkAsTest("A", Lead));
        Assert.Equal(0, _book.Owed("anna"));
        Assert.Null(_book.Get<TestOrders, TestOrderRow>(t => t.List().Single()).GoneAt);
        Assert.Equal(0, _book.Get<TestOrders, int>(t => t.Remove(DateTimeOffset.MaxValue)));
        _book.Do<CorrectOrder>(c => c.MarkAsNoTest("A", Lead));
        Assert.Equal(earned, _book.Owed("anna"));
        Assert.Throws<RefusedException>(() => _book.Do<CorrectOrder>(c => c.MarkAsNoTest("A", Lead)));
        Agrees();
    }

    [Fact]
    public void A_later_file_that_puts_older_values_back_waits_for_a_decision()
    {
        var (before, after) = (Row("A", code: "ANNA"), Row("A", code: "BEA"));
        _book.ImportOrders(before);
        Assert.Equal(1, _book.ImportOrders(after).Changed);
        var again = _book.ImportOrders(before);
        Assert.Equal((0, 1), (again.Changed, again.Quarantined));
        var group = Assert.Single(_book.Get<QuarantineDesk, IReadOnlyList<WaitingGroup>>(q => q.Waiting()));
        Assert.Contains("this is what the order said before it was changed", group.Rows[0].Fault, StringComparison.Ordinal);
        Assert.True(_book.Owed("bea") > 0);
        Assert.True(_book.Get<QuarantineDesk, bool>(q => q.SendAgain(group.ImportId, group.Group, new Dictionary<long, IReadOnlyDictionary<string, string>>(), Lead)));
        Assert.Equal(0, _book.Owed("bea"));
        Assert.True(_book.Owed("anna") > 0);
        Agrees();
    }

    [Fact]
    public void An_advance_that_was_never_paid_is_taken_away_until_a_run_has_taken_of_it()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        void Add() => _book.Do<Advances>(a => Assert.Empty(a.Add("anna", October, "1.00", "ahead", Lead)));
        int One() => _book.Get<Advances, int>(a => a.Of("anna").Single().Id);
        Add();
        _book.Do<Advances>(a => a.TakeAway(One(), Lead));
        Add();
        _book.Do<PayeeDesk>(d => Assert.Empty(d.Save("anna", d.Draft("anna")! with { RecoupPercent = "100" }, Lead).Faults));
        _book.MoveTo(new DateOnly(2026, 11, 3));
        _book.Pay(new DateOnly(2026, 10, 31));
        Assert.Throws<RefusedException>(() => _book.Do<Advances>(a => a.TakeAway(One(), Lead)));
    }

    /// <summary>The book holds, and what a scenario of it comes to is what it says.</summary>
    private void Agrees()
    {
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
        using var written = new MemoryStream();
        _book.Do<BookFacts>(f => ScenarioWriter.Write(f.Read(), written));
        written.Position = 0;
        var result = WholeBook.WorkOut(ScenarioReader.Read(written));
        foreach (var payee in new[] { "anna", "bea" }) Assert.Equal(_book.Owed(payee), result.Entries.Where(e => e.Payee.Value == payee).Sum(e => e.Amount.Minor));
    }

    [Fact]
    public void What_a_change_posts_is_told_by_month_too_and_which_runs_stand()
    {
        _book.ImportOrders(Row("A", "2026-08-05", "ANNA"), Row("B", "2026-09-05", "ANNA"), Row("C", "2026-09-06", "ANNA"), Row("D", "2026-09-07"));
        _book.Pay(new DateOnly(2026, 8, 31));
        var code = _book.Get<BookDbContext, int>(db => db.PayeeCodes.Single(c => c.Code == "ANNA").Id);
        _book.ShownFirst = (true, "");
        var shown = Assert.Throws<NotSeenException>(() => _book.Do<PayeeCodes>(c => c.TakeAway(code, Lead))).Difference;
        _book.ShownFirst = default;
        Assert.Equal(["August 2026: 1 order, −€10.00", "September 2026: 2 orders, −€20.00"], shown.Months.Select(m => $"{m.Month.Name}: {MoneyWords.Count(m.Orders, "order")}, {m.Amounts.Single().InWords()}"));
        Assert.Equal([new DateOnly(2026, 8, 31)], shown.RunsThatStand);
        // The months come to what is shown of payees.
        Assert.Equal(shown.Sums.Where(s => s.Payee is not null).Sum(s => s.Amount.Minor), shown.Months.Sum(m => m.Amounts.Sum(a => a.Minor)));
    }
}
