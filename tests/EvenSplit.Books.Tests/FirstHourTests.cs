using EvenSplit.Books.Checking;
using EvenSplit.Books.Desk;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>A new book begins with a file of orders: what it names is collected, made and the rows go in.</summary>
public sealed class FirstHourTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    private (IReadOnlyList<FieldFault> Faults, int Taken) Make(NewProduct[] products, params NewCode[] codes) => Make(products, [], codes);

    private (IReadOnlyList<FieldFault> Faults, int Taken) Make(NewProduct[] products, NewTaker[] takers, NewCode[] codes) =>
        _book.Get<UnknownThings, (IReadOnlyList<FieldFault>, int)>(u => u.Make(products, takers, codes, Lead));

    [Fact]
    public void Products_and_codes_that_a_file_names_first_are_made_together_and_its_rows_go_in()
    {
        _book.ImportOrders(Row("A", product: "owl-box", price: "12.50", code: "PIA"), Row("B", product: "owl-box", price: "12.50"), Row("C", product: "moss_kit", code: "PIA"), Row("D", code: "PIA"));
        var products = _book.Get<UnknownThings, IReadOnlyList<UnknownProduct>>(u => u.Products());
        Assert.Equal([new UnknownProduct("owl-box", 2, "Owl box", "12.50"), new UnknownProduct("moss_kit", 1, "Moss kit", "100.00")], products);
        // Only D is in the book, and its code is nobody's.
        Assert.Equal([new UnknownCode("PIA", 1)], _book.Get<UnknownThings, IReadOnlyList<UnknownCode>>(u => u.Codes()));
        Assert.Contains("3 orders and refunds wait of 4, 2 products are not known, 1 code belongs to nobody", Step(FirstStepKind.Unknown).Missing, StringComparison.Ordinal);

        NewProduct owl = new() { Make = true, Id = "owl-box", Name = "Owl box", Price = "12.50" }, moss = new() { Make = true, Id = "moss_kit", Name = "", Price = "much" };
        NewCode pia = new() { Code = "PIA", Payee = UnknownThings.NewPayee, Name = "Pia" };
        Assert.Equal(["Products[1].Name", "Products[1].Price"], Make([owl, moss], pia).Faults.Select(f => f.Field).Order());
        Assert.Equal(2, _book.Get<UnknownThings, int>(u => u.Products().Count));

        (moss.Name, moss.Price) = ("Moss kit", "");
        Assert.Equal(3, Make([owl, moss], pia).Taken);
        Assert.Equal((4, 0), _book.Get<BookDbContext, (int, int)>(db => (db.Orders.Count(), db.Quarantine.Count(q => q.State == QuarantineState.Waiting))));
        Assert.Equal("pia", _book.Get<BookDbContext, string>(db => db.PayeeCodes.Single(c => c.Code == "PIA").PayeeId));
        Assert.Equal(new DateOnly(2026, 10, 5), _book.Get<BookDbContext, DateOnly>(db => db.Payees.Single(p => p.Id == "pia").ActiveFrom));
        Assert.True(Step(FirstStepKind.Unknown).IsDone);
        Assert.Equal(0, _book.Get<BookCheck, CheckResult>(c => c.Run()).Differences);
    }

    [Fact]
    public void Channels_and_processors_get_their_fees_where_a_figure_stands()
    {
        _book.Import(ImportKind.Orders, "order_id,channel,placed_at,paid_at,currency,processor,line_id,product,quantity,unit_price", ["A,fair-stall,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,quick-pay,1,guide,1,100.00", "B,own-shop,2026-10-05T12:00:00Z,2026-10-05T12:00:00Z,EUR,,1,guide,1,100.00"]);
        Assert.Equal([new UnknownTaker("fair-stall", true, 1), new UnknownTaker("own-shop", true, 1), new UnknownTaker("quick-pay", false, 1)], Takers());
        Assert.Contains("3 channels and processors have no fees yet", Step(FirstStepKind.Unknown).Missing, StringComparison.Ordinal);
        NewTaker stall = new() { Id = "fair-stall", IsChannel = true, Name = "The stall at the fair", Percent = "10" }, pay = new() { Id = "quick-pay", Percent = "2", Fixed = "much" };
        Assert.Equal("Takers[1].Fixed", Assert.Single(Make([], [stall, pay], []).Faults).Field);
        Assert.Equal(3, Takers().Count);
        pay.Fixed = "0.30";
        Assert.Empty(Make([], [stall, pay, new() { Id = "own-shop", IsChannel = true }], []).Faults);
        _book.Recalculate();
        Assert.Equal([new UnknownTaker("own-shop", true, 1)], Takers());
        Assert.Equal((1000, 230), _book.Get<BookDbContext, (long, long)>(db => (db.Orders.Single(o => o.OrderId == "A").ChannelFee, db.Orders.Single(o => o.OrderId == "A").ProcessingFee)));
        Assert.Equal("The stall at the fair", _book.Get<BookDbContext, string>(db => db.Channels.Single(c => c.Id == "fair-stall").Name));
    }

    private IReadOnlyList<UnknownTaker> Takers() => _book.Get<UnknownThings, IReadOnlyList<UnknownTaker>>(u => u.Takers());

    [Fact]
    public void The_steps_say_what_is_missing_and_end_with_the_first_run()
    {
        Assert.Equal("no order yet", Step(FirstStepKind.Sales).Missing);
        Assert.False(Step(FirstStepKind.Policies).IsDone);
        _book.Do<BookPolicies>(p => p.Save(ClickModel.First, false, Lead));
        Assert.True(Step(FirstStepKind.Policies).IsDone);
        _book.ImportOrders(Row("A", code: "ANNA"));
        Assert.All(new[] { FirstStepKind.Sales, FirstStepKind.Unknown, FirstStepKind.People, FirstStepKind.Agreements, FirstStepKind.Fees, FirstStepKind.LookOver }, kind => Assert.True(Step(kind).IsDone, kind.ToString()));
        _book.MoveTo(new DateOnly(2026, 11, 3));
        _book.Pay(new DateOnly(2026, 10, 31));
        Assert.Null(_book.Get<FirstHour, IReadOnlyList<FirstStep>?>(f => f.Find()));
    }

    private FirstStep Step(FirstStepKind kind) => _book.Get<FirstHour, IReadOnlyList<FirstStep>>(f => f.Find()!).Single(s => s.Kind == kind);
}
