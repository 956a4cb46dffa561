using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

public sealed class TermsTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_draft_names_every_field_that_keeps_it_from_being_published()
    {
        var draft = new AgreementDraft
        {
            Currency = "EUR",
            Terms = [new TermDraft { Cases = [new CaseDraft { Percent = "120" }] }, new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "spade", Cases = [new CaseDraft { PerUnit = "1.234" }] }],
        };
        var faults = _book.Get<AgreementDesk, (string?, IReadOnlyList<Forms.FieldFault> Faults)>(d => d.Publish(null, draft, Lead)).Faults;
        Assert.Equal(["From", "Name", "Terms[0].Cases[0].Percent", "Terms[1].Cases[0].PerUnit", "Terms[1].ScopeId"], faults.Select(f => f.Field).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Every_switch_survives_publishing()
    {
        var draft = Draft("All of it", Basis.Supply, "12.5", hold: 9) with
        {
            DiscountBorneBy = DiscountBearer.House,
            Tax = Treatment.Count,
            Shipping = Treatment.Pass,
            Rebate = Treatment.Count,
            DeductProcessingFee = true,
            DeductChannelFee = true,
            DeductCost = true,
            AfterReferral = true,
            LostFees = LostFeeBearer.Shared,
            Terms = [new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "guide", Cases = [new CaseDraft { Percent = "12.5", PerUnit = "0.50", PerOrder = "1.00", GoesTo = RateGoesTo.House }] }],
        };
        _book.Publish(draft);
        var again = _book.Get<AgreementDesk, AgreementDraft>(d => d.Draft("all-of-it")!);
        Assert.Equivalent(draft, again, strict: true);
    }

    [Fact]
    public void Two_versions_of_one_day_are_refused() => Assert.Equal(
        "From",
        Assert.Single(_book.Get<AgreementDesk, (string?, IReadOnlyList<Forms.FieldFault> Faults)>(d => d.Publish("art", Draft("Art", Basis.Contribution, "5"), Lead)).Faults).Field);

    [Fact]
    public void Only_one_referral_agreement_at_a_time()
    {
        _book.Publish(Draft("Other friends", Basis.Referral, "5"));
        Assert.Throws<RefusedException>(() => _book.PutOn("other-friends", "anna"));
        Assert.Throws<RefusedException>(() => _book.PutOn("art", "ines"));
    }

    [Fact]
    public void The_worked_example_gives_what_publishing_gives()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        var draft = Draft("Art", Basis.Contribution, "25") with { AfterReferral = true };
        var example = _book.Get<DraftPreview, DraftView>(p => p.Of(draft, new ExampleChoice { Order = "A" }, null)).Example!;
        Assert.Equal(2250, example.Earned);
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.Agreements.Count(a => a.Name == "(this agreement)")));
        _book.Publish(draft with { From = new DateOnly(2026, 2, 1) }, "art");
        _book.Recalculate();
        Assert.Equal(2250, _book.Owed("ines"));
    }

    [Fact]
    public void A_made_up_order_has_the_products_price()
    {
        var example = _book.Get<DraftPreview, DraftView>(p => p.Of(Draft("Art", Basis.Contribution, "25"), new ExampleChoice { Product = "print", Quantity = 3 }, null)).Example!;
        Assert.Equal((7200, 1800), (example.Charged, example.Earned));
    }

    [Theory]
    [InlineData("ScopeId", "")]
    [InlineData("Cases[0].Percent", "9", RateGoesTo.Nobody)]
    public void A_term_that_contradicts_itself_is_refused(string field, string percent, RateGoesTo goesTo = RateGoesTo.Payee)
    {
        var draft = Draft("Odd", Basis.Referral, "5") with
        {
            Terms = [new TermDraft { ScopeKind = field == "ScopeId" ? ScopeKind.Collection : ScopeKind.All, Cases = [new CaseDraft { Percent = percent, OrderValue = "10", GoesTo = goesTo }] }],
        };
        var faults = _book.Get<AgreementDesk, (string?, IReadOnlyList<Forms.FieldFault> Faults)>(d => d.Publish(null, draft, Lead)).Faults;
        Assert.Contains(faults, f => f.Field == "Terms[0]." + field || f.Field == "Terms[0].Cases[0].GoesTo");
    }

    [Fact]
    public void Ending_a_membership_takes_back_what_was_earned_since()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", "2026-10-20", "ANNA"));
        var membership = _book.Get<AgreementDesk, int>(d => d.Find("friends")!.Members.Single().Id);
        _book.Do<AgreementDesk>(d => d.TakeOff(membership, new DateOnly(2026, 10, 10), Lead));
        _book.Recalculate();
        Assert.Equal(1000, _book.Owed("anna"));
    }

    [Fact]
    public void A_version_tells_what_it_changes_about_the_one_before()
    {
        _book.Publish(Draft("Friends", Basis.Referral, "12") with { From = new DateOnly(2026, 9, 1), Tax = Treatment.Count, Text = "We *agree*." }, "friends");
        var versions = _book.Get<AgreementDesk, AgreementView>(d => d.Find("friends")!).Versions;
        Assert.Equal(
            [
                (false, "Of everything: 10 % of the share base."), (false, "Tax stays with the house."),
                (true, "Of everything: 12 % of the share base."), (true, "Tax counts in the base."),
            ],
            versions[0].Changes);
        Assert.Empty(versions[1].Changes);
        Assert.Equal("We *agree*.", _book.Get<AgreementDesk, AgreementDraft>(d => d.Draft("friends")!).Text);
    }

    [Fact]
    public void Who_accepted_is_noted_once_and_stays()
    {
        var version = _book.Get<AgreementDesk, AgreementView>(d => d.Find("friends")!).Versions[0].Id;
        _book.Do<AgreementDesk>(d => d.Accept(version, "anna", new DateOnly(2026, 9, 2), "by mail", Lead));
        Assert.Equal(("Anna", "by mail"), _book.Get<AgreementDesk, AgreementView>(d => d.Find("friends")!).Versions[0].Acceptances.Select(a => (a.Payee, a.Note)).Single());
        Assert.Equal("Accepting", Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.Accept(version, "anna", new DateOnly(2026, 9, 3), "", Lead))).Field);
        Assert.Equal("AcceptedOn", Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.Accept(version, "ines", new DateOnly(2026, 12, 1), "", Lead))).Field);
        Assert.Throws<Microsoft.Data.Sqlite.SqliteException>(() => _book.Do<BookDbContext>(db => db.Acceptances.ExecuteDelete()));
    }

    [Fact]
    public void Ending_an_agreement_ends_it_for_everybody()
    {
        _book.ImportOrders(Row("A"), Row("B", "2026-10-20"));
        _book.PutOn("art", "anna");
        Assert.Equal(2, _book.Get<AgreementDesk, int>(d => d.End("art", new DateOnly(2026, 10, 10), Lead)));
        _book.Recalculate();
        Assert.Equal((2000, 2000), (_book.Owed("ines"), _book.Owed("anna")));
    }

    [Fact]
    public void A_payee_sees_the_step_they_stand_on_and_what_is_missing_to_the_next()
    {
        _book.Publish(Draft("Friends", Basis.Referral, "10") with
        {
            From = new DateOnly(2026, 9, 1),
            Terms = [new TermDraft { Cases = [new CaseDraft { Sales = "500", Percent = "20", Window = ProgressWindow.Month }, new CaseDraft { Sales = "150", Percent = "12", Window = ProgressWindow.Month }, new CaseDraft { Percent = "10" }] }],
        }, "friends");
        Assert.Equal("12 % of the share base, after sales of €150 this month: €150.00 to go", Ladder().Next);
        _book.ImportOrders(Row("A", "2026-10-02", "ANNA"), Row("B", "2026-10-03", "ANNA"));
        _book.Recalculate();
        Assert.Equal(("2 orders, sales of €200.00, earnings of €20.00 this month", "12 % of the share base"), (Ladder().Reached, Ladder().Now));
        Assert.Equal("20 % of the share base, after sales of €500 this month: €300.00 to go", Ladder().Next);
        // On the €20.00 earned in 30 days: 20 % is two thirds more than 12 %.
        Assert.Equal(13_33, Ladder().Brings!.Value.Minor);
        _book.MoveTo(new DateOnly(2026, 11, 1));
        Assert.Equal("10 % of the share base", Ladder().Now);

        LadderStanding Ladder() => Assert.Single(_book.Get<Standing, IReadOnlyList<LadderStanding>>(s => s.Of("anna")));
    }
}
