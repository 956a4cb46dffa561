using System.IO.Compression;
using System.Text;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Shops;

namespace EvenSplit.Formats.Tests;

/// <summary>Files as shops write them, each with its own names, dates and amounts.</summary>
public sealed class ShopFileTests
{
    private const string Lantern =
        "Bestellnummer;Datum;Artikel-Nr.;Bezeichnung;Menge;Einzelpreis (brutto);MwSt;Versandkosten;Rabatt gesamt;Gutscheincode;Währung;Bemerkung\n" +
        "L-1;03.11.2026 14:05;LAT-1;Laterne \"Groß\";2;1.249,50 €;399,00;4,90;−10,00;FINNI;EUR;bitte schnell\n" +
        "L-1;;LAT-2;Docht;1;3,00 €;0,48;;;;;\n" +
        "L-2;13.11.2026 9:30;LAT-2;Docht;4;3,00 €;1,92;0,00;;;EUR;\n";

    private static FileHead Head(Stream file)
    {
        using var records = new CsvRecords(file);
        return records.Head(200);
    }

    private static MemoryStream Utf8(string text) => new(Encoding.UTF8.GetBytes(text));

    private static List<CsvRow> Rows(Stream file, CsvColumns columns, FileLayout layout)
    {
        using var table = new CsvTable(file, columns, layout);
        return [.. table.Rows()];
    }

    [Fact]
    public void Columns_are_known_by_their_names_and_by_what_is_in_them()
    {
        var layout = ColumnGuess.Layout(Head(Utf8(Lantern)), OrdersCsv.Columns, "EUR", "lantern");
        Assert.Equal(
            ["coupon_codes=Gutscheincode", "currency=Währung", "line_tax=MwSt", "order_discount=Rabatt gesamt", "order_id=Bestellnummer", "paid_at=Datum", "placed_at=Datum", "product=Artikel-Nr.", "product_name=Bezeichnung", "quantity=Menge", "shipping=Versandkosten", "unit_price=Einzelpreis (brutto)"],
            layout.Columns.Select(c => $"{c.Key}={c.Value}").Order(StringComparer.Ordinal));
        Assert.Equal((DateOrder.DayFirst, DecimalMark.Comma, true), (layout.Dates, layout.Decimals, layout.NumbersLines));
        Assert.Equal(("lantern", "yes"), (layout.Always["channel"], layout.Always["prices_include_tax"]));
    }

    [Fact]
    public void Rows_come_as_ours_and_what_an_order_says_once_holds_for_its_other_rows()
    {
        var layout = ColumnGuess.Layout(Head(Utf8(Lantern)), OrdersCsv.Columns, "EUR", "lantern");
        var rows = Rows(Utf8(Lantern), OrdersCsv.Columns, layout);
        Assert.Equal(["2026-11-03 14:05:00", "2026-11-03 14:05:00", "2026-11-13 09:30:00"], rows.Select(r => r["placed_at"]));
        Assert.Equal(["1249.50", "3.00", "3.00"], rows.Select(r => r["unit_price"]));
        Assert.Equal(["10.00", "10.00", ""], rows.Select(r => r["order_discount"]));
        Assert.Equal(["1", "2", "1"], rows.Select(r => r["line_id"]));
        Assert.Equal(["FINNI", "FINNI", ""], rows.Select(r => r["coupon_codes"]));
        Assert.All(rows, r => Assert.Empty(r.Misread));
    }

    [Fact]
    public void A_layout_is_remembered_as_text_and_read_again()
    {
        var layout = ColumnGuess.Layout(Head(Utf8(Lantern)), OrdersCsv.Columns, "EUR", "lantern") with { IsInUtc = true, PriceIsOfLine = true };
        Assert.True(FileLayout.TryParse(layout.ToString(), OrdersCsv.Columns, out var again, out var fault), fault);
        Assert.Equal(layout.ToString(), again.ToString());
        Assert.Equal((layout.Dates, layout.Decimals, true, true, true, true), (again.Dates, again.Decimals, again.IsInUtc, again.PriceIsOfLine, again.NumbersLines, again.OthersAreNotRead));
        Assert.True(again.Fits(Head(Utf8(Lantern)).Header));
        Assert.False(again.Fits(["Bestellnummer", "Datum"]));
    }

    [Theory]
    [InlineData("quantity", "'quantity': write our column, an equals sign, and what the file calls it, such as quantity = Qty.")]
    [InlineData("qty = Qty", "There is no column qty in a file of orders.")]
    [InlineData("quantity = Qty\nquantity = Pieces", "The column quantity is named twice.")]
    public void What_cannot_be_said_of_columns_is_told(string text, string expected)
    {
        Assert.False(FileLayout.TryParse(text, OrdersCsv.Columns, out _, out var fault));
        Assert.Equal(expected, fault);
    }

    [Theory]
    [InlineData("1.234,50", "1234.50", null)]
    [InlineData("1,234.50", null, "1234.50")]
    [InlineData("€ 12,5", "12.5", null)]
    [InlineData("12.50", null, "12.50")]
    [InlineData("1 234,50 kr", "1234.50", null)]
    [InlineData("USD 1'234.50", null, "1234.50")]
    [InlineData("(3)", "-3", "-3")]
    [InlineData("−0,00", "0.00", null)]
    [InlineData("1.234", "1234", "1.234")]
    [InlineData("12-3", null, null)]
    [InlineData("twelve", null, null)]
    public void Amounts_are_read_in_one_way_of_writing_and_never_rounded(string cell, string? withComma, string? withPoint)
    {
        CsvRow Row(string mark) => Rows(Utf8($"Order;Price\n1;{cell}\n"), OrdersCsv.Columns,
            new FileLayout { Columns = new Dictionary<string, string> { ["order_id"] = "Order", ["unit_price"] = "Price" }, Decimals = Enum.Parse<DecimalMark>(mark), NumbersLines = true, Always = Fixed }).Single();
        foreach (var (mark, expected) in new[] { ("Comma", withComma), ("Point", withPoint) })
        {
            var row = Row(mark);
            if (expected is null) Assert.Contains("an amount with a decimal", row.Misread["unit_price"], StringComparison.Ordinal);
            else Assert.Equal(expected, row["unit_price"]);
        }
    }

    private static readonly Dictionary<string, string> Fixed = new() { ["channel"] = "shop", ["currency"] = "EUR", ["placed_at"] = "2026-11-01 12:00", ["product"] = "guide", ["quantity"] = "1" };

    [Theory]
    [InlineData("3.11.2026", DateOrder.DayFirst, "2026-11-03 12:00:00")]
    [InlineData("11/3/2026 2:05 PM", DateOrder.MonthFirst, "2026-11-03 14:05:00")]
    [InlineData("3 Nov 2026, 14:05", DateOrder.DayFirst, "2026-11-03 14:05:00")]
    [InlineData("Nov 3, 2026", DateOrder.MonthFirst, "2026-11-03 12:00:00")]
    [InlineData("2026-11-03T14:05:00+01:00", DateOrder.DayFirst, "2026-11-03T14:05:00+01:00")]
    [InlineData("2026-11-03 14:05:00 +0100", DateOrder.DayFirst, "2026-11-03T14:05:00+01:00")]
    [InlineData("03/11/26 14:05", DateOrder.DayFirst, "2026-11-03 14:05:00")]
    public void Dates_are_read_as_they_are_written(string cell, DateOrder order, string expected)
    {
        var layout = new FileLayout { Columns = new Dictionary<string, string> { ["order_id"] = "Order", ["placed_at"] = "When" }, Dates = order, NumbersLines = true, Always = Fixed.Where(f => f.Key != "placed_at").Append(new("unit_price", "1.00")).ToDictionary() };
        Assert.Equal(expected, Rows(Utf8($"Order;When\n1;\"{cell}\"\n"), OrdersCsv.Columns, layout).Single()["placed_at"]);
    }

    [Fact]
    public void A_date_that_does_not_exist_in_that_order_is_told()
    {
        var layout = new FileLayout { Columns = new Dictionary<string, string> { ["order_id"] = "Order", ["placed_at"] = "When" }, Dates = DateOrder.MonthFirst, NumbersLines = true, Always = Fixed.Where(f => f.Key != "placed_at").Append(new("unit_price", "1.00")).ToDictionary() };
        Assert.Equal("a date with the month first, such as 10/31/2026", Rows(Utf8("Order;When\n1;31/10/2026\n"), OrdersCsv.Columns, layout).Single().Misread["placed_at"]);
    }

    [Theory]
    [InlineData("3", "30.00", "10.00", "")]
    [InlineData("3", "10.00", "3.34", "0.02")]
    [InlineData("7", "0.00", "0.00", "")]
    public void The_price_of_a_whole_line_is_parted_without_losing_a_cent(string quantity, string price, string each, string discount)
    {
        var layout = new FileLayout { Columns = new Dictionary<string, string> { ["order_id"] = "Order", ["quantity"] = "Qty", ["unit_price"] = "Line total" }, PriceIsOfLine = true, NumbersLines = true, Always = Fixed.Where(f => f.Key != "quantity").ToDictionary() };
        var row = Rows(Utf8($"Order;Qty;Line total\n1;{quantity};{price}\n"), OrdersCsv.Columns, layout).Single();
        Assert.Equal((each, discount), (row["unit_price"], row["line_discount"]));
    }

    [Theory]
    [InlineData("Order no;Date;SKU;Qty;Price;VAT;Total\n1;2026-11-01;A;1;10.00;2.00;10.00\n", "yes")]
    [InlineData("Order no;Date;SKU;Qty;Price;VAT;Total\n1;2026-11-01;A;1;10.00;2.00;12.00\n", "no")]
    [InlineData("Order no;Date;SKU;Qty;Net price;VAT\n1;2026-11-01;A;1;10.00;2.00\n", "no")]
    public void Whether_tax_is_in_the_price_is_taken_from_names_or_totals(string file, string expected) =>
        Assert.Equal(expected, ColumnGuess.Layout(Head(Utf8(file)), OrdersCsv.Columns, "EUR", "shop").Always["prices_include_tax"]);

    /// <summary>From the folder the tests run in up to where the samples are.</summary>
    internal static string Sample(string name)
    {
        for (var folder = new DirectoryInfo(AppContext.BaseDirectory); folder is not null; folder = folder.Parent)
        {
            if (File.Exists(Path.Combine(folder.FullName, "docs", "samples", name))) return File.ReadAllText(Path.Combine(folder.FullName, "docs", "samples", name));
        }
        throw new FileNotFoundException(name);
    }

    [Fact]
    public void The_example_of_a_shop_is_read_without_being_told_anything()
    {
        var text = Sample("a-shops-orders.csv");
        var layout = ColumnGuess.Layout(Head(Utf8(text)), OrdersCsv.Columns, "EUR", "shop");
        var rows = Rows(Utf8(text), OrdersCsv.Columns, layout);
        Assert.All(rows, r => Assert.Empty(r.Misread));
        Assert.Equal(24, rows.Select(r => r["order_id"]).Distinct().Count());
        Assert.Equal(("2026-10-01 09:10:00", "16.00", "4.90", "card", "FERN10", "2"), (rows[0]["placed_at"], rows[0]["unit_price"], rows[0]["shipping"], rows[0]["processor"], rows[0]["coupon_codes"], rows[1]["line_id"]));
    }

    [Fact]
    public void Files_of_older_programs_keep_their_letters()
    {
        var western = CodePagesEncodingProvider.Instance.GetEncoding(1252)!;
        var head = Head(new MemoryStream(western.GetBytes(Lantern.Replace('−', '-'))));
        Assert.Contains("Währung", head.Header);
        Assert.Equal("Laterne \"Groß\"", head.Rows[0][3]);
        Assert.Equal("1.249,50 €", head.Rows[0][5]);
    }

    [Fact]
    public void A_name_that_comes_twice_can_be_told_apart()
    {
        Assert.Equal(["Tax", "Tax (2)", "Price"], Head(Utf8("Tax,Tax,Price\n1,2,3\n")).Header);
    }

    [Fact]
    public void A_workbook_is_read_from_its_first_table()
    {
        var file = Zip(
            ("[Content_Types].xml", "<Types xmlns='http://schemas.openxmlformats.org/package/2006/content-types'><Default Extension='rels' ContentType='application/vnd.openxmlformats-package.relationships+xml'/><Default Extension='xml' ContentType='application/xml'/><Override PartName='/xl/workbook.xml' ContentType='application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml'/><Override PartName='/xl/worksheets/sheet1.xml' ContentType='application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml'/><Override PartName='/xl/styles.xml' ContentType='application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml'/></Types>"),
            ("_rels/.rels", "<Relationships xmlns='http://schemas.openxmlformats.org/package/2006/relationships'><Relationship Id='rId1' Type='http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument' Target='xl/workbook.xml'/></Relationships>"),
            ("xl/workbook.xml", "<workbook xmlns='http://schemas.openxmlformats.org/spreadsheetml/2006/main' xmlns:r='http://schemas.openxmlformats.org/officeDocument/2006/relationships'><sheets><sheet name='Orders' sheetId='1' r:id='rId1'/></sheets></workbook>"),
            ("xl/_rels/workbook.xml.rels", "<Relationships xmlns='http://schemas.openxmlformats.org/package/2006/relationships'><Relationship Id='rId1' Type='http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet' Target='worksheets/sheet1.xml'/><Relationship Id='rId2' Type='http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles' Target='styles.xml'/></Relationships>"),
            ("xl/styles.xml", "<styleSheet xmlns='http://schemas.openxmlformats.org/spreadsheetml/2006/main'><cellXfs count='2'><xf numFmtId='0'/><xf numFmtId='14'/></cellXfs></styleSheet>"),
            ("xl/worksheets/sheet1.xml", "<worksheet xmlns='http://schemas.openxmlformats.org/spreadsheetml/2006/main'><sheetData><row r='1'><c r='A1' t='inlineStr'><is><t>Our orders</t></is></c></row><row r='2'><c r='A2' t='inlineStr'><is><t>Order no</t></is></c><c r='B2' t='inlineStr'><is><t>Date</t></is></c><c r='C2' t='inlineStr'><is><t>Price</t></is></c></row><row r='3'><c r='A3' t='inlineStr'><is><t>X-1</t></is></c><c r='B3' s='1'><v>46329</v></c><c r='C3'><v>19.900000000000002</v></c></row></sheetData></worksheet>"));
        var head = Head(file);
        Assert.Equal(["Order no", "Date", "Price"], head.Header);
        Assert.Equal(["X-1", "2026-11-03", "19.9"], Assert.Single(head.Rows));
    }

    [Fact]
    public void An_open_document_table_is_read_with_its_repeated_cells()
    {
        const string content = "<office:document-content xmlns:office='urn:oasis:names:tc:opendocument:xmlns:office:1.0' xmlns:table='urn:oasis:names:tc:opendocument:xmlns:table:1.0' xmlns:text='urn:oasis:names:tc:opendocument:xmlns:text:1.0'><office:body><office:spreadsheet><table:table table:name='A'>" +
            "<table:table-row><table:table-cell office:value-type='string'><text:p>Order no</text:p></table:table-cell><table:table-cell office:value-type='string'><text:p>Note</text:p></table:table-cell><table:table-cell office:value-type='string'><text:p>Date</text:p></table:table-cell><table:table-cell office:value-type='string'><text:p>Price</text:p></table:table-cell></table:table-row>" +
            "<table:table-row><table:table-cell office:value-type='string'><text:p>X-1</text:p></table:table-cell><table:table-cell table:number-columns-repeated='1'/><table:table-cell office:value-type='date' office:date-value='2026-11-03T14:05:00'><text:p>3. Nov.</text:p></table:table-cell><table:table-cell office:value-type='currency' office:value='12.5'><text:p>12,50 €</text:p></table:table-cell></table:table-row>" +
            "<table:table-row table:number-rows-repeated='1048570'><table:table-cell table:number-columns-repeated='1024'/></table:table-row></table:table></office:spreadsheet></office:body></office:document-content>";
        var head = Head(Zip(("content.xml", content)));
        Assert.Equal(["Order no", "Note", "Date", "Price"], head.Header);
        Assert.Equal(["X-1", "", "2026-11-03 14:05:00", "12.5"], Assert.Single(head.Rows));
    }

    [Fact]
    public void An_archive_that_is_no_spreadsheet_and_a_damaged_one_are_refused()
    {
        Assert.StartsWith("This is no spreadsheet", Assert.Throws<CsvFileException>(() => Head(Zip(("readme.txt", "hello")))).Message, StringComparison.Ordinal);
        Assert.StartsWith("The spreadsheet is damaged", Assert.Throws<CsvFileException>(() => Head(new MemoryStream("PK\u0003\u0004rubbish"u8.ToArray()))).Message, StringComparison.Ordinal);
        Assert.StartsWith("The spreadsheet is damaged", Assert.Throws<CsvFileException>(() => Head(Zip(("content.xml", "<a><b>")))).Message, StringComparison.Ordinal);
    }

    private static MemoryStream Zip(params (string Name, string Text)[] entries)
    {
        var file = new MemoryStream();
        using (var archive = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, text) in entries)
            {
                using var writer = new StreamWriter(archive.CreateEntry(name).Open());
                writer.Write(text);
            }
        }
        file.Position = 0;
        return file;
    }
}
