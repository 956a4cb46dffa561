using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Targets are proposed once a window to whoever reaches them, and given only by a person; new affiliates are put on the default agreement.</summary>
public sealed class TargetTests : IDisposable
{
    private static readonly TargetDraft Hundred = new() { Name = "Hundred", Agreement = "friends", Measure = TargetMeasure.Sales, AtLeast = "100", Window = ProgressWindow.Month, From = new DateOnly(2026, 9, 1), Bonus = "5.00" };

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_bonus_is_proposed_once_a_window_and_given_by_hand()
    {
        _book.ImportOrders(Row("SEP", "2026-09-20", "ANNA"), Row("OCT", "2026-10-01", "ANNA", price: "99.99"));
        Set(Hundred);
        Assert.Equal((1, 0), (Notice(), Notice()));
        var reached = Assert.Single(Reached());
        Assert.Equal(("Anna", "September 2026", "sales of €100.00", "a bonus of €5.00"), (reached.Payee, reached.Window, reached.Figure, reached.Gets));
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.Adjustments.Count()));
        _book.Do<Targets>(t => t.Take(reached.Id, Lead));
        var bonus = _book.Get<BookDbContext, AdjustmentRecord>(db => db.Adjustments.Single());
        Assert.Equal(("anna", 500L, AdjustmentKind.Bonus, "Hundred, September 2026"), (bonus.Payee, bonus.Amount, bonus.Kind, bonus.Note));
        Assert.Throws<RefusedException>(() => _book.Do<Targets>(t => t.Take(reached.Id, Lead)));
        _book.ImportOrders(Row("MORE", "2026-10-01", "ANNA", price: "0.01"));
        Assert.Equal(1, Notice());
    }

    [Fact]
    public void A_payee_reads_how_far_they_are_and_what_was_said()
    {
        Set(Hundred);
        _book.ImportOrders(Row("A", "2026-10-01", "ANNA", price: "60.00"));
        Assert.Equal(("October 2026", "sales of €100.00", "sales of €60.00", "sales of €40.00", "a bonus of €5.00"), Of() is var far ? (far.Window, far.Asks, far.Reached, far.Missing, far.Gets) : default);
        _book.ImportOrders(Row("B", "2026-10-01", "ANNA", price: "40.00"));
        Notice();
        Assert.Equal((null, ""), (Of().Missing, Of().Decision));
        _book.Do<Targets>(t => t.Take(Reached()[0].Id, Lead));
        Assert.Equal("given", Of().Decision);
        Assert.Empty(_book.Get<Targets, IReadOnlyList<TargetStanding>>(t => t.Of("ines")));
        TargetStanding Of() => Assert.Single(_book.Get<Targets, IReadOnlyList<TargetStanding>>(t => t.Of("anna")));
    }

    [Fact]
    public void A_refund_takes_nobody_below_what_they_had_reached()
    {
        Set(Hundred);
        _book.ImportOrders(Row("A", "2026-09-20", "ANNA"));
        _book.ImportRefunds("R,A,2026-09-25T12:00:00Z,cancel,,,,");
        Assert.Equal(1, Notice());
    }

    [Fact]
    public void Orders_and_earnings_are_counted_too_and_only_of_those_on_the_agreement()
    {
        Set(Hundred with { Name = "Two", Measure = TargetMeasure.Orders, AtLeast = "2" });
        Set(Hundred with { Name = "Earned", Measure = TargetMeasure.Earned, AtLeast = "20.01", Window = ProgressWindow.Lifetime });
        Set(Hundred with { Name = "Art", Agreement = "art", AtLeast = "150", Window = ProgressWindow.Quarter, From = new DateOnly(2026, 7, 1) });
        _book.ImportOrders(Row("A", "2026-09-20", "ANNA"), Row("B", "2026-09-21", "ANNA"));
        Notice();
        Assert.Equal([("Art", "Ines"), ("Two", "Anna")], Reached().Select(r => (r.Target, r.Payee)).Order());
    }

    [Fact]
    public void A_move_changes_the_agreement_from_the_next_day()
    {
        _book.Publish(Draft("Best friends", Basis.Referral, "15"));
        _book.ImportOrders(Row("A", "2026-09-20", "ANNA"));
        Set(Hundred with { Bonus = "", MoveTo = "best-friends" });
        Notice();
        Assert.Equal("moved to Best friends", Reached()[0].Gets);
        _book.Do<Targets>(t => t.Take(Reached()[0].Id, Lead));
        _book.Recalculate();
        _book.ImportOrders(Row("B", "2026-10-01", "ANNA"), Row("C", "2026-10-02", "ANNA"));
        Assert.Equal(1000 + 1000 + 1500, _book.Owed("anna"));
    }

    [Fact]
    public void A_declined_one_keeps_its_reason_and_an_ended_target_proposes_no_more()
    {
        Set(Hundred);
        _book.ImportOrders(Row("A", "2026-09-20", "ANNA"));
        Notice();
        var id = Reached()[0].Id;
        Assert.Throws<RefusedException>(() => _book.Do<Targets>(t => t.Decline(id, " ", Lead)));
        _book.Do<Targets>(t => t.Decline(id, "Paid already", Lead));
        Assert.Equal((ReachedState.Declined, "Paid already"), (Reached()[0].State, Reached()[0].Reason));
        _book.Do<Targets>(t => t.End(1, new DateOnly(2026, 10, 1), Lead));
        _book.ImportOrders(Row("B", "2026-10-01", "ANNA"));
        Assert.Equal(0, Notice());
    }

    [Fact]
    public void What_makes_no_target_is_told_at_its_fields()
    {
        Assert.Equal(["Name", "Agreement", "From", "AtLeast", "Bonus"], Add(new TargetDraft()).Select(f => f.Field));
        Assert.Equal(["MoveTo"], Add(Hundred with { Bonus = "", MoveTo = "art" }).Select(f => f.Field));
        Assert.Equal(["Bonus"], Add(Hundred with { MoveTo = "art" }).Select(f => f.Field).Take(1));
    }

    [Fact]
    public void New_affiliates_are_put_on_the_agreement_that_takes_them()
    {
        Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(a => a.PutNewAffiliatesOn("art", true, Lead)));
        _book.Do<AgreementDesk>(a => a.PutNewAffiliatesOn("friends", true, Lead));
        _book.Do<PayeeDesk>(d => d.Save(null, new PayeeDraft { Name = "Bea", PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2026, 9, 1), Codes = "BEA" }, Lead));
        _book.Do<PayeeDesk>(d => d.Save(null, new PayeeDraft { Name = "Cal", Role = PayeeRole.Collaborator, PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2026, 9, 1) }, Lead));
        Assert.Equal(["bea"], _book.Get<BookDbContext, string[]>(db => [.. db.Memberships.Where(m => m.From == new DateOnly(2026, 9, 1)).Select(m => m.PayeeId)]));
        Assert.Equal(["Friends"], _book.Get<AgreementDesk, IReadOnlyList<AgreementSummary>>(a => a.List()).Where(a => a.ForNewAffiliates).Select(a => a.Name));
    }

    [Fact]
    public void A_draft_that_gives_more_than_all_with_the_others_says_so()
    {
        IReadOnlyList<string> Unusual(string percent) => _book.Get<DraftPreview, DraftView>(p => p.Of(Draft("More art", Basis.Contribution, percent), new ExampleChoice { Product = "guide" }, null)).Unusual;
        Assert.DoesNotContain(Unusual("70"), u => u.Contains("given away", StringComparison.Ordinal));
        Assert.Contains("Of The guide and 1 more product up to 101 % could be given away: 71 % by this one, 20 % by Art, 10 % by Friends.", Unusual("71"));
    }

    private void Set(TargetDraft draft)
    {
        Assert.Empty(Add(draft));
        _book.Recalculate();
    }

    private IReadOnlyList<FieldFault> Add(TargetDraft draft) => _book.Get<Targets, IReadOnlyList<FieldFault>>(t => t.Add(draft, Lead));

    private int Notice() => _book.Get<Targets, int>(t => t.Notice());

    private IReadOnlyList<ReachedView> Reached() => _book.Get<Targets, IReadOnlyList<ReachedView>>(t => t.Reached());
}
