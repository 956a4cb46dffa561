using System.Text;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Clearing;
using EvenSplit.Books.Exceptions;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>What needs a person: exceptions by cause, fees and rates that repair them, what is held back, what waits, who sends back too much.</summary>
public sealed class WatchTests : IDisposable
{
    private const string Header = "order_id,channel,placed_at,paid_at,currency,processor,coupon_codes,line_id,product,quantity,unit_price";

    private static readonly Period October = Period.Of(new DateOnly(2026, 10, 1));

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Exceptions_stand_by_their_cause_and_one_schedule_clears_them()
    {
        Import("A,shop,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,voucher,,1,guide,1,100.00", "B,shop,2026-10-06T12:00:00Z,2026-10-06T12:00:00Z,EUR,voucher,,1,guide,1,100.00", "C,shop,2026-10-06T12:00:00Z,2026-10-06T12:00:00Z,EUR,other,,1,guide,1,100.00");
        Assert.Equal([("voucher", 2), ("other", 1)], Causes().Select(c => (c.Cause.Subject, c.Count)));
        Assert.Equal("The processor voucher has no fee schedule, and no fee came with 2 orders.", Causes()[0].Says);
        Assert.Empty(_book.Get<RateDesk, IReadOnlyList<FieldFault>>(r => r.SaveProcessor(new ScheduleDraft { Id = "voucher", Percent = "1" }, Lead)));
        _book.Recalculate();
        Assert.Equal(["other"], Causes().Select(c => c.Cause.Subject));
        Assert.Equal([100L, 100L, 0L], Fees());
    }

    [Fact]
    public void What_may_stand_counts_no_more_even_after_the_order_is_worked_out_again()
    {
        Import("A,shop,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,voucher,,1,guide,1,100.00", "B,shop,2026-10-06T12:00:00Z,2026-10-06T12:00:00Z,EUR,voucher,,1,guide,1,100.00");
        var cause = Causes()[0].Cause;
        Assert.Throws<RefusedException>(() => _book.Do<ExceptionQueue>(q => q.Accept(October, cause, null, " ", Lead)));
        Assert.Equal(1, _book.Get<ExceptionQueue, int>(q => q.Accept(October, cause, "A", "A gift", Lead)));
        Assert.Equal((1, 1L), (Causes()[0].Count, WithExceptions()));
        _book.Do<RateDesk>(r => r.SaveProcessor(new ScheduleDraft { Id = "unused", Percent = "1" }, Lead));
        _book.Do<ProductDesk>(d => d.Save("guide", d.Draft("guide")! with { ReturnDays = 5 }, Lead));
        _book.Recalculate();
        Assert.Equal((1, 1L), (Causes()[0].Count, WithExceptions()));
        _book.Do<ExceptionQueue>(q => q.Accept(October, cause, null, "Gifts too", Lead));
        Assert.Equal((0, 0L), (Causes().Count, WithExceptions()));
    }

    [Fact]
    public void One_word_lets_a_line_stand_that_is_off_its_plan_in_two_ways()
    {
        _book.Do<ProductDesk>(d => d.Save("guide", d.Draft("guide")! with { Plans = new PlanDraft { Price = PriceKind.Fixed, AtMost = 1 } }, Lead));
        _book.ImportOrders(Row("A", price: "23.00", quantity: "2"));
        Assert.Equal(2, Causes()[0].Count);
        _book.Do<ExceptionQueue>(q => q.Accept(October, Causes()[0].Cause, "A", "Agreed on the telephone", Lead));
        Assert.Equal((0, 0L), (Causes().Count, WithExceptions()));
    }

    [Fact]
    public void A_cause_is_given_to_somebody_with_comments()
    {
        Import("A,shop,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,voucher,,1,guide,1,100.00");
        var cause = Causes()[0].Cause;
        Assert.Throws<RefusedException>(() => _book.Do<ExceptionQueue>(q => q.Note(cause, "", "", Lead)));
        _book.Do<ExceptionQueue>(q => q.Note(cause, "Asked the processor", Approver, Lead));
        Assert.Equal((Approver, "Asked the processor"), (Causes()[0].AssignedTo, Causes()[0].Notes[0].Text));
    }

    [Fact]
    public void A_schedule_holds_from_its_day_for_payments_since()
    {
        _book.Do<RateDesk>(r => r.SaveProcessor(new ScheduleDraft { Id = "card", Percent = "1" }, Lead));
        Import("A,shop,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,card,,1,guide,1,100.00", "B,shop,2026-10-05T12:00:00Z,2026-10-10T12:00:00Z,EUR,card,,1,guide,1,100.00");
        Assert.Equal([100L, 100L], Fees());
        Assert.Empty(_book.Get<RateDesk, IReadOnlyList<FieldFault>>(r => r.SaveProcessor(new ScheduleDraft { Id = "card", Percent = "2", Fixed = "0.10", From = new DateOnly(2026, 10, 10) }, Lead)));
        _book.Recalculate();
        Assert.Equal([100L, 210L], Fees());
        Assert.Equal(["From"], _book.Get<RateDesk, IReadOnlyList<FieldFault>>(r => r.SaveChannel(new ScheduleDraft { Id = "new", From = new DateOnly(2026, 10, 10) }, Lead)).Select(f => f.Field));
    }

    [Fact]
    public void Rates_of_a_file_go_in_whole_or_not_at_all()
    {
        Assert.Equal([(2L, "USD"), (3L, "date")], Rates("date,USD,CHF\n2026-10-05,dear,0.93\n5 October,1.08,\n").Faults.Select(f => (f.Row, f.Column)));
        Assert.Equal(3, Rates("Date;USD;CHF;JPY\n2026-10-05;1.08;0.93;N/A\n2026-10-06;1.09;;\n").Added);
        Assert.Equal(1, Rates("date,from,to,rate\n2026-10-06,EUR,USD,1.09\n2026-10-07,USD,JPY,150.1\n").Added);
        Assert.Equal("USD '1.1': expected 1.09, which the book has for 6 Oct 2026; orders are converted with it", Assert.Single(Rates("date,USD\n2026-10-06,1.1\n").Faults).ToString());
        Assert.Throws<RefusedException>(() => Rates("day,USD\n2026-10-06,1.1\n"));
    }

    [Fact]
    public void What_is_held_back_clears_on_no_day_with_its_reversals_until_it_is_let_go()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        var entry = _book.Get<BookDbContext, long>(db => db.Entries.Single(e => e.Payee == "anna").Id);
        Assert.Throws<RefusedException>(() => _book.Do<EntryHolds>(h => h.Hold(entry, "", Lead)));
        _book.Do<EntryHolds>(h => h.Hold(entry, "Parcel lost", Lead));
        Assert.Throws<RefusedException>(() => _book.Do<EntryHolds>(h => h.Hold(entry, "Again", Lead)));
        _book.ImportRefunds("R,A,2026-10-08T12:00:00Z,refund,1,0,40.00,0");
        var held = Assert.Single(_book.Get<EntryHolds, IReadOnlyList<HeldBack>>(h => h.List()));
        Assert.Equal(("Parcel lost", 600L), (held.Reason, held.Amounts[0].Minor));
        Assert.Equal([600L], Calendar().Awaited.Select(a => a.Minor));
        Assert.DoesNotContain(_book.Get<BookDbContext, DateOnly?[]>(db => [.. db.Entries.Where(e => e.Payee == "anna").Select(e => e.ClearsOn)]), d => d is not null);
        _book.MoveTo(new DateOnly(2026, 11, 1));
        Assert.Equal(0, _book.In(_book.Pay(new DateOnly(2026, 10, 31)), "anna").Earned);
        _book.Do<EntryHolds>(h => h.LetGo(held.Id, Lead));
        Assert.Throws<RefusedException>(() => _book.Do<EntryHolds>(h => h.LetGo(held.Id, Lead)));
        Assert.Empty(Calendar().Awaited);
        var run = _book.Pay(new DateOnly(2026, 11, 1));
        Assert.Equal(600, _book.In(run, "anna").Earned);
        Assert.Contains("taken it", Assert.Throws<RefusedException>(() => _book.Do<EntryHolds>(h => h.Hold(entry, "Late", Lead))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_calendar_adds_up_to_what_is_owed_and_lists_what_waits_for_a_sign_off()
    {
        _book.Publish(Draft("Art", Basis.Contribution, "20", from: new DateOnly(2026, 9, 1)) with { SignOff = SignOff.Manual }, "art");
        _book.Recalculate();
        _book.ImportOrders(Row("A", "2026-10-05", "ANNA"), Row("B", "2026-10-06"));
        var view = Calendar();
        Assert.Equal([(new DateOnly(2026, 10, 5), PayeeRole.Affiliate, 1000L)], view.Days.Select(d => (d.On, d.Role, d.Amount.Minor)));
        Assert.Equal([4000L], view.Awaited.Select(a => a.Minor));
        var waiting = _book.Get<ClearingCalendar, IReadOnlyList<AwaitingSignOff>>(c => c.Awaiting());
        Assert.Equal([("A", 2000L), ("B", 2000L)], waiting.Select(w => (w.OrderId, w.Waiting[0].Minor)));
        _book.Do<Sales.CorrectOrder>(c => c.SignOff("A", Lead));
        Assert.Equal(["B"], _book.Get<ClearingCalendar, IReadOnlyList<AwaitingSignOff>>(c => c.Awaiting()).Select(w => w.OrderId));
    }

    [Fact]
    public void Refund_rates_are_held_against_the_limit()
    {
        _book.ImportOrders([.. Enumerable.Range(1, 8).Select(i => Row($"O{i}", code: "ANNA"))]);
        _book.ImportRefunds("R,O1,2026-10-08T12:00:00Z,cancel,,,,");
        var row = Assert.Single(Refunds());
        Assert.Equal((8L, 1L, "12.5 %", "12.5 %", true), (row.Orders, row.Refunded, row.OfOrders.ToPercentText(), row.OfMoney.ToPercentText(), row.IsOver));
        Assert.Throws<RefusedException>(() => _book.Do<RefundRates>(r => r.SetLimit("many", Lead)));
        _book.Do<RefundRates>(r => r.SetLimit("12.5", Lead));
        Assert.False(Refunds()[0].IsOver);
        _book.Do<RefundRates>(r => r.PutOnHold("anna", Lead));
        Assert.True(Refunds()[0].IsOnHold);
    }

    private IReadOnlyList<RefundRateRow> Refunds() => _book.Get<RefundRates, IReadOnlyList<RefundRateRow>>(r => r.Find(October, 3));

    private CalendarView Calendar() => _book.Get<ClearingCalendar, CalendarView>(c => c.Find(October));

    private void Import(params string[] rows) => Assert.Equal(0, _book.Read(_book.Queue(ImportKind.Orders, string.Join('\n', rows.Prepend(Header)) + "\n")).Quarantined);

    private IReadOnlyList<CauseOfExceptions> Causes() => _book.Get<ExceptionQueue, IReadOnlyList<CauseOfExceptions>>(q => q.Find(October));

    private long WithExceptions() => _book.Get<BookDbContext, long>(db => db.PeriodTotals.Sum(t => t.WithExceptions));

    private long[] Fees() => _book.Get<BookDbContext, long[]>(db => [.. db.Orders.OrderBy(o => o.OrderId).Select(o => o.ProcessingFee)]);

    private (int Added, IReadOnlyList<RowFault> Faults) Rates(string csv) => _book.Get<RateDesk, (int, IReadOnlyList<RowFault>)>(r => r.Import(new MemoryStream(Encoding.UTF8.GetBytes(csv)), Lead));
}
