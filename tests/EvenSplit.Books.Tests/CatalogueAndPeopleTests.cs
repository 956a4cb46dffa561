using EvenSplit.Books.Balances;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

public sealed class CatalogueAndPeopleTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    private IReadOnlyList<FieldFault> Save(string? id, PayeeDraft draft) => _book.Get<PayeeDesk, (string?, IReadOnlyList<FieldFault> Faults)>(d => d.Save(id, draft, Lead)).Faults;

    private PayeeDraft Anna => _book.Get<PayeeDesk, PayeeDraft>(d => d.Draft("anna")!);

    [Fact]
    public void A_code_belongs_to_one_payee_whatever_its_case()
    {
        var fault = Assert.Single(Save("ines", _book.Get<PayeeDesk, PayeeDraft>(d => d.Draft("ines")!) with { Codes = "new anna" }));
        Assert.Equal(("Codes", "The code ANNA belongs to Anna already."), (fault.Field, fault.Message));
    }

    [Fact]
    public void A_changed_payee_is_what_was_typed()
    {
        Assert.Empty(Save("anna", Anna with { Codes = "ANNA SPRING", Minimum = "20.00", WithholdingPercent = "15 %", HoldDays = 45 }));
        var again = Anna;
        Assert.Equal(("20.00", "15 %", 45), (again.Minimum, again.WithholdingPercent, again.HoldDays));
        Assert.Equal(["ANNA", "SPRING"], again.Codes.Split(' ').Order(StringComparer.Ordinal));
    }

    [Fact]
    public void A_code_given_later_counts_for_the_orders_that_had_it()
    {
        _book.ImportOrders(Row("A", code: "SPRING"));
        Assert.Equal(0, _book.Owed("anna"));
        Assert.Empty(Save("anna", Anna with { Codes = "ANNA SPRING" }));
        _book.Recalculate();
        Assert.Equal(1000, _book.Owed("anna"));
    }

    [Fact]
    public void Who_has_been_in_a_run_keeps_their_currency()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        _book.MoveTo(new DateOnly(2026, 11, 1));
        _book.Pay(new DateOnly(2026, 10, 31));
        Assert.Equal("PayoutCurrency", Assert.Single(Save("anna", Anna with { PayoutCurrency = "USD" })).Field);
    }

    [Fact]
    public void Names_make_ids_and_two_of_a_name_stay_apart()
    {
        Assert.Empty(Save(null, Anna with { Name = "Anna", Codes = "" }));
        Assert.Empty(Save(null, Anna with { Name = "Ça & Là", Codes = "" }));
        Assert.Equal(["a-l", "anna", "anna-2", "ines"], _book.Get<BookDbContext, string[]>(db => db.Payees.Select(p => p.Id).Order().ToArray()));
    }

    [Fact]
    public void A_payee_opened_shows_agreements_runs_and_adjustments()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 9), "5", "EUR", AdjustmentKind.Bonus, "Well done", Lead));
        _book.MoveTo(new DateOnly(2026, 11, 1));
        _book.Pay(new DateOnly(2026, 10, 31));
        var view = _book.Get<PayeeDesk, PayeeView>(d => d.Find("anna")!);
        Assert.Equal("Friends", Assert.Single(view.Agreements).Name);
        Assert.Equal((1500, RemittanceReason.Paid), (Assert.Single(view.Runs).Paid.Minor, view.Runs[0].Reason));
        Assert.Equal("Well done", Assert.Single(view.Adjustments).Note);
    }

    [Theory]
    [InlineData("guide", "Another", "Id")]
    [InlineData("", "Another", "Id")]
    [InlineData("new", "", "Name")]
    public void A_product_needs_an_id_of_its_own_and_a_name(string id, string name, string field) =>
        Assert.Equal(field, Assert.Single(_book.Get<ProductDesk, IReadOnlyList<FieldFault>>(d => d.Save(null, new ProductDraft { Id = id, Name = name }, Lead))).Field);

    [Fact]
    public void Products_are_listed_with_collections_and_who_shares_in_them()
    {
        Assert.Empty(_book.Get<ProductDesk, IReadOnlyList<FieldFault>>(d => d.Save(null, new ProductDraft { Id = "box", Name = "A box", Price = "34.00", UnitCost = "12.5", ReturnDays = 30, Collections = "wood, garden ,wood" }, Lead)));
        var box = Assert.Single(_book.Get<ProductDesk, IReadOnlyList<ProductRow>>(d => d.List("wood")));
        Assert.Equal((3400, 1250, 30), (box.Price.Minor, box.UnitCost!.Value.Minor, box.ReturnDays));
        Assert.Equal(["garden", "wood"], box.Collections.Order(StringComparer.Ordinal));
        Assert.Equal(["Ines"], box.Governing);
        Assert.Equal([("garden", 1), ("wood", 1)], _book.Get<ProductDesk, IReadOnlyList<(string, int)>>(d => d.Collections()));
    }

    [Theory]
    [InlineData("0", "Amount")]
    [InlineData("abc", "Amount")]
    [InlineData("1.234", "Amount")]
    public void An_adjustment_needs_an_amount(string amount, string field) => Assert.Equal(
        field,
        Assert.Throws<RefusedException>(() => _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 9), amount, "EUR", AdjustmentKind.Bonus, "Note", Lead))).Field);

    [Fact]
    public void A_minus_may_be_typed_either_way_and_taken_back_before_the_lock()
    {
        _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 9), "−2.50", "EUR", AdjustmentKind.Recharge, "Note", Lead));
        Assert.Equal(-250, _book.Get<Adjustments, long>(a => a.Of("anna").Single().Amount));
        _book.Do<Adjustments>(a => a.TakeBack(1, Lead));
        Assert.Empty(_book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Of("anna")));
    }

    [Fact]
    public void Everything_done_is_in_the_log_with_who_did_it()
    {
        _book.ImportOrders(Row("A", code: "ANNA"));
        _book.MoveTo(new DateOnly(2026, 11, 1));
        _book.Pay(new DateOnly(2026, 10, 31));
        var log = _book.Get<BookDbContext, string[]>(db => db.Audit.OrderBy(a => a.Id).AsEnumerable().Select(a => $"{a.By} {a.Action}").ToArray());
        Assert.Equal(["Lena import", "Lena gather", "Lena lock", "Aron look at 4 marks in", "Aron approve"], log[^5..]);
    }
}
