using EvenSplit.Books.Balances;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Exceptions;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>Changes of rules that once did not reach every order they must, each by itself.</summary>
public sealed class ReachedOrdersTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_recruiter_who_is_active_again_earns_on_the_orders_of_whom_they_recruited()
    {
        var bea = Add(new PayeeDraft { Name = "Bea" });
        Change(bea, d => d with { ActiveTo = new DateOnly(2026, 2, 1) });
        Change("anna", d => d with { RecruitedBy = bea });
        _book.Publish(Draft("Friends", Basis.Referral, "10", from: new DateOnly(2026, 3, 1)) with { RecruiterPercent = "5" }, "friends");
        _book.ImportOrders(Row("A", code: "ANNA"));
        Assert.Equal(0, _book.Owed(bea));
        Change(bea, d => d with { ActiveTo = null });
        Assert.Equal(500, _book.Owed(bea));
    }

    [Fact]
    public void Somebody_put_on_an_agreement_again_brings_the_renewals_that_came_meanwhile_and_theirs()
    {
        _book.ImportOrders(Row("A", "2026-06-05", code: "ANNA"));
        var membership = _book.Get<BookDbContext, int>(db => db.Memberships.Single(m => m.PayeeId == "anna").Id);
        _book.Do<AgreementDesk>(d => d.TakeOff(membership, new DateOnly(2026, 7, 1), Lead));
        _book.Recalculate();
        _book.ImportOrders(Row("B", "2026-08-05", origin: "A"), Row("C", "2026-09-05", origin: "B"));
        Assert.Equal(1000, _book.Owed("anna"));
        _book.Do<AgreementDesk>(d => d.PutOn("friends", "anna", new DateOnly(2026, 8, 1), Lead));
        _book.Recalculate();
        Assert.Equal(3000, _book.Owed("anna"));
    }

    [Fact]
    public void A_renewal_whose_payee_is_on_no_agreement_is_nobodys_and_raises_nothing()
    {
        _book.ImportOrders(Row("A", "2026-06-05", code: "ANNA"));
        var membership = _book.Get<BookDbContext, int>(db => db.Memberships.Single(m => m.PayeeId == "anna").Id);
        _book.Do<AgreementDesk>(d => d.TakeOff(membership, new DateOnly(2026, 7, 1), Lead));
        _book.Recalculate();
        _book.ImportOrders(Row("B", "2026-08-05", origin: "A"));
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.OrderExceptions.Count()));
    }

    [Fact]
    public void A_share_given_under_supply_is_worked_out_for_all_the_vendor_supplied()
    {
        _book.Publish(Draft("Supply", Basis.Supply, "50"));
        _book.PutOn("supply", "ines");
        _book.ImportOrders(Row("A", "2026-05-05", product: "print"), Row("B", "2026-10-05", product: "print"));
        var before = _book.Owed("ines");
        _book.Do<PersonalTerms>(t => Assert.Empty(t.Give(new ShareDraft { Payee = "ines", Agreement = "supply", Products = ["print"], From = new DateOnly(2026, 10, 1), Share = new CaseDraft { Percent = "60" } }, Lead)));
        _book.Recalculate();
        // By the agreement's own term before that day, by theirs since.
        Assert.Equal(5000 + 6000, _book.Owed("ines") - before);
    }

    [Fact]
    public void An_exception_let_stand_counts_no_more_when_a_later_import_works_its_order_out_again()
    {
        _book.Publish(Draft("Friends", Basis.Referral, "10", from: new DateOnly(2026, 2, 1)) with
        {
            Terms = [new TermDraft { Cases = [new CaseDraft { Sales = "100", Window = ProgressWindow.Month, Percent = "95" }, new CaseDraft { Percent = "90" }] }],
        }, "friends");
        _book.Recalculate();
        _book.ImportOrders(Row("B", "2026-10-10", "ANNA"));
        var october = new Period(202610);
        _book.Do<ExceptionQueue>(q => q.Accept(october, q.Find(october).Single().Cause, null, "A launch gift", Lead));
        Assert.Equal(0, WithExceptions());
        // The order before it lifts its payee a step, so that it is worked out again.
        _book.ImportOrders(Row("A", "2026-10-02", "ANNA"));
        Assert.Equal((1, 1L), (_book.Get<ExceptionQueue, int>(q => q.Find(october).Sum(c => c.Count)), WithExceptions()));

        long WithExceptions() => _book.Get<BookDbContext, long>(db => db.PeriodTotals.Sum(t => t.WithExceptions));
    }

    [Fact]
    public void An_order_paid_later_than_first_reported_does_not_count_itself_on_its_own_ladder()
    {
        Ladder();
        _book.ImportOrders(Paid("A", "2026-10-05"));
        Assert.Equal(1000, _book.Owed("anna"));
        _book.ImportOrders(Paid("A", "2026-10-09"));
        Assert.Equal(1000, _book.Owed("anna"));
    }

    [Fact]
    public void Orders_corrected_together_leave_nothing_stale_on_the_ladder_of_who_recruited()
    {
        var bea = Add(new PayeeDraft { Name = "Bea", Codes = "BEA" });
        _book.PutOn("friends", bea);
        Change("anna", d => d with { RecruitedBy = bea });
        _book.Publish(Draft("Friends", Basis.Referral, "10", from: new DateOnly(2026, 2, 1)) with
        {
            RecruiterPercent = "5",
            Terms = [new TermDraft { Cases = [new CaseDraft { Earned = "5", Percent = "50" }, new CaseDraft { Percent = "10" }] }],
        }, "friends");
        _book.Recalculate();
        _book.ImportOrders(Paid("A", "2026-10-05", "ANNA"), Paid("B", "2026-10-20", "BEA"));
        // What their recruit brought lifted them; then it turns out that nobody's code was on that order.
        _book.ImportOrders(Paid("A", "2026-10-06", ""), Paid("B", "2026-10-21", "BEA"));
        Assert.Equal(1000, _book.Owed(bea));
    }

    [Fact]
    public void What_is_paid_ahead_keeps_its_currency()
    {
        _book.Do<Advances>(a => Assert.Empty(a.Add("anna", new DateOnly(2026, 10, 1), "500", "launch", Lead)));
        var fault = Assert.Single(_book.Get<PayeeDesk, IReadOnlyList<FieldFault>>(d => d.Save("anna", d.Draft("anna")! with { PayoutCurrency = "JPY" }, Lead).Faults));
        Assert.Equal("PayoutCurrency", fault.Field);
        Assert.Contains("paid ahead in EUR", fault.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Unlocking_gives_entries_back_with_the_day_on_which_they_clear_now()
    {
        _book.ImportOrders(Row("A", "2026-10-05", "ANNA"));
        _book.MoveTo(new DateOnly(2026, 10, 31));
        var run = _book.Get<PayRunSteps, int>(s => s.Gather(new DateOnly(2026, 10, 31), Lead));
        _book.Do<PayRunSteps>(s => s.Lock(run, Lead));
        _book.Do<ProductDesk>(d => Assert.Empty(d.Save("guide", d.Draft("guide")! with { ReturnDays = 60 }, Lead)));
        _book.Recalculate();
        _book.Do<PayRunSteps>(s => s.Unlock(run, "once more", Lead));
        _book.Recalculate();
        _book.Do<PayRunSteps>(s => s.Lock(run, Lead));
        Assert.Equal(0, _book.In(_book.Run(run), "anna").Earned);
    }

    [Fact]
    public void A_variant_that_was_sold_or_that_terms_name_stays()
    {
        _book.Do<ProductDesk>(d => Assert.Empty(d.Save("print", d.Draft("print")! with { Variants = "a3, a4, a5" }, Lead)));
        _book.Publish(Draft("Large", Basis.Contribution, "5") with { Terms = [new TermDraft { ScopeKind = ScopeKind.Variant, ScopeId = "a4", Cases = [new CaseDraft { Percent = "5" }] }] });
        _book.Read(_book.Queue(ImportKind.Orders, "order_id,channel,placed_at,currency,line_id,product,variant,quantity,unit_price\nA,shop,2026-10-05T12:00:00Z,EUR,1,print,a3,1,10.00\n"));
        var faults = _book.Get<ProductDesk, IReadOnlyList<FieldFault>>(d => d.Save("print", d.Draft("print")! with { Variants = "" }, Lead));
        Assert.Equal(["The variant a3 stays: it was sold in 1 order.", "The variant a4 stays: a term of Large covers it."], faults.Select(f => f.Message));
        Assert.Empty(_book.Get<ProductDesk, IReadOnlyList<FieldFault>>(d => d.Save("print", d.Draft("print")! with { Variants = "a3, a4" }, Lead)));
    }

    [Fact]
    public void Codes_that_differ_in_more_than_ascii_case_are_two()
    {
        Change("anna", d => d with { Codes = "KÖNIG könig KöNIG anna ANNA" });
        Assert.Equal(["ANNA", "KÖNIG", "könig"], _book.Get<BookDbContext, string[]>(db => [.. db.PayeeCodes.Where(c => c.PayeeId == "anna").Select(c => c.Code)]).Order(StringComparer.Ordinal));
        _book.ImportOrders(Row("A", code: "könig"), Row("B", code: "kÖNIG"));
        Assert.Equal(2000, _book.Owed("anna"));
    }

    [Fact]
    public void A_membership_for_some_products_gives_nothing_on_others_and_reaches_the_sales_since()
    {
        _book.ImportOrders(Row("A", "2026-10-05", "ANNA"), Row("B", "2026-10-06", "ANNA", "print"), Row("C", "2026-10-20", "ANNA", "print"));
        var membership = _book.Get<BookDbContext, int>(db => db.Memberships.Single(m => m.PayeeId == "anna").Id);
        _book.Do<AgreementDesk>(d => d.ApproveFor(membership, ["guide"], new DateOnly(2026, 10, 15), Lead));
        _book.Recalculate();
        Assert.Equal(2000, _book.Owed("anna"));
        Assert.Equal([null, "The guide"], _book.Get<AgreementDesk, string?[]>(d => [.. d.Find("friends")!.Members.Select(m => m.Products is null ? null : string.Join(", ", m.Products))]));
        var cells = _book.Get<CoverageMap, CoverageView>(m => m.Of("", Basis.Referral, 1)).Rows.ToDictionary(r => r.Id, r => r.Cells[0]);
        Assert.NotNull(cells["guide"]);
        // As of the book's own day, before the approval.
        Assert.NotNull(cells["print"]);
        _book.MoveTo(new DateOnly(2026, 10, 31));
        Assert.Null(_book.Get<CoverageMap, CoverageView>(m => m.Of("", Basis.Referral, 1)).Rows.Single(r => r.Id == "print").Cells.SingleOrDefault());
        Assert.Equal("Products", Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.ApproveFor(membership, ["nothing"], new DateOnly(2026, 10, 1), Lead))).Field);
    }

    [Fact]
    public void A_time_on_an_agreement_is_not_drawn_out_over_the_next()
    {
        var membership = _book.Get<BookDbContext, int>(db => db.Memberships.Single(m => m.PayeeId == "anna").Id);
        _book.Publish(Draft("Others", Basis.Referral, "5"));
        _book.Do<AgreementDesk>(d => d.TakeOff(membership, new DateOnly(2026, 7, 1), Lead));
        _book.Do<AgreementDesk>(d => d.PutOn("others", "anna", new DateOnly(2026, 8, 1), Lead));
        Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.TakeOff(membership, new DateOnly(2026, 9, 1), Lead)));
        _book.Do<AgreementDesk>(d => d.TakeOff(membership, new DateOnly(2026, 8, 1), Lead));
    }

    [Fact]
    public void An_approval_reaches_orders_from_its_day_on_and_sent_twice_is_one()
    {
        _book.ImportOrders(Row("A", "2026-06-05", code: "ANNA"), Row("B", "2026-08-05", code: "ANNA"));
        Assert.Equal(2000, _book.Owed("anna"));
        var membership = _book.Get<BookDbContext, int>(db => db.Memberships.Single(m => m.PayeeId == "anna").Id);
        for (var times = 0; times < 2; times++) _book.Do<AgreementDesk>(d => d.ApproveFor(membership, [], new DateOnly(2026, 7, 1), Lead));
        _book.Recalculate();
        Assert.Equal(1000, _book.Owed("anna"));
        Assert.Equal([null, 0], _book.Get<BookDbContext, int?[]>(db => [.. db.Memberships.Where(m => m.PayeeId == "anna").OrderBy(m => m.From).AsEnumerable().Select(m => m.Products?.Count)]));
        Assert.Equal(1, _book.Get<BookDbContext, int>(db => db.Audit.Count(a => a.Action.StartsWith("approve"))));
        var refused = Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.ApproveFor(membership, ["guide"], new DateOnly(2026, 7, 1), Lead)));
        Assert.Contains("ends on 1 Jul 2026", refused.Message);
    }

    [Fact]
    public void An_approval_for_a_product_that_is_not_there_is_refused()
    {
        var membership = _book.Get<BookDbContext, int>(db => db.Memberships.Single(m => m.PayeeId == "anna").Id);
        var refused = Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(d => d.ApproveFor(membership, ["gide"], new DateOnly(2026, 7, 1), Lead)));
        Assert.Contains("'gide'", refused.Message);
        Assert.Equal([null], _book.Get<BookDbContext, List<string>?[]>(db => [.. db.Memberships.Where(m => m.PayeeId == "anna").Select(m => m.Products)]));
    }

    [Fact]
    public void The_policies_of_the_book_reach_every_order()
    {
        _book.ImportOrders(Row("A"));
        Change("anna", d => d with { CustomerKeys = "k" });
        _book.Do<BookPolicies>(p => p.Save(ClickModel.First, allowSelfReferral: true, Lead));
        Assert.Equal(1, _book.Get<RecalculateOrders, int>(r =>
        {
            r.RunAll();
            return (int)r.Last()!.Done;
        }));
    }

    private void Ladder()
    {
        _book.Publish(Draft("Friends", Basis.Referral, "10", from: new DateOnly(2026, 2, 1)) with { Terms = [new TermDraft { Cases = [new CaseDraft { Orders = 1, Percent = "20" }, new CaseDraft { Percent = "10" }] }] }, "friends");
        _book.Recalculate();
    }

    private static string Paid(string order, string paidOn, string code = "ANNA") => $"{order},shop,2026-10-01T12:00:00Z,{paidOn}T12:00:00Z,EUR,{code},,1,guide,1,100.00,";

    private string Add(PayeeDraft draft) => _book.Get<PayeeDesk, string>(d => d.Save(null, draft with { Role = PayeeRole.Affiliate, PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2026, 1, 1) }, Lead).Id!);

    private void Change(string payee, Func<PayeeDraft, PayeeDraft> change)
    {
        _book.Do<PayeeDesk>(d => Assert.Empty(d.Save(payee, change(d.Draft(payee)!), Lead).Faults));
        _book.Recalculate();
    }
}
