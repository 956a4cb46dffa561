using System.Text;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Desk;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>What stands around a run: schedules, looking ahead, adjustments to many, advances, old balances, the outbox.</summary>
public sealed class PayDeskTests : IDisposable
{
    private static readonly DateOnly October = new(2026, 10, 31);

    private readonly TestBook _book = new();

    public PayDeskTests()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", "2026-10-30"));
        _book.MoveTo(new DateOnly(2026, 11, 3));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_run_falls_due_by_schedule_and_is_not_due_any_more_once_it_is_gathered()
    {
        Set("anna", d => d with { Schedule = "weekly-5" });
        Assert.Equal([("weekly-5", new DateOnly(2026, 10, 30), true), ("monthly", October, true)], Due());
        Assert.Contains("Gather the run of those paid every Friday: due as of 30 Oct 2026", _book.Get<OpenDesk, DeskView>(d => d.Find(Period.Of(October))).Steps.Select(s => s.Words));
        var id = _book.Get<PayRunSteps, int>(s => s.Gather(new DateOnly(2026, 10, 30), ["anna"], Lead));
        Assert.Equal([("monthly", October, true), ("weekly-5", new DateOnly(2026, 11, 6), false)], Due());
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        Assert.Equal(["anna"], _book.Run(id).Rows.Select(r => r.Payee));
        // A later run of others does not stand in the way, one of the same payee does.
        _book.Do<PayRunSteps>(s => s.Lock(s.Gather(October, ["ines"], Lead), Lead));
        Assert.Throws<RefusedException>(() => _book.Get<PayRunSteps, int>(s => s.Gather(new DateOnly(2026, 10, 29), ["anna"], Lead)));
    }

    [Fact]
    public void A_schedule_that_is_none_is_told_at_its_field() =>
        Assert.Equal("Schedule", Assert.Single(_book.Get<PayeeDesk, IReadOnlyList<FieldFault>>(p => p.Save("anna", p.Draft("anna")! with { Schedule = "now and then" }, Lead).Faults)).Field);

    [Fact]
    public void Looking_ahead_tells_what_will_have_cleared_and_takes_nothing()
    {
        _book.Publish(Draft("Art", Basis.Contribution, "20", hold: 30, from: new DateOnly(2026, 2, 1)), "art");
        _book.Recalculate();
        long Paid(DateOnly on) => _book.Get<PayRunDesk, RunView>(d => d.Preview(on, null)).Rows.Single(r => r.Payee == "ines").Figures.Paid;
        Assert.Equal((0, 2000, 4000), (Paid(October), Paid(new DateOnly(2026, 11, 4)), Paid(new DateOnly(2026, 11, 30))));
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.PayRuns.Count()));
    }

    [Fact]
    public void An_adjustment_to_many_goes_to_all_or_none()
    {
        Assert.Equal("Amount", Assert.Throws<RefusedException>(() => Many("1.234")).Field);
        Assert.Equal("Payees", Assert.Throws<RefusedException>(() => _book.Do<Adjustments>(a => a.AddToMany([], October, "1", AdjustmentKind.Bonus, "x", Lead))).Field);
        Assert.Throws<RefusedException>(() => _book.Do<Adjustments>(a => a.AddToMany(["anna", "nobody"], October, "1", AdjustmentKind.Bonus, "x", Lead)));
        Assert.Empty(_book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Open()));
        Many("2.50");
        Assert.Equal([250L, 250L], _book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Open()).Select(a => a.Amount));

        void Many(string amount) => _book.Do<Adjustments>(a => a.AddToMany(["anna", "ines"], October, amount, AdjustmentKind.Bonus, "The launch", Lead));
    }

    [Fact]
    public void A_file_of_adjustments_is_added_whole_once_or_names_its_faults()
    {
        const string header = "payee,on,amount,currency,kind,note\n";
        var (_, _, faults) = Add(header + "anna,2026-10-20,0,EUR,bonus,x\nbob,2026-10-20,1,EUR,gift,x\nanna,tomorrow,1.999,EUR,bonus,\n");
        Assert.Equal(["amount", "payee", "kind", "on", "amount", "note"], faults.Select(f => f.Column));
        var sound = header + "anna,2026-10-20,25.00,EUR,bonus,The launch\nanna,2026-10-20,25.00,EUR,bonus,The launch\nines,2026-10-21,-3.50,EUR,recharge,A sample\n";
        Assert.Equal((3, 0), (Add(sound).Added, Add(sound).Added));
        Assert.Equal(5000 - 0, _book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Of("anna")).Sum(a => a.Amount));

        (int Added, int Known, IReadOnlyList<RowFault> Faults) Add(string csv) => _book.Get<Adjustments, (int, int, IReadOnlyList<RowFault>)>(a => a.AddFile(new MemoryStream(Encoding.UTF8.GetBytes(csv)), Lead));
    }

    [Fact]
    public void An_advance_is_recouped_and_tells_what_is_left()
    {
        Set("ines", d => d with { RecoupPercent = "50" });
        Assert.Equal(["AdvanceAmount"], _book.Get<Advances, IReadOnlyList<FieldFault>>(a => a.Add("ines", October, "", "Moss guide", Lead)).Select(f => f.Field));
        Assert.Empty(_book.Get<Advances, IReadOnlyList<FieldFault>>(a => a.Add("ines", new DateOnly(2026, 10, 1), "30.00", "Moss guide", Lead)));
        Assert.Equal((2000, 2000), (_book.In(_book.Pay(October), "ines").Recouped, 1000 + (int)_book.Get<Advances, long>(a => a.Of("ines")[0].Left)));
    }

    [Fact]
    public void An_old_balance_is_given_up_by_two_persons_and_the_next_run_takes_it()
    {
        Set("anna", d => d with { Minimum = "50.00" });
        Assert.Equal(1000, _book.In(_book.Pay(October), "anna").Carried);
        _book.MoveTo(new DateOnly(2027, 2, 15));
        var row = _book.Get<OwedBalances, OwedRow>(o => o.Find().Single(r => r.PayeeId == "anna"));
        Assert.Equal([0L, 0, 0, 1000], row.Ages);
        Assert.Throws<RefusedException>(() => _book.Do<OwedBalances>(o => o.Propose("anna", " ", Lead)));
        _book.Do<OwedBalances>(o => o.Propose("anna", "Cannot be reached", Lead));
        var waiting = Assert.Single(_book.Get<OwedBalances, IReadOnlyList<WriteOffRecord>>(o => o.Waiting()));
        Assert.Throws<RefusedException>(() => _book.Do<OwedBalances>(o => o.Propose("anna", "Again", Lead)));
        Assert.Throws<RefusedException>(() => _book.Do<OwedBalances>(o => o.Confirm(waiting.Id, Lead)));
        _book.Do<OwedBalances>(o => o.Confirm(waiting.Id, Approver));
        Assert.Throws<RefusedException>(() => _book.Do<OwedBalances>(o => o.Confirm(waiting.Id, Approver)));
        Assert.DoesNotContain(_book.Get<OwedBalances, IReadOnlyList<OwedRow>>(o => o.Find()), r => r.PayeeId == "anna" && r.Sum != 0);
        Assert.Equal((-1000, 0), (_book.In(_book.Pay(new DateOnly(2027, 2, 15)), "anna").Adjustments, _book.Run(2).Rows.Single(r => r.Payee == "anna").Figures.Carried));
    }

    [Fact]
    public void A_mail_is_kept_once_and_read_as_it_was_sent()
    {
        bool Send() => _book.Get<Outbox, bool>(o => o.Send("advice-1-anna", "Anna", "anna@people.example", "Your statement", "Dear Anna,\nas attached.", ("statement.pdf", [1, 2, 3])));
        Assert.Equal((true, false), (Send(), Send()));
        var mail = Assert.Single(_book.Get<Outbox, IReadOnlyList<SentMail>>(o => o.List()));
        Assert.Equal(("Your statement", "statement.pdf"), (mail.Subject, Assert.Single(mail.Attachments)));
        Assert.Contains("as attached.", _book.Get<Outbox, OpenedMail>(o => o.Find(mail.Id)!).Text);
        Assert.Null(_book.Get<Outbox, OpenedMail?>(o => o.Find("../keys/key-1")));
    }

    [Fact]
    public void A_file_that_shows_a_payment_is_kept_and_an_empty_one_refused()
    {
        var name = _book.Get<HandPayments, string>(h => h.KeepEvidenceAsync("../../transfer.PDF", new MemoryStream([1, 2, 3])).GetAwaiter().GetResult());
        Assert.EndsWith(".pdf", name);
        Assert.True(File.Exists(Path.Combine(_book.Place.Uploads, name)));
        Assert.Throws<RefusedException>(() => _book.Get<HandPayments, string>(h => h.KeepEvidenceAsync("a.pdf", new MemoryStream()).GetAwaiter().GetResult()));
    }

    private (string, DateOnly?, bool)[] Due() => _book.Get<DueRuns, (string, DateOnly?, bool)[]>(d => [.. d.Find().Select(r => (r.Schedule.ToString(), r.AsOf, r.IsDue))]);

    private void Set(string payee, Func<PayeeDraft, PayeeDraft> change) => _book.Do<PayeeDesk>(p => Assert.Empty(p.Save(payee, change(p.Draft(payee)!), Lead).Faults));
}
