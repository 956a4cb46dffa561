using EvenSplit.Books.Bulk;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>products.csv and terms.csv: every fault at once and nothing changed, or a difference that is applied whole and can be undone.</summary>
public sealed class BulkChangeTests : IDisposable
{
    private static readonly DateOnly November = new(2026, 11, 1);

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Three_faults_are_named_with_their_places_and_nothing_is_kept()
    {
        var faults = Faults(BulkKind.Products, "product,name,price,vendor,return_days\nguide,Guide,12.345,,\nprint,Print,9.00,nobody-here,\npin,A pin,1.00,,soon\n");
        Assert.Equal([(2L, "price"), (3L, "vendor"), (4L, "return_days")], faults.Select(f => (f.Row, f.Column)));
        Assert.Equal("price '12.345': Expected at most 2 decimals in EUR.", faults[0].ToString());
        Assert.Equal("return_days 'soon': expected a whole number of days", faults[2].ToString());
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.BulkChanges.Count()));
    }

    [Fact]
    public void A_difference_is_shown_applied_whole_and_undone()
    {
        var id = Propose(BulkKind.Products, "product;name;price;collections;variant\nguide;The guide;26.5;books small;\nguide;;;;guide-soft\npin;A pin;3.00;;\nprint;The print;24;;\n");
        var shown = Differences(id);
        Assert.Equal([(DifferenceKind.Changed, "guide"), (DifferenceKind.Added, "pin")], shown.Differences.Select(d => (d.Kind, d.Subject)));
        Assert.Equal([("price", "24.00", "26.50"), ("collections", "", "books, small"), ("variants", "", "guide-soft")], shown.Differences[0].Parts);
        Assert.Equal(1, shown.Same);
        Assert.Equal("24.00", Product("guide")!.Price);

        _book.Do<BulkChanges>(b => b.Apply(id, Lead));
        Assert.Equal(("26.50", "guide-soft"), (Product("guide")!.Price, Product("guide")!.Variants));
        Assert.NotNull(Product("pin"));
        Assert.Throws<RefusedException>(() => _book.Do<BulkChanges>(b => b.Apply(id, Lead)));

        _book.Do<BulkChanges>(b => b.Undo(id, Lead));
        Assert.Equal(("24.00", "", ""), (Product("guide")!.Price, Product("guide")!.Collections, Product("guide")!.Variants));
        Assert.Null(Product("pin"));
    }

    [Fact]
    public void What_a_whole_catalogue_does_not_name_goes_unless_it_has_been_sold()
    {
        _book.ImportOrders(Row("A"));
        Assert.Equal("guide", Assert.Single(Faults(BulkKind.Products, "product,name\nprint,The print\n", isWhole: true)).Value);
        var id = Propose(BulkKind.Products, "product,name\nguide,The guide\n", isWhole: true);
        Assert.Equal((DifferenceKind.Gone, "print"), (Differences(id).Differences.Single().Kind, Differences(id).Differences.Single().Subject));
        _book.Do<BulkChanges>(b => b.Apply(id, Lead));
        Assert.Null(Product("print"));
        _book.Do<BulkChanges>(b => b.Undo(id, Lead));
        Assert.Equal("24.00", Product("print")!.Price);
    }

    [Fact]
    public void What_a_change_touches_is_worked_out_again()
    {
        _book.ImportOrders(Row("A"));
        _book.Publish(Draft("Books", Basis.Contribution, "10") with { Terms = [new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "books", Cases = [new CaseDraft { Percent = "10" }] }] });
        _book.PutOn("books", "anna");
        _book.Recalculate();
        _book.Do<BulkChanges>(b => b.Apply(Propose(BulkKind.Products, "product,collections\nguide,books\n"), Lead));
        _book.Recalculate();
        Assert.Equal(1000, _book.Owed("anna"));
    }

    [Theory]
    [InlineData("product,variant\nguide,v1\nprint,v1\n", "variant")]
    [InlineData("product,name\nguide,One\nguide,Two\n", "product")]
    [InlineData("product,variant\nhat,hat-red\n", "product")]
    [InlineData("product,name,currency\nguide,One,USD\n", "currency")]
    public void Files_that_contradict_themselves_or_the_book_are_refused(string csv, string column) =>
        Assert.Contains(Faults(BulkKind.Products, csv), f => f.Column == column);

    [Fact]
    public void The_books_own_files_change_nothing()
    {
        _book.Do<ProductDesk>(d => Assert.Empty(d.Save(null, new ProductDraft { Id = "hat", Name = "=A hat, \"large\"", Price = "1.00", UnitCost = "0.40", ReturnDays = 9, Collections = "head, wool", Variants = "hat-red, hat-blue" }, Lead)));
        Assert.Empty(Differences(Propose(BulkKind.Terms, _book.Get<TermsFile, string>(f => Text(f.Write())))).Differences);
        var products = Differences(Propose(BulkKind.Products, _book.Get<ProductsFile, string>(f => Text(f.Write())), isWhole: true)).Differences;
        // A name that a spreadsheet would run is written defused, and stays so.
        Assert.Equal([("name", "=A hat, \"large\"", "'=A hat, \"large\"")], Assert.Single(products).Parts);
    }

    [Fact]
    public void Terms_are_undone_until_they_come_into_force()
    {
        var id = Propose(BulkKind.Terms, "agreement,payee,scope_kind,scope_id,percent\nfriends,,all,,9\nart,ines,product,guide,30\n");
        _book.Do<BulkChanges>(b => b.Apply(id, Lead));
        Assert.Equal(2, Versions("friends"));
        _book.Do<BulkChanges>(b => b.Undo(id, Lead));
        Assert.Equal((1, 0), (Versions("friends"), _book.Get<BookDbContext, int>(db => db.PersonalTerms.Count())));
        var view = _book.Get<AgreementDesk, AgreementView>(a => a.Find("friends")!);
        Assert.Equal([Lead, null], view.Versions.Select(v => v.WithdrawnBy));
        // The day is free again.
        _book.Publish(Draft("Friends", Basis.Referral, "11", from: November), "friends");
        Assert.Equal(2, Versions("friends"));
        var second = Propose(BulkKind.Terms, "agreement,scope_kind,percent\nfriends,all,8\n", November.AddDays(1));
        _book.Do<BulkChanges>(b => b.Apply(second, Lead));
        _book.MoveTo(November.AddDays(1));
        Assert.Contains("have been in force since 2 Nov 2026", Assert.Throws<RefusedException>(() => _book.Do<BulkChanges>(b => b.Undo(second, Lead))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_version_is_withdrawn_only_before_its_day_and_never_the_only_one()
    {
        int Version(string agreement) => _book.Get<BookDbContext, int>(db => db.AgreementVersions.Where(v => v.AgreementId == agreement).Max(v => v.Id));
        Assert.Contains("never changes", Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(a => a.Withdraw(Version("art"), Lead))).Message, StringComparison.Ordinal);
        _book.Publish(Draft("Later", Basis.Contribution, "5", from: November));
        Assert.Contains("only version", Assert.Throws<RefusedException>(() => _book.Do<AgreementDesk>(a => a.Withdraw(Version("later"), Lead))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Terms_become_a_next_version_and_personal_terms_from_a_day()
    {
        _book.Publish(Draft("Friends", Basis.Referral, "10") with { From = new DateOnly(2026, 9, 1), WindowDays = 21, Shipping = Treatment.Count }, "friends");
        var id = Propose(BulkKind.Terms, """
            agreement,payee,scope_kind,scope_id,percent,order_value_at_least,per_unit
            friends,,all,,12,80,
            friends,,all,,9,,
            friends,,product,print,,,
            friends,anna,product,guide,15,,0.50
            """);
        var differences = Differences(id).Differences;
        Assert.Equal(["Friends", "Friends, Anna"], differences.Select(d => d.Subject));
        Assert.Equal(("everything", "Of everything: 10 % of the share base.", "Of everything: orders from €80, 12 % of the share base; otherwise 9 %."), differences[0].Parts[0]);
        Assert.Equal(("The print", "", "Of The print: nothing."), differences[0].Parts[1]);
        _book.Do<BulkChanges>(b => b.Apply(id, Lead));
        _book.ImportOrders(Row("OCT", code: "ANNA"), Row("G", "2026-11-02", "ANNA"), Row("P", "2026-11-02", "ANNA", "print"));
        Assert.Equal(1000 + 1550, _book.Owed("anna"));
        var draft = _book.Get<AgreementDesk, AgreementDraft>(d => d.Draft("friends")!);
        Assert.Equal((21, Treatment.Count, November), (draft.WindowDays, draft.Shipping, draft.From));
    }

    [Fact]
    public void Faults_of_terms_name_row_and_column()
    {
        var faults = Faults(BulkKind.Terms, "agreement,scope_kind,scope_id,percent,payment_from,customer\nfriends,all,,10,,\nfriends,all,,120,two,\nnone,all,,1,,old\nart,product,spade,5,,\n");
        Assert.Equal([(3L, "payment_from"), (3L, "percent"), (4L, "agreement"), (4L, "customer"), (5L, "scope_id")], faults.Select(f => (f.Row, f.Column)).Order());
    }

    [Fact]
    public void Terms_for_today_or_before_are_refused_since_they_need_a_rehearsal() => Assert.Equal("From", Assert.Throws<RefusedException>(
        () => _book.Get<BulkChanges, (int?, IReadOnlyList<RowFault>)>(b => b.Propose(BulkKind.Terms, "terms.csv", "agreement,scope_kind,percent\nfriends,all,9\n", false, new DateOnly(2026, 10, 1), Lead))).Field);

    [Fact]
    public void What_is_no_such_file_is_refused_as_a_whole() =>
        Assert.Throws<RefusedException>(() => Faults(BulkKind.Products, "a,b\n1,2\n"));

    /// <summary>How many versions of an agreement can govern.</summary>
    private int Versions(string agreement) => _book.Get<BookCache, int>(cache => cache.Find()!.Rules.Agreement(new AgreementId(agreement)).Versions.Count);

    private static string Text((IReadOnlyList<string> Header, IEnumerable<IReadOnlyList<string>> Rows) table)
    {
        using var text = new StringWriter();
        CsvOutput.Write(text, table.Header, table.Rows);
        return text.ToString();
    }

    private int Propose(BulkKind kind, string csv, bool isWhole = false) => Propose(kind, csv, November, isWhole);

    private int Propose(BulkKind kind, string csv, DateOnly from, bool isWhole = false)
    {
        var (id, faults) = _book.Get<BulkChanges, (int?, IReadOnlyList<RowFault>)>(b => b.Propose(kind, "file.csv", csv, isWhole, from, Lead));
        Assert.Empty(faults);
        return id!.Value;
    }

    private IReadOnlyList<RowFault> Faults(BulkKind kind, string csv, bool isWhole = false) =>
        _book.Get<BulkChanges, (int? Id, IReadOnlyList<RowFault> Faults)>(b => b.Propose(kind, "file.csv", csv, isWhole, November, Lead)).Faults;

    private BulkDifferences Differences(int id) => _book.Get<BulkChanges, BulkView>(b => b.Find(id)!).Differences;

    private ProductDraft? Product(string id) => _book.Get<ProductDesk, ProductDraft?>(d => d.Draft(id));
}
