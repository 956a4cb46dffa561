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

    private (IReadOnlyList<FieldFault> Faults, int Taken) Make(NewProduct[] products, params NewCode[] codes) =>
        _book.Get<UnknownThings, (IReadOnlyList<FieldFault>, int)>(u => u.Make(products, codes, Lead));

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
