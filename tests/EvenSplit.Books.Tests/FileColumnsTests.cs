using System.Text;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Formats.Shops;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Files of shops nobody here knows, and lists of payees.</summary>
public sealed class FileColumnsTests : IDisposable
{
    private const string Fair =
        "Order No;Ordered;Item code;Item;Qty;Price each;VAT;Voucher\n" +
        "F-1;03/10/2026 14:05;guide;The guide;2;1.024,00;0,00;ANNA\n" +
        "F-1;;print;A print;1;24,00;0,00;\n" +
        "F-2;17/10/2026 9:30;lamp;A lamp;1;12,50;0,00;\n";

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    private ImportRecord Receive(string name, string text, ImportKind? kind = null) =>
        _book.Get<FileColumns, ImportRecord>(f => f.ReceiveAsync(kind, name, new MemoryStream(Encoding.UTF8.GetBytes(text)), Lead).GetAwaiter().GetResult());

    private FileReading Reading(int id) => _book.Get<FileColumns, FileReading>(f => f.Find(id)!);

    private TakenFile Take(FileReading r, FileLayout? layout = null, string source = "fair") => _book.Get<FileColumns, TakenFile>(f => f.Take(r.Import.Id, r.Kind, layout ?? r.Layout, source, new DateOnly(2027, 3, 1), Lead));

    [Fact]
    public void A_file_of_a_shop_is_shown_as_it_would_be_taken_and_the_next_goes_straight_in()
    {
        var first = Receive("fair-2026-10.csv", Fair);
        Assert.Equal((ImportState.Columns, ImportKind.Orders), (first.State, first.Kind));
        Assert.Null(_book.Get<ImportFiles, int?>(f => f.NextWaiting()));
        var reading = Reading(first.Id);
        Assert.Equal("fair", reading.Source);
        Assert.Equal(("EUR", "fair"), (reading.Layout.Always["currency"], reading.Layout.Always["channel"]));
        Assert.Equal("product 'lamp': expected a product in the catalogue", Assert.Single(reading.Faults).Fault);

        var done = _book.Read(Take(reading).ImportId!.Value);
        Assert.Equal((1L, 1L), (done.Added, done.Quarantined));
        // 2 × 1,024.00 and 24.00, of which Anna has a tenth.
        Assert.Equal(20720, _book.Owed("anna"));
        Assert.Equal("A lamp", Assert.Single(_book.Get<UnknownThings, IReadOnlyList<UnknownProduct>>(u => u.Products())).Name);

        var next = Receive("fair-2026-11.csv", Fair.Replace("F-", "G-", StringComparison.Ordinal));
        Assert.Equal(ImportState.Waiting, next.State);
        Assert.Equal((1L, 1L), (_book.Read(next.Id).Added, _book.Get<FileColumns, int>(f => f.Sources().Count)));
        _book.Do<FileColumns>(f => f.Forget("fair", ImportKind.Orders, Lead));
        Assert.Equal(ImportState.Columns, Receive("fair-2026-12.csv", Fair).State);
    }

    [Fact]
    public void What_neither_the_file_nor_anybody_says_is_asked()
    {
        var reading = Reading(Receive("x.csv", "Order No;Ordered;Qty;Price each\nF-1;03/10/2026;2;1,00\n").Id);
        Assert.Equal(["product"], reading.Missing);
        Assert.Equal("Theirs[product]", Assert.Throws<RefusedException>(() => Take(reading)).Field);
        var said = reading.Layout with { Always = reading.Layout.Always.Append(new("product", "guide")).ToDictionary() };
        Assert.Equal(1, _book.Read(Take(reading, said).ImportId!.Value).Added);
        Assert.Throws<RefusedException>(() => Take(reading, said));
    }

    [Fact]
    public void Our_own_file_goes_straight_in_and_what_is_no_table_is_refused()
    {
        Assert.Equal(ImportState.Waiting, Receive("orders.csv", "order_id,channel,placed_at,currency,line_id,product,quantity,unit_price\nA,shop,2026-10-05T12:00:00Z,EUR,1,guide,1,2.00\n").State);
        Assert.Throws<RefusedException>(() => Receive("x.csv", ""));
        Assert.Equal("File", Assert.Throws<RefusedException>(() => Receive("x.zip", "PK\u0003\u0004rubbish")).Field);
        Assert.Single(_book.Get<ImportFiles, IReadOnlyList<ImportRecord>>(f => f.Latest(9)));
    }

    [Theory]
    [InlineData("Refund no,Order no,Refunded on,Amount\nR-1,A,2026-10-09,12.00\n", ImportKind.Refunds)]
    [InlineData("Name,E-mail,IBAN,Code,Joined\nPia,pia@shop.example,,PIA,2026-01-01\n", ImportKind.Payees)]
    [InlineData("SKU,Title,Price,Category,Supplier\nA,Lamp,12.00,lamps,\n", ImportKind.Products)]
    [InlineData("Affiliate,Clicked at,Visitor id,Landing page\nanna,2026-10-09 10:00,v1,/x\n", ImportKind.Clicks)]
    public void What_a_file_holds_is_found_out(string text, ImportKind kind) => Assert.Equal(kind, Receive("file.csv", text).Kind);

    [Fact]
    public void A_file_nobody_says_anything_of_is_thrown_away_after_a_week()
    {
        var old = Receive("fair.csv", Fair);
        _book.MoveTo(new DateOnly(2026, 10, 20));
        Receive("fair-2.csv", Fair);
        Assert.Null(_book.Get<ImportFiles, ImportRecord?>(f => f.Find(old.Id)));
    }

    private const string People =
        "Partner name;Handle;E-mail;Coupon code;IBAN;Joined;Hold;Agreement\n" +
        "Pia Potter;pia;pia@pots.example;PIA, POTS;IE29AIBK93115212345678;1.2.2026;14;Friends\n" +
        "Anna;;;ANNA2;;;;\n";

    private int Change(string text) => Take(Reading(Receive("partners.csv", text).Id), source: "").ChangeId!.Value;

    private BulkView View(int id) => _book.Get<BulkChanges, BulkView>(c => c.Find(id)!);

    [Fact]
    public void Payees_are_shown_as_a_difference_applied_and_undone()
    {
        _book.ImportOrders(Row("A", code: "POTS"), Row("B", code: "ANNA2"));
        var id = Change(People);
        Assert.Equal(
            ["Added Pia Potter: name Pia Potter, role affiliate, email pia@pots.example, payout_currency EUR, payout_method by hand, active_from 1 Feb 2026, codes PIA POTS, schedule monthly, hold_days 14, agreement Friends from 1 Feb 2026, account IE…5678, once a second person confirms it", "Changed Anna: codes ANNA ANNA2"],
            View(id).Differences.Differences.Select(d => $"{d.Kind} {d.Subject}: {string.Join(", ", d.Parts.Select(p => $"{p.What} {p.To}"))}"));
        Assert.DoesNotContain("93115212345678", _book.Get<BookDbContext, string>(db => db.BulkChanges.Single().Content), StringComparison.Ordinal);

        _book.Do<BulkChanges>(c => c.Apply(id, Lead));
        _book.Recalculate();
        Assert.Equal((1000, 1000), (_book.Owed("pia"), _book.Owed("anna")));
        Assert.Equal("", _book.Get<BookDbContext, string>(db => db.BulkChanges.Single().Content));
        Assert.Single(_book.Get<PayoutDetails, IReadOnlyList<PayoutDetailsRecord>>(d => d.Of("pia")));
        // Who has earned stays; nothing of the rest is put back either.
        Assert.Contains("they have earned", Assert.Throws<RefusedException>(() => _book.Do<BulkChanges>(c => c.Undo(id, Lead))).Message, StringComparison.Ordinal);
        Assert.Equal(2, _book.Get<BookDbContext, int>(db => db.PayeeCodes.Count(c => c.PayeeId == "anna")));
        // The same file again is nothing.
        Assert.Empty(View(Change(People)).Differences.Differences);
    }

    [Fact]
    public void Undone_before_anything_was_earned_everybody_is_as_before()
    {
        var before = _book.Get<PayeesFile, string[]>(f => f.Write().Rows.Select(r => string.Join('|', r)).ToArray());
        var id = Change(People);
        _book.Do<BulkChanges>(c => c.Apply(id, Lead));
        Assert.Equal(before.Length + 1, _book.Get<PayeesFile, int>(f => f.Write().Rows.Count()));
        _book.Do<BulkChanges>(c => c.Undo(id, Lead));
        var after = _book.Get<PayeesFile, string[]>(f => f.Write().Rows.Select(r => string.Join('|', r)).ToArray());
        Assert.Equal(before, after[..^1]);
        // Payout details are never deleted, so she stays, as somebody whose time is over.
        Assert.StartsWith("Pia Potter|pia|affiliate|pia@pots.example|EUR|by hand|2026-02-01|2026-02-02||", after[^1], StringComparison.Ordinal);
        // What was proposed stays on record, refused.
        Assert.Empty(_book.Get<PayoutDetails, IReadOnlyList<PayoutDetailsRecord>>(d => d.Waiting()));
    }

    [Fact]
    public void What_was_written_out_is_read_as_no_change()
    {
        var (header, rows) = _book.Get<PayeesFile, (IReadOnlyList<string>, string[])>(f => (f.Write().Header, f.Write().Rows.Select(r => string.Join(',', r)).ToArray()));
        var (id, faults) = _book.Get<BulkChanges, (int?, IReadOnlyList<Formats.Csv.RowFault>)>(c => c.Propose(BulkKind.Payees, "payees.csv", string.Join('\n', rows.Prepend(string.Join(',', header))), false, null, Lead));
        Assert.Empty(faults);
        Assert.Equal((0, 2), (View(id!.Value).Differences.Differences.Count, View(id.Value).Differences.Same));
    }

    [Theory]
    [InlineData("name,account\nPia,IE00AIBK93115212345678\n", "account")]
    [InlineData("name,codes\nPia,ANNA\n", "codes")]
    [InlineData("name,codes\nPia,P\nPaul,P\n", "codes")]
    [InlineData("name\nPia\nPia\n", "name")]
    [InlineData("name,role\nPia,king\n", "role")]
    [InlineData("name,agreements\nPia,Nothing\n", "agreements")]
    [InlineData("name,active_from\nPia,soon\n", "active_from")]
    [InlineData("name,payout_method\nPia,bank\n", "account")]
    [InlineData("name,hold_days\nPia,some\n", "hold_days")]
    [InlineData("name,email\nPia,nowhere\n", "email")]
    [InlineData("name,schedule\nPia,sometimes\n", "schedule")]
    [InlineData("name,recruited_by\nPia,nobody\n", "recruited_by")]
    public void What_cannot_be_taken_is_told_with_row_and_column(string file, string column)
    {
        var (id, faults) = _book.Get<BulkChanges, (int?, IReadOnlyList<Formats.Csv.RowFault>)>(c => c.Propose(BulkKind.Payees, "payees.csv", file, false, null, Lead));
        Assert.Null(id);
        Assert.Equal(column, Assert.Single(faults).Column);
        Assert.True(faults[0].Row >= 2);
    }

    [Fact]
    public void Adjustments_in_somebody_elses_columns_go_in_whole_and_once()
    {
        const string list = "Affiliate;Tag;Betrag;Grund\nanna;31.10.2026;1.025,50;Best of October\nines;30.10.2026;-12,00;Sample kept\n";
        var reading = Reading(Receive("bonuses.csv", list, ImportKind.Adjustments).Id);
        Assert.Equal(["kind"], reading.Missing);
        Assert.Equal(("payee", "on"), (Ours(reading, "Affiliate"), Ours(reading, "Tag")));
        var said = reading.Layout with { Always = new Dictionary<string, string>(reading.Layout.Always) { ["kind"] = "bonus" } };
        // The rows are shown as far as their columns are known; what they add is told once nothing is missing.
        Assert.Equal(["anna", "ines"], reading.Rows.Select(r => r.Row["payee"]));
        Assert.Empty(reading.Faults);
        Assert.Null(reading.Adjustments);
        var (whole, ahead) = Ahead(reading);
        Assert.Empty(whole.Faults);
        Assert.Equal(["anna 1 1025.50 EUR", "ines 1 -12.00 EUR"], ahead.Payees.Select(p => $"{p.Payee} {p.Count} {p.Sum}"));
        Assert.Equal((101350, 0), (Assert.Single(ahead.InAll).Minor, ahead.Known));
        Assert.Empty(_book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Open()));
        Assert.Equal((2, 0), Added(Take(reading, said, "")));
        var again = Reading(Receive("again.csv", list, ImportKind.Adjustments).Id);
        Assert.Equal((0, 2), (Ahead(again).Of.Payees.Count, Ahead(again).Of.Known));
        Assert.Equal((0, 2), Added(Take(again, said, "")));
        Assert.Equal(102550, _book.Get<Adjustments, long>(a => Assert.Single(a.Of("anna")).Amount));
        Assert.Equal(-1200, _book.Get<Adjustments, long>(a => Assert.Single(a.Of("ines")).Amount));
        Assert.Empty(_book.Get<BookDbContext, ImportRecord[]>(db => db.Imports.ToArray()));

        static (int, int) Added(TakenFile taken) => (taken.Added, taken.Known);

        (FileReading Reading, AdjustmentsAhead Of) Ahead(FileReading file)
        {
            var looked = _book.Get<FileColumns, FileReading>(f => f.Look(file.Import.Id, file.Kind, said, "")!);
            return (looked, looked.Adjustments!);
        }
    }

    [Fact]
    public void A_fault_in_a_file_that_goes_in_whole_is_told_first_and_nothing_goes_in()
    {
        var reading = Reading(Receive("bonuses.csv", "payee,on,amount,currency,kind,note\nanna,2026-10-31,5.00,EUR,bonus,Well done\nnobody,2026-10-31,5.00,EUR,bonus,Well done\n", ImportKind.Adjustments).Id);
        Assert.Equal("payee 'nobody': expected the id of a payee in the book", Assert.Single(reading.Faults).Fault);
        Assert.StartsWith("Row 3: payee 'nobody'", Assert.Throws<RefusedException>(() => Take(reading)).Message, StringComparison.Ordinal);
        Assert.Empty(_book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Open()));
        Assert.Equal(ImportState.Columns, Reading(reading.Import.Id).Import.State);
    }

    [Theory]
    [InlineData("Stichtag;Von;Nach;Kurs\n02.11.2026;EUR;GBP;0,862\n02.11.2026;EUR;USD;1,0831\n")]
    [InlineData("Datum;GBP;USD\n02.11.2026;0,862;1,0831\n")]
    public void Rates_are_read_as_others_publish_them(string file)
    {
        var reading = Reading(Receive("kurse.csv", file, ImportKind.Rates).Id);
        Assert.Empty(reading.Missing);
        Assert.Equal(2, Take(reading).Added);
        Assert.Equal(["GBP 0.862", "USD 1.0831"], _book.Get<RateDesk, string[]>(r => [.. r.Latest(2).Select(l => $"{l.To} {l.Rate}")]));
        // The next of that bank is read by the same columns.
        Assert.Equal(reading.Layout.ToString(), Reading(Receive("kurse.csv", file, ImportKind.Rates).Id).Layout.ToString());
    }

    [Fact]
    public void Terms_in_somebody_elses_columns_are_shown_as_a_difference()
    {
        var reading = Reading(Receive("deals.csv", "Vereinbarung;Artikel;Provision\nfriends;guide;12,5 %\nfriends;print;8 %\n", ImportKind.Terms).Id);
        Assert.Equal("product", reading.Layout.Always["scope_kind"]);
        var change = Take(reading, source: "").ChangeId!.Value;
        var view = _book.Get<BulkChanges, BulkView>(b => b.Find(change)!);
        Assert.Equal((BulkKind.Terms, new DateOnly(2027, 3, 1)), (view.Record.Kind, view.Record.From));
        Assert.Contains("12.5", view.Record.Content, StringComparison.Ordinal);
        Assert.Empty(view.Differences.Faults);
    }

    [Fact]
    public void A_banks_list_with_decimal_commas_is_read()
    {
        var reading = Reading(Receive("umsaetze.csv", "Konto;Buchungstag;Betrag;Waehrung;Verwendungszweck;Saldo\nDE02100100109307118603;04.11.2026;-1.031,14;EUR;Run 9;22.100,00\n", ImportKind.Statement).Id);
        Assert.Empty(reading.Missing);
        var cells = Assert.Single(reading.Rows).Row;
        Assert.Equal(("2026-11-04", "-1031.14", "22100.00", "Run 9"), (cells["booked_on"], cells["amount"], cells["balance_after"], cells["note"]));
    }

    [Fact]
    public void A_file_of_ours_is_known_for_what_it_is()
    {
        Assert.Equal(ImportKind.Terms, Receive("a.csv", "agreement,scope_kind,scope_id,percent\nfriends,all,,10\n").Kind);
        Assert.Equal(ImportKind.Adjustments, Receive("b.csv", "payee,on,amount,currency,kind,note\nanna,2026-10-31,5.00,EUR,bonus,Well done\n").Kind);
        Assert.Equal(ImportKind.Rates, Receive("c.csv", "date,GBP,USD\n2026-11-02,0.862,1.0831\n").Kind);
    }

    private static string Ours(FileReading reading, string theirs) => reading.Columns.Single(c => c.Theirs == theirs).Column;
}
