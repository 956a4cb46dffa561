using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Personal terms given in one step, the split sheet and the coverage map, which all tell what the calculation does.</summary>
public sealed class SharesOfProductsTests : IDisposable
{
    private static readonly DateOnly October = new(2026, 10, 1);

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_share_given_comes_before_the_agreements_own_from_its_day_on()
    {
        _book.ImportOrders(Row("SEP", "2026-09-20"), Row("OCT", "2026-10-05"), Row("P", "2026-10-06", product: "print"));
        Assert.Empty(Give(new ShareDraft { Payee = "ines", Agreement = "art", Products = ["guide"], From = October, Share = new CaseDraft { Percent = "30" } }));
        Assert.Equal(2000 + 3000 + 2000, Owed("ines"));
    }

    [Fact]
    public void A_second_share_follows_the_first_and_ending_it_gives_the_agreement_back()
    {
        _book.ImportOrders(Row("A", "2026-10-05"), Row("B", "2026-10-15"), Row("C", "2026-10-25"));
        Give(new ShareDraft { Payee = "ines", Agreement = "art", Products = ["guide"], From = October, Share = new CaseDraft { Percent = "30" } });
        Give(new ShareDraft { Payee = "ines", Agreement = "art", Products = ["guide"], From = new DateOnly(2026, 10, 10), Share = new CaseDraft { Percent = "40" } });
        Assert.Equal(3000 + 4000 + 4000, Owed("ines"));
        var terms = _book.Get<PersonalTerms, IReadOnlyList<PersonalTermView>>(p => p.OfPayee("ines"));
        Assert.Equal([new DateOnly(2026, 10, 10), (DateOnly?)null], terms.Select(t => t.To));
        Assert.Equal("Of The guide: 40 % of the share base.", terms[1].Says);
        _book.Do<PersonalTerms>(p => p.End(terms[1].Id, new DateOnly(2026, 10, 20), Lead));
        Assert.Equal(3000 + 4000 + 2000, Owed("ines"));
    }

    [Fact]
    public void A_term_of_a_payees_own_can_ask_for_anything_and_ends_by_itself()
    {
        _book.ImportOrders(Row("A", "2026-10-05"), Row("B", "2026-10-12"), Row("C", "2026-10-25"));
        Assert.Empty(Write(new PersonalTermDraft
        {
            Agreement = "art",
            From = October,
            To = new DateOnly(2026, 10, 20),
            Term = new TermDraft { Cases = [new CaseDraft { Percent = "50", Orders = 1 }, new CaseDraft { Percent = "10" }] },
        }));
        Assert.Equal(1000 + 5000 + 2000, Owed("ines"));
        Assert.Equal("Of everything: after 1 order so far, 50 % of the share base; otherwise 10 %.", _book.Get<PersonalTerms, string>(p => p.OfPayee("ines").Single().Says));
    }

    [Fact]
    public void What_is_wrong_with_a_term_of_a_payees_own_is_named_at_its_field_and_nothing_changes()
    {
        _book.ImportOrders(Row("A", "2026-10-05"));
        var faults = Write(new PersonalTermDraft
        {
            Agreement = "art",
            From = October,
            To = October,
            Term = new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "unicorn", Cases = [new CaseDraft { Percent = "120" }] },
        });
        Assert.Equal(["To", "Term.ScopeId", "Term.Cases[0].Percent"], faults.Select(f => f.Field));
        Assert.Equal(["Agreement", "From"], Write(new PersonalTermDraft { Term = new TermDraft { Cases = [new CaseDraft { Percent = "5" }] } }).Select(f => f.Field));
        Assert.Equal("Agreement", Assert.Single(Write(new PersonalTermDraft { Agreement = "art", From = October, Term = new TermDraft { Cases = [new CaseDraft { Percent = "5" }] } }, "anna")).Field);
        Assert.Equal(2000, Owed("ines"));
    }

    [Fact]
    public void Who_is_not_on_the_agreement_is_put_on_it_and_many_products_go_in_one_step()
    {
        _book.ImportOrders(Row("A"), Row("B", product: "print"));
        Assert.Empty(Give(new ShareDraft { Payee = "anna", Agreement = "art", Products = ["guide", "print"], From = October, Share = new CaseDraft { Percent = "5", PerUnit = "1.00" } }));
        Assert.Equal(2 * (500 + 100), Owed("anna"));
    }

    [Fact]
    public void What_is_missing_is_named_at_its_field_and_nothing_is_given()
    {
        Assert.Equal(["Agreement", "From", "Payee", "Products"], Give(new ShareDraft()).Select(f => f.Field).Order(StringComparer.Ordinal));
        Assert.Equal(["Share.Percent"], Give(new ShareDraft { Payee = "ines", Agreement = "art", Products = ["guide"], From = October }).Select(f => f.Field));
        Assert.Equal(["Share.Percent"], Give(new ShareDraft { Payee = "ines", Agreement = "art", Products = ["guide", "print"], From = October, Share = new CaseDraft { Percent = "101" } }).Select(f => f.Field));
        Assert.Equal(["Products"], Give(new ShareDraft { Payee = "ines", Agreement = "art", Products = ["guide", "spade"], From = October, Share = new CaseDraft { Percent = "10" } }).Select(f => f.Field).Distinct().Where(f => f == "Products"));
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.PersonalTerms.Count()));
    }

    [Fact]
    public void Under_supply_the_payee_becomes_the_vendor_unless_there_is_another()
    {
        _book.Publish(Draft("Makers", Basis.Supply, "50"));
        Assert.Empty(Give(new ShareDraft { Payee = "ines", Agreement = "makers", Products = ["print"], From = October, Share = new CaseDraft { Percent = "60" } }));
        _book.ImportOrders(Row("A", product: "print"));
        Assert.Equal(6000 + 2000, Owed("ines"));
        Assert.Equal("Payee", Assert.Single(Give(new ShareDraft { Payee = "anna", Agreement = "makers", Products = ["guide", "print"], From = October, Share = new CaseDraft { Percent = "60" } })).Field);
        Assert.Null(_book.Get<BookDbContext, string?>(db => db.Products.Single(p => p.Id == "guide").Vendor));
    }

    [Fact]
    public void The_split_sheet_makes_up_the_hundred()
    {
        var alone = Sheet("guide", null);
        Assert.Equal(("ines", 2000L), (alone.Rows.Single().PayeeId, alone.Rows.Single().Amount));
        var brought = Sheet("guide", "friends");
        Assert.Equal([("Whoever brought it", 1000L), ("Ines", 2000L)], brought.Rows.Select(r => (r.Payee, r.Amount)));
        Assert.Equal(10_000, brought.Ribbon.Parts.Sum(p => p.Amount));
        Assert.Equal(7000, brought.Ribbon.Parts.Single(p => p.Party == Party.House).Amount);
        Assert.Empty(brought.Warnings);
    }

    [Fact]
    public void Giving_away_more_than_there_is_is_said_before_it_happens()
    {
        Give(new ShareDraft { Payee = "ines", Agreement = "art", Products = ["guide"], From = new DateOnly(2026, 9, 1), Share = new CaseDraft { Percent = "80", PerUnit = "6.00" } });
        var sheet = Sheet("guide", "friends");
        Assert.Equal(10_500, sheet.Rows.Single(r => r.PayeeId == "ines").Amount);
        Assert.True(sheet.Rows.Single(r => r.PayeeId == "ines").IsPersonal);
        Assert.Contains(sheet.Warnings, w => w.Contains("over-committed", StringComparison.Ordinal));
    }

    [Fact]
    public void The_map_names_what_governs_and_what_it_comes_before()
    {
        _book.Do<ProductDesk>(d => Assert.Empty(d.Save(null, new ProductDraft { Id = "pin", Name = "A pin", Collections = "small" }, Lead)));
        _book.Publish(Draft("Art", Basis.Contribution, "20", from: new DateOnly(2026, 9, 1)) with
        {
            Terms =
            [
                new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "guide", Cases = [new CaseDraft { Percent = "9", OrderValue = "50" }, new CaseDraft { Percent = "7" }] },
                new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "small", Cases = [new CaseDraft { GoesTo = RateGoesTo.Nobody }] },
            ],
        }, "art");
        var map = _book.Get<CoverageMap, CoverageView>(m => m.Of("", null, 1));
        Assert.Equal(["Friends", "Art"], map.Columns.Select(c => c.Name));
        var cells = map.Rows.ToDictionary(r => r.Id, r => r.Cells[1]);
        Assert.Equal(("9 % +", ScopeKind.Product), (cells["guide"]!.Rate, cells["guide"]!.Scope));
        Assert.Equal("nothing", cells["pin"]!.Rate);
        Assert.Null(cells["print"]);
        Assert.Equal(["A pin"], _book.Get<CoverageMap, CoverageView>(m => m.Of("small", Basis.Contribution, 1)).Rows.Select(r => r.Name));
    }

    [Fact]
    public void A_product_changed_works_its_orders_out_again_only_where_that_matters()
    {
        _book.ImportOrders(Row("A"));
        _book.Publish(Draft("Books", Basis.Contribution, "10") with { Terms = [new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "books", Cases = [new CaseDraft { Percent = "10" }] }] });
        _book.PutOn("books", "anna");
        _book.Recalculate();
        var draft = _book.Get<ProductDesk, ProductDraft>(d => d.Draft("guide")!);
        Assert.Empty(_book.Get<ProductDesk, IReadOnlyList<FieldFault>>(d => d.Save("guide", draft with { Name = "Guide, new", Price = "30.00" }, Lead)));
        Assert.False(_book.Get<BookDbContext, bool>(db => db.Recalculations.Any(r => !r.IsFinished)));
        Assert.Empty(_book.Get<ProductDesk, IReadOnlyList<FieldFault>>(d => d.Save("guide", draft with { Collections = "books" }, Lead)));
        Assert.Equal(1000, Owed("anna"));
    }

    private IReadOnlyList<FieldFault> Write(PersonalTermDraft draft, string payee = "ines") =>
        _book.Get<PersonalTerms, IReadOnlyList<FieldFault>>(p => p.Write(payee, draft, Lead));

    private IReadOnlyList<FieldFault> Give(ShareDraft draft)
    {
        var faults = _book.Get<PersonalTerms, IReadOnlyList<FieldFault>>(p => p.Give(draft, Lead));
        _book.Recalculate();
        return faults;
    }

    private SplitSheetView Sheet(string product, string? brought) => _book.Get<SplitSheet, SplitSheetView>(s => s.Of(product, brought)!);

    private long Owed(string payee)
    {
        _book.Recalculate();
        return _book.Owed(payee);
    }
}
