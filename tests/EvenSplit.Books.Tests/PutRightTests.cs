using System.Text;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Exceptions;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>What is wrong can be put right: rates, schedules, rows that waited, exceptions let stand, payments that came back, orders by hand.</summary>
public sealed class PutRightTests : IDisposable
{
    private const string Header = "order_id,channel,placed_at,paid_at,currency,processor,coupon_codes,line_id,product,quantity,unit_price\n";

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_row_that_came_in_right_since_waits_no_longer_and_one_sent_twice_waits_once()
    {
        var bad = Header + "A,web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,,,1,lamp,1,24.00\n";
        Bring(bad);
        Bring(bad);
        Assert.Single(Waiting());
        Assert.Equal([0L, 1L], _book.Get<BookDbContext, long[]>(db => [.. db.Imports.OrderBy(i => i.Id).Select(i => i.Quarantined)]));
        Bring(bad.Replace("lamp", "guide", StringComparison.Ordinal));
        Assert.Empty(Waiting());
        Assert.All(_book.Get<BookDbContext, QuarantineState[]>(db => [.. db.Quarantine.Select(q => q.State)]), s => Assert.Equal(QuarantineState.Replaced, s));
        Assert.Equal(1, _book.Get<BookDbContext, int>(db => db.Orders.Count()));
    }

    [Fact]
    public void Everything_is_sent_again_at_once_and_what_waits_for_one_reason_is_discarded_at_once()
    {
        Bring(Header + "A,web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,,,1,lamp,1,24.00\nB,web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,,,1,lamp,1,24.00\nC,web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,,,1,guide,minus,24.00\n");
        var reasons = _book.Get<QuarantineDesk, IReadOnlyList<(string Fault, int Rows)>>(q => q.Reasons());
        Assert.Equal([2, 1], reasons.Select(r => r.Rows));
        Assert.Equal(2, _book.Get<QuarantineDesk, int>(q => q.Waiting(reasons[0].Fault).Count));
        _book.Do<ProductDesk>(p => Assert.Empty(p.Save(null, new ProductDraft { Id = "lamp", Name = "The lamp", Price = "24.00" }, Lead)));
        Assert.Equal((2, 1), _book.Get<QuarantineDesk, (int, int)>(q => q.SendAllAgain("", Lead)));
        Assert.Throws<RefusedException>(() => _book.Get<QuarantineDesk, int>(q => q.DiscardAll("", Lead)));
        Assert.Equal(1, _book.Get<QuarantineDesk, int>(q => q.DiscardAll(reasons[1].Fault, Lead)));
        Assert.Empty(Waiting());
    }

    [Fact]
    public void A_schedule_and_a_rate_are_taken_out_as_if_they_had_never_been()
    {
        ScheduleDraft Card(string percent, DateOnly? from = null) => new() { Id = "card", Percent = percent, Fixed = "0.00", Currency = "EUR", From = from };
        _book.Do<RateDesk>(r => Assert.Empty(r.SaveProcessor(Card("1"), Lead)));
        Bring(Header + "A,web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,card,,1,guide,1,24.00\n");
        long Fee() => _book.Get<BookDbContext, long>(db => db.Orders.AsNoTracking().Single().ProcessingFee);
        Assert.Equal(24, Fee());
        _book.Do<RateDesk>(r => Assert.Empty(r.SaveProcessor(Card("2", new DateOnly(2026, 10, 1)), Lead)));
        _book.Recalculate();
        Assert.Equal(48, Fee());
        _book.Do<RateDesk>(r => r.RemoveProcessorSchedule("card", new DateOnly(2026, 10, 1), Lead));
        _book.Recalculate();
        Assert.Equal(24, Fee());
        Assert.Throws<RefusedException>(() => _book.Do<RateDesk>(r => r.RemoveProcessorSchedule("card", new DateOnly(2026, 10, 1), Lead)));

        _book.Do<RateDesk>(r => Assert.Empty(r.Set(new DateOnly(2026, 10, 1), "EUR", "GBP", "0.85", Lead)));
        _book.Do<RateDesk>(r => Assert.Empty(r.Set(new DateOnly(2026, 10, 1), "EUR", "GBP", "0.86", Lead)));
        Assert.Equal("0.86", _book.Get<RateDesk, string>(r => r.Latest(5).Single().Rate.ToString()));
        Assert.Equal(["RateOn", "RateText"], _book.Get<RateDesk, string[]>(r => [.. r.Set(null, "EUR", "GBP", "much", Lead).Select(f => f.Field)]));
        _book.Do<RateDesk>(r => r.Remove(new DateOnly(2026, 10, 1), "EUR", "GBP", Lead));
        Assert.Empty(_book.Get<RateDesk, IReadOnlyList<ExchangeRate>>(r => r.Latest(5)));
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    [Fact]
    public void An_exception_that_was_let_stand_is_opened_again_with_its_reason_on_record()
    {
        Bring(Header + "A,web,2026-10-01T09:00:00Z,2026-10-01T09:00:00Z,EUR,nobody-knows,,1,guide,1,24.00\n");
        var october = Period.Of(new DateOnly(2026, 10, 1));
        var cause = _book.Get<ExceptionQueue, ExceptionCause>(q => q.Find(october).Single().Cause);
        _book.Do<ExceptionQueue>(q => Assert.Equal(1, q.Accept(october, cause, null, "paid in cash", Lead)));
        var (accepted, order) = _book.Get<ExceptionQueue, (AcceptedExceptionRecord, string)>(q => q.Standing(october).Single());
        Assert.Equal(("paid in cash", "A", Lead), (accepted.Reason, order, accepted.By));
        _book.Do<ExceptionQueue>(q => q.Reopen(order, accepted.Code, accepted.LineId, accepted.Payee, Lead));
        Assert.Equal(1, _book.Get<ExceptionQueue, int>(q => q.Find(october).Single().Count));
        Assert.Throws<RefusedException>(() => _book.Do<ExceptionQueue>(q => q.Reopen(order, accepted.Code, accepted.LineId, accepted.Payee, Lead)));
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_payment_by_hand_that_came_back_is_owed_again_once_a_second_person_has_confirmed_it(bool isClosed)
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        _book.MoveTo(new DateOnly(2026, 11, 3));
        var run = _book.Pay(new DateOnly(2026, 10, 31));
        var rows = _book.Get<PayRunDesk, RunView>(d => d.Find(run.Id)!).Rows.Where(r => r.Figures.Paid > 0).ToArray();
        _book.Do<HandPayments>(h => h.MarkPaid(run.Id, [.. rows.Select(r => r.Id!.Value)], new DateOnly(2026, 11, 3), "T-1", null, Lead));
        if (isClosed) _book.Do<PayRunSteps>(s => s.Close(run.Id, Lead));
        var anna = rows.Single(r => r.Payee == "anna");
        Assert.Throws<RefusedException>(() => _book.Do<HandPayments>(h => h.CameBack(run.Id, anna.Id!.Value, " ", Lead)));
        _book.Do<HandPayments>(h => h.CameBack(run.Id, anna.Id!.Value, "account closed", Lead));
        Assert.Throws<RefusedException>(() => _book.Do<HandPayments>(h => h.CameBack(run.Id, anna.Id!.Value, "again", Lead)));
        var doubt = _book.Get<PaymentDoubts, int>(d => d.Waiting().Single().Record.Id);
        Assert.Throws<RefusedException>(() => _book.Do<PaymentDoubts>(d => d.Uphold(doubt, Lead)));
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.Adjustments.Count()));
        _book.Do<PaymentDoubts>(d => d.Uphold(doubt, Approver));
        Assert.Equal(anna.Figures.Paid, _book.Get<BookDbContext, long>(db => db.Adjustments.Single().Amount));
        // Out on its day and in again on its own, and the whole balances.
        var journal = _book.Get<RunJournal, string>(j => j.Write(run.Id)!);
        Assert.Contains("2026-11-03 Anna | paid, T-1", journal, StringComparison.Ordinal);
        Assert.Contains("2026-11-03 Anna | came back, account closed", journal, StringComparison.Ordinal);
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    [Fact]
    public void Changing_an_order_by_hand_begins_from_the_order_as_it_is_and_saving_it_so_changes_nothing()
    {
        Bring("order_id,channel,placed_at,paid_at,currency,processor,customer,customer_key,prices_include_tax,order_discount,shipping,shipping_tax,processing_fee,channel_fee,rebate,coupon_codes,line_id,product,quantity,unit_price,line_discount,line_tax,requires_shipping\n"
            + "A,web,2026-10-01T09:00:07Z,2026-10-01T09:05:09Z,EUR,,returning,k-1,yes,1.00,4.92,0.92,0.50,0.10,,ANNA OTHER,x,guide,2,24.00,0.50,3.00,no\n"
            + "A,web,2026-10-01T09:00:07Z,2026-10-01T09:05:09Z,EUR,,returning,k-1,yes,1.00,4.92,0.92,0.50,0.10,,ANNA OTHER,y,print,1,24.00,,2.00,yes\n");
        var before = _book.Get<BookDbContext, long>(db => db.Orders.AsNoTracking().Single().FactsHash);
        var (cells, lines) = _book.Get<HandEntry, (Dictionary<string, string>, IReadOnlyList<Dictionary<string, string>>)>(h => h.Find("A")!.Value);
        Assert.Equal(("k-1", "returning", "yes", "ANNA OTHER", "2026-10-01T10:00:07"), (cells["customer_key"], cells["customer"], cells["prices_include_tax"], cells["coupon_codes"], cells["placed_at"]));
        Assert.Equal(["x", "y"], lines.Select(l => l["line_id"]));
        void Enter() => _book.Do<HandEntry>(h => Assert.Empty(h.Enter(new HandDraft { Kind = SalesEventKind.Order, Cells = cells, Lines = [.. lines] }, Lead)));
        Enter();
        _book.Do<TakeEvents>(t => t.RunAll());
        Assert.Equal(before, _book.Get<BookDbContext, long>(db => db.Orders.AsNoTracking().Single().FactsHash));
        cells["shipping"] = "9.92";
        lines[1]["unit_price"] = "25";
        // What it says otherwise, and what that posts, is shown first; nothing is changed by that.
        _book.ShownFirst = (true, "");
        var notSeen = Assert.Throws<NotSeenException>(Enter).Difference;
        Assert.Equal(["shipping: from 4.92 to 9.92", "line y, unit price: from 24.00 to 25"], notSeen.Changes);
        Assert.Equal(before, _book.Get<BookDbContext, long>(db => db.Orders.AsNoTracking().Single().FactsHash));
        _book.ShownFirst = (true, notSeen.Fingerprint);
        Enter();
        _book.ShownFirst = default;
        Assert.Equal(992, _book.Get<BookDbContext, long>(db => db.Orders.AsNoTracking().Single().Shipping));
        Assert.Null(_book.Get<HandEntry, object?>(h => h.Find("none")));
    }

    private void Bring(string file)
    {
        var id = _book.Get<ImportFiles, int>(f => f.QueueAsync(ImportKind.Orders, "orders.csv", new MemoryStream(Encoding.UTF8.GetBytes(file)), Lead).GetAwaiter().GetResult());
        _book.Do<ReadImport>(r => r.Run(id));
    }

    private IReadOnlyList<WaitingGroup> Waiting() => _book.Get<QuarantineDesk, IReadOnlyList<WaitingGroup>>(q => q.Waiting());
}
