using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>A draft worked over past orders tells what publishing it would post, and posts nothing.</summary>
public sealed class RehearsalTests : IDisposable
{
    private static readonly DateOnly October = new(2026, 10, 1);

    private readonly TestBook _book = new();

    public RehearsalTests()
    {
        _book.ImportOrders(Row("SEP", "2026-09-20", "ANNA"), Row("A", code: "ANNA"), Row("B", "2026-10-08", "ANNA", "print", "40.00"), Row("C", "2026-10-12", price: "60.00"));
        _book.ImportRefunds("R1,A,2026-10-20T12:00:00Z,refund,1,0,50.00,0");
        _book.MoveTo(new DateOnly(2026, 11, 3));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void It_tells_then_and_now_by_payee_product_and_for_the_house()
    {
        var result = Rehearse("friends", Draft("Friends", Basis.Referral, "15", from: October));
        Assert.Equal((2, 2), (result.Orders, result.Differing));
        Assert.Equal(new RehearsedRow("anna", "EUR", new ThenAndNow(900, 1350)), Assert.Single(result.Payees));
        Assert.Equal([("guide", 250L), ("print", 200L)], result.Products.Select(p => (p.Id, p.Amount.Difference)));
        Assert.Equal(-450, Assert.Single(result.House).Amount.Difference);
        Assert.Equal(["A", "B"], result.Changed.Select(o => o.Order));
        Assert.Equal(new ThenAndNow(1000, 1500), result.Changed[0].Shares.Single(s => s.Id == "anna").Amount);
    }

    [Fact]
    public void Nothing_is_posted_and_publishing_posts_just_what_was_rehearsed()
    {
        var before = Entries();
        var draft = Draft("Friends", Basis.Referral, "15", from: October);
        var result = Rehearse("friends", draft);
        Assert.Equal(before, Entries());
        var owed = _book.Owed("anna");
        _book.Publish(draft, "friends");
        _book.Recalculate();
        Assert.Equal(result.Payees.Sum(p => p.Amount.Difference), _book.Owed("anna") - owed);
    }

    [Fact]
    public void A_ladder_counts_what_was_sold_before_the_first_day_rehearsed()
    {
        var draft = Draft("Friends", Basis.Referral, "10", from: October) with
        {
            Terms = [new TermDraft { Cases = [new CaseDraft { Sales = "100", Percent = "20" }, new CaseDraft { Percent = "10" }] }],
        };
        // September's order has reached the step.
        Assert.Equal(new ThenAndNow(900, 1800), Assert.Single(Rehearse("friends", draft).Payees).Amount);
    }

    [Fact]
    public void What_the_draft_no_longer_covers_is_told_as_lost()
    {
        var draft = Draft("Art", Basis.Contribution, "20", from: October) with
        {
            Terms = [new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "guide", Cases = [new CaseDraft { Percent = "20" }] }],
        };
        Assert.Equal(("print", -800L), Rehearse("art", draft).Products.Select(p => (p.Id, p.Amount.Difference)).Single());
    }

    [Fact]
    public void Exceptions_it_would_raise_are_named()
    {
        var raised = Assert.Single(Rehearse("art", Draft("Art", Basis.Contribution, "95", from: October)).Exceptions, e => e.Order == "B");
        Assert.Equal((ExceptionCode.OverCommitted, "1"), (raised.Code, raised.Line));
    }

    [Fact]
    public void A_draft_that_says_what_is_in_force_changes_nothing()
    {
        var result = Rehearse("art", Draft("Art", Basis.Contribution, "20", from: October));
        Assert.Equal((3, 0), (result.Orders, result.Differing));
        Assert.Empty(result.Payees);
    }

    [Fact]
    public void It_is_due_before_a_version_in_the_past_and_only_then()
    {
        bool Due(string? agreement, DateOnly from) => _book.Get<Rehearsals, bool>(r => r.IsDueBefore(agreement, Draft("Friends", Basis.Referral, "15", from: from)));
        Assert.True(Due("friends", October));
        Assert.False(Due("friends", new DateOnly(2026, 12, 1)));
        Assert.False(Due("friends", new DateOnly(2026, 11, 1)));
        Assert.False(Due(null, October));
    }

    [Fact]
    public void A_faulty_draft_another_basis_and_days_in_reverse_are_refused()
    {
        string[] Faults(string agreement, AgreementDraft draft, DateOnly? to = null) => [.. _book.Get<Rehearsals, (int?, IReadOnlyList<FieldFault> Faults)>(
            r => r.Ask(1, agreement, draft, null, to, false, Lead)).Faults.Select(f => f.Field)];
        Assert.Equal(["Terms[0].Cases[0].Percent"], Faults("friends", Draft("Friends", Basis.Referral, "120", from: October)));
        Assert.Equal(["InPlaceOf"], Faults("art", Draft("Friends", Basis.Referral, "12", from: October)));
        Assert.Equal(["InPlaceOf"], Faults("nobody", Draft("Friends", Basis.Referral, "12", from: October)));
        Assert.Equal(["RehearseTo"], Faults("friends", Draft("Friends", Basis.Referral, "12", from: October), new DateOnly(2026, 9, 1)));
    }

    [Fact]
    public void One_that_was_interrupted_is_begun_anew()
    {
        var id = Ask("friends", Draft("Friends", Basis.Referral, "15", from: October));
        _book.Do<Rehearsals>(r => r.RunAll(new CancellationToken(canceled: true)));
        _book.Do<BookDbContext>(db => { db.Rehearsals.Single().State = RehearsalState.Running; db.SaveChanges(); });
        _book.Do<Rehearsals>(r => r.RunAll());
        Assert.Equal(RehearsalState.Done, _book.Get<Rehearsals, RehearsalView>(r => r.Find(id)!).Record.State);
    }

    [Fact]
    public void A_draft_is_kept_as_typed_until_it_is_discarded()
    {
        var draft = Draft("Half written", Basis.Referral, "not a number");
        var id = _book.Get<AgreementDrafts, int>(d => d.Save(null, null, draft, Lead));
        Assert.Equal(id, _book.Get<AgreementDrafts, int>(d => d.Save(id, null, draft with { Name = "Half" }, Lead)));
        Assert.Equal("Half", Assert.Single(_book.Get<AgreementDrafts, IReadOnlyList<DraftSummary>>(d => d.List())).Name);
        Assert.Equivalent(draft with { Name = "Half" }, _book.Get<AgreementDrafts, AgreementDraft>(d => d.Find(id)!), strict: true);
        _book.Do<AgreementDrafts>(d => d.Discard(id, Lead));
        Assert.Empty(_book.Get<AgreementDrafts, IReadOnlyList<DraftSummary>>(d => d.List()));
    }

    private RehearsalResult Rehearse(string agreement, AgreementDraft draft)
    {
        var id = Ask(agreement, draft);
        _book.Do<Rehearsals>(r => r.RunAll());
        return _book.Get<Rehearsals, RehearsalView>(r => r.Find(id)!).Result!;
    }

    private int Ask(string agreement, AgreementDraft draft)
    {
        var (id, faults) = _book.Get<Rehearsals, (int? Id, IReadOnlyList<FieldFault> Faults)>(r => r.Ask(1, agreement, draft, null, null, false, Lead));
        Assert.Empty(faults);
        return id!.Value;
    }

    private int Entries() => _book.Get<BookDbContext, int>(db => db.Entries.Count());
}
