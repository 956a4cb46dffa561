using System.Text;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Tests;

public sealed class OrdersCsvTests
{
    private const string Header = "order_id,channel,placed_at,paid_at,currency,line_id,product,quantity,unit_price,prices_include_tax,line_tax,line_discount";

    private static readonly Rulebook Rules = new(
        new BookPolicy(Currency.Of("EUR"), BookTime.Of("Europe/Dublin"), ClickModel.Last),
        new ExchangeRates(Currency.Of("EUR"), []), [], [],
        [new Product { Id = new ProductId("guide"), CostCurrency = Currency.Of("EUR") }], [], []);

    private static List<RowGroup<Order>> Read(string csv, Encoding? encoding = null)
    {
        var bytes = (encoding ?? new UTF8Encoding(false)).GetPreamble().Concat((encoding ?? new UTF8Encoding(false)).GetBytes(csv)).ToArray();
        using var table = new CsvTable(new MemoryStream(bytes), OrdersCsv.Columns);
        return OrdersCsv.Read(table.Rows(), Rules).ToList();
    }

    private static string Row(string quantity = "1", string price = "24.00", string product = "guide", string order = "A", string line = "1") =>
        $"{order},shop,2026-10-03T12:00:00Z,2026-10-03T12:01:00Z,EUR,{line},{product},{quantity},{price},no,0,";

    [Fact]
    public void Lines_of_one_order_come_together()
    {
        var groups = Read($"{Header}\n{Row()}\n{Row(line: "2", price: "1.50")}\n{Row(order: "B")}\n");
        Assert.Equal(["A", "B"], groups.Select(g => g.Id));
        Assert.Equal([2400, 150], groups[0].Value!.Lines.Select(l => l.UnitPrice));
    }

    [Theory]
    [InlineData(";")]
    [InlineData("\t")]
    public void Reads_other_separators_any_case_and_a_byte_order_mark(string separator)
    {
        var csv = $"{Header.ToUpperInvariant()}\r\n{Row()}\r\n".Replace(",", separator, StringComparison.Ordinal);
        Assert.NotNull(Assert.Single(Read(csv, new UTF8Encoding(true))).Value);
    }

    [Theory]
    [InlineData("-2", "24.00", "guide", "quantity '-2': expected a whole number of 1 or more")]
    [InlineData("1", "12.345", "guide", "unit_price '12.345': expected at most 2 decimals in EUR")]
    [InlineData("1", "", "guide", "unit_price is empty; expected an amount with a decimal point, such as 12.50")]
    [InlineData("1", "24.00", "spade", "product 'spade': expected a product in the catalogue")]
    public void Names_column_value_and_what_was_expected(string quantity, string price, string product, string fault)
    {
        var group = Assert.Single(Read($"{Header}\n{Row(quantity, price, product)}\n"));
        Assert.Null(group.Value);
        var only = Assert.Single(group.Faults);
        Assert.Equal(fault, only.ToString());
        Assert.Equal(2, only.Row);
    }

    [Fact]
    public void Every_fault_of_a_row_is_named() =>
        Assert.Equal(["product", "quantity"], Assert.Single(Read($"{Header}\n{Row("x", product: "spade")}\n")).Faults.Select(f => f.Column).Order(StringComparer.Ordinal));

    [Fact]
    public void A_row_cut_off_in_the_middle_says_so()
    {
        var groups = Read($"{Header}\n{Row()}\nB,shop,2026-10-0");
        Assert.NotNull(groups[0].Value);
        Assert.Equal("the row ends after 3 of 12 columns; the file seems to be cut off here", Assert.Single(groups[1].Faults).ToString());
    }

    [Fact]
    public void A_quote_that_never_closes_stops_the_file_with_a_reason()
    {
        var groups = Read($"{Header}\n{Row()}\n\"B,shop{new string('x', 40_000)}");
        Assert.Contains("a quote may have been opened and never closed", Assert.Single(groups[^1].Faults).ToString(), StringComparison.Ordinal);
    }

    [Fact]
    public void The_orders_own_columns_must_repeat()
    {
        var other = Row(line: "2").Replace("shop", "fair", StringComparison.Ordinal);
        Assert.Equal("channel 'fair': expected 'shop' as in row 2: it is the same order", Assert.Single(Assert.Single(Read($"{Header}\n{Row()}\n{other}\n")).Faults).ToString());
    }

    [Fact]
    public void A_misnamed_column_is_recognised()
    {
        var fault = Assert.Throws<CsvFileException>(() => Read(Header.Replace("quantity", "qty", StringComparison.Ordinal) + "\n"));
        Assert.Equal("The column 'quantity' is missing; there is one called 'qty': is that it? Rename it in the file, or say so beside the file as you bring it in.", fault.Message);
    }

    [Fact]
    public void Noise_is_refused_as_a_whole()
    {
        var noise = new byte[100_000];
        new Random(1).NextBytes(noise);
        var fault = Assert.Throws<CsvFileException>(() => new CsvTable(new MemoryStream(noise), OrdersCsv.Columns));
        Assert.StartsWith("This is not a text file.", fault.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Text_of_another_kind_is_refused_as_a_whole() =>
        Assert.StartsWith("The first row has none of the columns", Assert.Throws<CsvFileException>(() => Read("Dear reader,\nnothing here.\n")).Message, StringComparison.Ordinal);

    [Fact]
    public void Times_without_an_offset_are_the_books_own()
    {
        var order = Assert.Single(Read($"{Header}\n{Row()}\n".Replace("2026-10-03T12:00:00Z", "2026-10-03 12:00", StringComparison.Ordinal))).Value!;
        Assert.Equal(new DateTimeOffset(2026, 10, 3, 11, 0, 0, TimeSpan.Zero), order.PlacedAt);
    }

    [Fact]
    public void A_time_the_clocks_skipped_is_refused()
    {
        var group = Assert.Single(Read($"{Header}\n{Row()}\n".Replace("2026-10-03T12:00:00Z", "2026-03-29 01:30", StringComparison.Ordinal)));
        Assert.Contains("the clocks went forward", Assert.Single(group.Faults).ToString(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_discount_above_the_price_is_refused() =>
        Assert.Equal("line_discount", Assert.Single(Assert.Single(Read($"{Header}\n{Row()}25.00\n")).Faults).Column);

    [Fact]
    public void Cells_a_spreadsheet_would_run_are_written_as_text()
    {
        using var text = new StringWriter();
        CsvOutput.Write(text, ["note", "amount"], [["=1+1", "-12.50"], ["@home", "3"]]);
        Assert.Equal("note,amount\r\n'=1+1,-12.50\r\n'@home,3\r\n", text.ToString());
    }
}
