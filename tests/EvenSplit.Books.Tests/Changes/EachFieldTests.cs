using System.Reflection;
using System.Text;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Events;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>
/// Every property that an order or refund has, found by looking at its type, so that a new one cannot be forgotten: it is part of the fingerprint, has a column,
/// and goes through file, event, database and scenario as it is.
/// </summary>
public sealed class EachFieldTests
{
    private static readonly Order Plain = new()
    {
        Id = new OrderId("o"),
        Channel = new ChannelId("shop"),
        Currency = Currency.Of("EUR"),
        PlacedAt = At(1),
        PaidAt = At(2),
        Processor = new ProcessorId("card"),
        Customer = CustomerKind.New,
        CustomerKey = "k",
        Origin = new OrderId("first"),
        Discount = 10,
        Shipping = 500,
        ShippingTax = 50,
        ProcessingFee = 30,
        ChannelFee = 20,
        Rebate = 10,
        ManualPayee = new PayeeId("p"),
        Codes = ["ONE", "TWO"],
        Lines = [Line("1"), Line("2")],
    };

    private static readonly Refund PlainRefund = new()
    {
        Id = new RefundId("r"),
        Order = Plain.Id,
        At = At(5),
        Kind = RefundKind.Refund,
        Shipping = 10,
        ShippingTax = 5,
        ProcessingFeeReturned = 3,
        DisputeFee = 2,
        Lines = [new RefundLine(new LineId("1"), 1, 100, 20)],
    };

    /// <summary>What comes in at other doors than a shop's report.</summary>
    private static readonly string[] NotReported = [nameof(Order.Id), nameof(Order.SignedOffAt), nameof(Order.Clicks)];

    public static TheoryData<string> OfOrder => new(Settable(typeof(Order)));

    public static TheoryData<string> OfLine => new(Settable(typeof(OrderLine)));

    public static TheoryData<string> OfRefund => new(Settable(typeof(Refund)));

    public static TheoryData<string> OfRefundLine => new(Settable(typeof(RefundLine)));

    [Theory, MemberData(nameof(OfOrder))]
    public void A_field_of_an_order_is_kept_everywhere(string property) => IsKept(With(Plain, property), isReported: !NotReported.Contains(property));

    [Theory, MemberData(nameof(OfLine))]
    public void A_field_of_a_line_is_kept_everywhere(string property) => IsKept(Plain with { Lines = [With(Plain.Lines[0], property), Plain.Lines[1]] }, isReported: true);

    [Theory, MemberData(nameof(OfRefund))]
    public void A_field_of_a_refund_is_kept_everywhere(string property) => IsKept(With(PlainRefund, property));

    [Theory, MemberData(nameof(OfRefundLine))]
    public void A_field_of_a_refunded_line_is_kept_everywhere(string property) => IsKept(PlainRefund with { Lines = [With(PlainRefund.Lines[0], property)] });

    [Fact]
    public void Each_column_of_an_order_is_a_field_of_its_event_and_a_cell_of_the_form_is_a_column()
    {
        foreach (var column in OrderColumns.All.Where(c => c.Name is not "order_id"))
        {
            var value = column.Name == "coupon_codes" ? "[\"x\"]" : "\"x\"";
            var body = column.IsOfLine ? $"{{\"type\":\"order\",\"data\":{{\"order_id\":\"o\",\"lines\":[{{\"{column.Name}\":{value}}}]}}}}" : $"{{\"type\":\"order\",\"data\":{{\"order_id\":\"o\",\"{column.Name}\":{value},\"lines\":[{{}}]}}}}";
            Assert.Equal("x", SalesEventJson.Read(Encoding.UTF8.GetBytes(body)).Rows[0][column.Name]);
        }
        // A file that the book writes does not say what it needs only to take one in.
        Assert.Equal(SalesFiles.OrderColumns.Append("visitor").Append("product_name").Order(StringComparer.Ordinal), OrderColumns.All.Select(c => c.Name).Order(StringComparer.Ordinal));
    }

    /// <summary>A fingerprint that books keep must come out the same in every version.</summary>
    [Fact]
    public void The_fingerprint_is_the_one_that_books_have() => Assert.Equal(2264543971739740019, OrderFacts.HashOf(Plain));

    private static void IsKept(Order changed, bool isReported)
    {
        Assert.NotEqual(Text(Plain), Text(changed));
        Assert.Equal(isReported, OrderFacts.HashOf(Plain) != OrderFacts.HashOf(changed));
        var kept = OrderFacts.ToOrder(OrderFacts.ToRecord(changed, BookTime.Of("UTC")));
        Assert.Equal(Text(changed), Text(kept));
        using var file = new MemoryStream();
        ScenarioWriter.Write(Facts(changed, []), file);
        file.Position = 0;
        Assert.Equal(Text(changed), Text(ScenarioReader.Read(file).Orders.Single(o => o.Id == changed.Id)));
        if (!isReported) return;
        using var csv = new CsvTable(new MemoryStream(Encoding.UTF8.GetBytes(SalesFiles.Orders(changed))), OrdersCsv.Columns);
        var read = Assert.Single(OrdersCsv.Read(csv.Rows(), Rules).ToArray());
        Assert.Empty(read.Faults);
        Assert.Equal(Text(changed), Text(read.Value!));
    }

    private static void IsKept(Refund changed)
    {
        Assert.NotEqual(Text(PlainRefund), Text(changed));
        var (was, record) = (OrderFacts.ToRecord(PlainRefund, 1, 1), OrderFacts.ToRecord(changed, 1, 1));
        if (changed.Id == PlainRefund.Id) Assert.NotEqual(was.FactsHash, record.FactsHash);
        Assert.Equal(Text(changed), Text(OrderFacts.ToRefund(record, changed.Order)));
        if (changed.Order != Plain.Id) return;
        using var file = new MemoryStream();
        ScenarioWriter.Write(Facts(Plain, [changed]), file);
        file.Position = 0;
        Assert.Equal(Text(changed), Text(ScenarioReader.Read(file).Refunds.Single()));
        using var csv = new CsvTable(new MemoryStream(Encoding.UTF8.GetBytes(SalesFiles.Refunds((changed, Plain.Currency)))), RefundsCsv.Columns);
        var read = Assert.Single(RefundsCsv.Read(csv.Rows(), BookTime.Of("UTC"), _ => Plain).ToArray());
        Assert.Empty(read.Faults);
        Assert.Equal(Text(changed), Text(read.Value!));
    }

    private static readonly Rulebook Rules = new(
        new BookPolicy(Currency.Of("EUR"), BookTime.Of("UTC"), ClickModel.Last), new ExchangeRates(Currency.Of("EUR"), []), [], [],
        [new Product { Id = new ProductId("guide"), CostCurrency = Currency.Of("EUR"), Variants = [new VariantId("small"), new VariantId("other")] }, new Product { Id = new ProductId("other"), CostCurrency = Currency.Of("EUR") }],
        [.. new[] { "p", "other" }.Select(id => new Payee { Id = new PayeeId(id), Role = PayeeRole.Affiliate, PayoutCurrency = Currency.Of("EUR"), ActiveFrom = new DateOnly(2026, 1, 1) })], []);

    private static Facts Facts(Order order, IReadOnlyList<Refund> refunds) => new(Rules, [order], refunds, [], []);

    private static IEnumerable<string> Settable(Type type) => type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.SetMethod is not null).Select(p => p.Name);

    /// <summary>A copy with one property of another value.</summary>
    private static T With<T>(T of, string property) where T : class
    {
        var copy = (T)typeof(T).GetMethod("<Clone>$")!.Invoke(of, null)!;
        var info = typeof(T).GetProperty(property)!;
        info.SetValue(copy, of is RefundLine && info.PropertyType == typeof(LineId) ? new LineId("2") : Other(info.GetValue(of), info.PropertyType));
        // Where a product has to change, its variant goes with it.
        return copy is OrderLine { Product.Value: "other" } line ? (T)(object)(line with { Variant = null }) : copy;
    }

    private static object? Other(object? value, Type type)
    {
        type = Nullable.GetUnderlyingType(type) ?? type;
        return value switch
        {
            bool truth => !truth,
            int number => number + 1,
            long number => number + 1,
            string text => text + "x",
            Currency => Currency.Of("USD"),
            DateTimeOffset at => at.AddMinutes(1),
            CustomerKind => CustomerKind.Returning,
            RefundKind => RefundKind.Chargeback,
            IReadOnlyList<string> codes => new[] { codes[0] },
            IReadOnlyList<Click> => new[] { new Click(new PayeeId("p"), At(0)) },
            IReadOnlyList<OrderLine> lines => new[] { lines[1], lines[0] },
            IReadOnlyList<RefundLine> => Array.Empty<RefundLine>(),
            LineId => new LineId("2x"),
            null when type == typeof(DateTimeOffset) => At(3),
            _ => Activator.CreateInstance(type, type == typeof(OrderId) ? "another" : "other"),
        };
    }

    private static OrderLine Line(string id) => new() { Id = new LineId(id), Product = new ProductId("guide"), Variant = new VariantId("small"), Quantity = 2, UnitPrice = 1000, Discount = 10, Tax = 30, PaymentNumber = 2 };

    private static DateTimeOffset At(int hour) => new(2026, 3, 1, hour, 0, 0, TimeSpan.Zero);

    private static string Text(Order order)
    {
        using var file = new StringWriter();
        foreach (var info in typeof(Order).GetProperties().Where(p => p.SetMethod is not null && p.PropertyType.IsGenericType is false)) file.Write($"{info.Name}={info.GetValue(order)};");
        foreach (var info in typeof(Order).GetProperties().Where(p => Nullable.GetUnderlyingType(p.PropertyType) is not null)) file.Write($"{info.Name}={info.GetValue(order)};");
        file.Write(string.Join(' ', order.Codes) + ";" + string.Join(' ', order.Clicks) + ";" + string.Join(' ', order.Lines));
        return file.ToString();
    }

    private static string Text(Refund refund) => $"{refund with { Lines = [] }}{string.Join(' ', refund.Lines)}";
}
