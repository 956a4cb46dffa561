using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Price plans held against the orders of a book, unit costs with their dates, and offer paths.</summary>
public sealed class SellingPlanTests : IDisposable
{
    private static readonly PlanDraft Rising = new() { Price = PriceKind.Stepping, StepUp = "1.00", StepEvery = 2, Ceiling = "26.00" };

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void An_order_off_plan_is_an_exception_with_what_was_expected()
    {
        Plan("guide", new PlanDraft { Price = PriceKind.Fixed });
        _book.ImportOrders(Row("GOOD", price: "24.00"), Row("BAD", price: "2.40"), Row("UNPAID", price: "1.00", paid: false));
        Assert.Equal([("BAD", PriceFault.Price, 2400L, 240L)], Found());
        var view = _book.Get<OpenOrder, OrderView>(o => o.Find("BAD")!);
        Assert.Equal("sold at €2.40 a unit where the plan says €24.00", PriceWords.Finding(Assert.Single(view.OffPlan), view.Currency));
        Assert.Equal(1, _book.Get<BookDbContext, long>(db => db.PeriodTotals.Sum(t => t.WithExceptions)));
        Assert.Equal(1, _book.Get<ProductDesk, int>(d => d.OffPlan("guide")));
    }

    [Fact]
    public void A_plan_set_later_judges_the_orders_there_are_and_one_taken_back_clears_them()
    {
        _book.ImportOrders(Row("A", price: "24.00"), Row("B", price: "23.00"));
        Assert.Empty(Found());
        Plan("guide", new PlanDraft { Price = PriceKind.Fixed });
        Assert.Equal(["B"], Found().Select(f => f.Order));
        Plan("guide", new PlanDraft());
        Assert.Empty(Found());
        Assert.Equal(0, _book.Get<BookDbContext, long>(db => db.PeriodTotals.Sum(t => t.WithExceptions)));
    }

    [Fact]
    public void A_sale_that_comes_late_moves_the_price_of_those_after_it()
    {
        Plan("guide", Rising);
        _book.ImportOrders(Row("A", "2026-10-05", price: "24.00"), Row("B", "2026-10-07", price: "24.00"), Row("C", "2026-10-08", price: "25.00"));
        Assert.Empty(Found());
        _book.ImportOrders(Row("LATE", "2026-10-06", price: "24.00"));
        Assert.Equal([("B", PriceFault.Price, 2500L, 2400L)], Found());
    }

    [Theory]
    [InlineData("UPDATE OrderExceptions SET Expected = Expected + 1", "Exceptions")]
    [InlineData("UPDATE OrderExceptions SET Actual = Actual + 1", "Exceptions")]
    [InlineData("UPDATE CountedSales SET PlacedAt = PlacedAt + 1 WHERE (Product, PlacedAt, OrderId, LineNumber) = (SELECT Product, PlacedAt, OrderId, LineNumber FROM CountedSales LIMIT 1)", "Counted sales")]
    [InlineData("UPDATE CountedDays SET Quantity = Quantity + 1 WHERE (Product, \"On\") = (SELECT Product, \"On\" FROM CountedDays LIMIT 1)", "Counted sales")]
    public void A_figure_of_a_finding_that_was_moved_is_found(string change, string found)
    {
        Plan("guide", Rising);
        _book.ImportOrders(Row("A", "2026-10-05", price: "24.00"), Row("B", "2026-10-07", price: "24.00"), Row("C", "2026-10-08", price: "24.00"));
        _book.ImportOrders(Row("LATE", "2026-10-06", price: "24.00"));
        Assert.Equal(0, Check().Differences);
        Assert.NotEqual(0, _book.Get<BookDbContext, int>(db => db.Database.ExecuteSqlRaw(change)));
        Assert.Equal([found], Check().Lines.Where(l => l.Differences > 0).Select(l => l.Name));
    }

    private CheckResult Check() => _book.Get<BookCheck, CheckResult>(c => c.Run());

    /// <summary>However the orders come in, each is judged by what was placed before it.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Findings_do_not_depend_on_the_order_of_arrival(int seed)
    {
        (int Day, int Quantity, int Price)[] sales = [(3, 1, 24), (4, 2, 24), (5, 1, 25), (6, 3, 25), (7, 1, 26), (8, 1, 26), (9, 2, 24)];
        new Random(seed).Shuffle(sales);
        Plan("guide", Rising with { AtMost = 9 });
        foreach (var batch in sales.Chunk(3)) _book.ImportOrders([.. batch.Select(s => Row($"D{s.Day}", $"2026-10-0{s.Day}", price: $"{s.Price}.00", quantity: $"{s.Quantity}"))]);
        Assert.Equal([("D6", PriceFault.Price, 2600, 2500), ("D9", PriceFault.SoldOut, 0, 2), ("D9", PriceFault.Price, 2600, 2400)], Found().OrderBy(f => f.Order).ThenBy(f => f.Fault == PriceFault.Price));
    }

    [Fact]
    public void Plans_that_make_no_sense_are_told_at_their_fields()
    {
        Assert.Equal(["Plans.Ceiling"], Save("guide", Rising with { Ceiling = "24.00" }));
        Assert.Equal(["Plans.StepUp", "Plans.StepEvery", "Plans.Ceiling"], Save("guide", new PlanDraft { Price = PriceKind.Stepping }));
        Assert.Equal(["Plans.Price"], Save("guide", new PlanDraft { AtMost = 3 }));
        Assert.Equal(["Plans.NotBefore"], Save("guide", new PlanDraft { Price = PriceKind.Fixed, NotBefore = new DateTime(2026, 3, 29, 1, 30, 0) }));
        Assert.Equal(["Plans.EveryMonths"], Save("guide", new PlanDraft { Payments = PaymentKind.Subscription }));
        Assert.Equal(["Plans.TrialDays"], Save("guide", new PlanDraft { Payments = PaymentKind.Once, TrialPrice = "1.00" }));
    }

    [Fact]
    public void A_unit_cost_holds_from_its_day_and_works_orders_since_out_again()
    {
        var draft = Draft("Art", Basis.Contribution, "20", from: new DateOnly(2026, 9, 1)) with { DeductCost = true };
        _book.Publish(draft, "art");
        _book.ImportOrders(Row("A", "2026-10-05"), Row("B", "2026-10-15"));
        Assert.Equal(2000 + 2000, _book.Owed("ines"));
        Assert.Empty(Cost(new DateOnly(2026, 10, 10), "10.00"));
        Assert.Equal(2000 + 1800, _book.Owed("ines"));
        Assert.Empty(Cost(new DateOnly(2026, 10, 10), "20.00"));
        Assert.Equal(2000 + 1600, _book.Owed("ines"));
        _book.Do<UnitCosts>(c => c.Remove("guide", new DateOnly(2026, 10, 10), Lead));
        _book.Recalculate();
        Assert.Equal(2000 + 2000, _book.Owed("ines"));
        Assert.Equal(["CostFrom", "CostIn"], Get(c => c.Add("guide", null, "1.00", "XXQ", Lead)).Select(f => f.Field));
        Assert.Equal(["Cost"], Get(c => c.Add("guide", new DateOnly(2026, 10, 1), "", "", Lead)).Select(f => f.Field));
    }

    [Fact]
    public void A_path_is_kept_as_drawn_and_one_that_leads_back_is_refused()
    {
        var draft = new PathDraft { Name = "After a guide", Steps = [new StepDraft { Product = "guide", OnAccept = 2 }, new StepDraft { Product = "print" }, new StepDraft()] };
        var (id, faults) = _book.Get<OfferPaths, (string? Id, IReadOnlyList<FieldFault> Faults)>(p => p.Save(null, draft, Lead));
        Assert.Empty(faults);
        var path = _book.Get<OfferPaths, OfferPath>(p => p.Find(id!)!);
        Assert.Equal([("guide", 1, null), ("print", (int?)null, (int?)null)], path.Steps.Select(s => (s.Product.Value, s.OnAccept, s.OnDecline)));
        var back = draft with { Steps = [draft.Steps[0], new StepDraft { Product = "print", OnDecline = 1 }] };
        Assert.Equal(["Steps[0].OnAccept"], _book.Get<OfferPaths, IReadOnlyList<FieldFault>>(p => p.Save(id, back, Lead).Faults).Select(f => f.Field));
        Assert.Equal(path.Steps, _book.Get<OfferPaths, OfferPath>(p => p.Find(id!)!).Steps);
        var lost = draft with { Steps = [new StepDraft { Product = "guide" }, new StepDraft { Product = "print" }] };
        Assert.Equal(["No answer leads to step 2, The print; nobody will ever see it."], _book.Get<OfferPaths, IReadOnlyList<string>>(p => p.Review(lost).Unusual));
        Assert.Equal(["Name", "Steps[0].Product"], _book.Get<OfferPaths, IReadOnlyList<FieldFault>>(p => p.Save(null, new PathDraft(), Lead).Faults).Select(f => f.Field));
    }

    private IReadOnlyList<FieldFault> Cost(DateOnly from, string amount)
    {
        var faults = Get(c => c.Add("guide", from, amount, "", Lead));
        _book.Recalculate();
        return faults;
    }

    private IReadOnlyList<FieldFault> Get(Func<UnitCosts, IReadOnlyList<FieldFault>> ask) => _book.Get<UnitCosts, IReadOnlyList<FieldFault>>(ask);

    private void Plan(string product, PlanDraft plans) => Plan(_book, product, plans);

    private static void Plan(TestBook book, string product, PlanDraft plans)
    {
        book.Do<ProductDesk>(d => Assert.Empty(d.Save(product, d.Draft(product)! with { Plans = plans }, Lead)));
        book.Recalculate();
    }

    private string[] Save(string product, PlanDraft plans) =>
        [.. _book.Get<ProductDesk, IReadOnlyList<FieldFault>>(d => d.Save(product, d.Draft(product)! with { Plans = plans }, Lead)).Select(f => f.Field)];

    private (string Order, PriceFault Fault, long Expected, long Actual)[] Found() => Found(_book);

    private static (string Order, PriceFault Fault, long Expected, long Actual)[] Found(TestBook book) => book.Get<BookDbContext, (string, PriceFault, long, long)[]>(db =>
        [.. db.OrderExceptions.Where(e => e.Code == ExceptionCode.PriceOffPlan).Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { o.OrderId, e.Price, e.Expected, e.Actual }).OrderBy(e => e.OrderId).AsEnumerable()
            .Select(e => (e.OrderId, e.Price!.Value, e.Expected ?? -1, e.Actual ?? -1))]);
}
