using EvenSplit.Books.Forms;
using EvenSplit.Books.Ledger;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Entries, materials and details as a payee sees and sets them.</summary>
public sealed class OwnTraceTests : IDisposable
{
    private const string Lead = TestBook.Lead;

    private readonly TestBook _book = new();

    public OwnTraceTests()
    {
        _book.MoveTo(new DateOnly(2026, 11, 3));
        _book.ImportOrders(TestBook.Row("A-17", code: "ANNA"));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void An_entry_opens_for_its_payee_alone()
    {
        var id = Entry("anna");
        var own = Find("anna", id)!;
        Assert.Equal(("A-17", 1000L, 10_000L), (own.Order, own.Amount.Minor, (long)own.Trace!.Base!.Value.Round()));
        Assert.Null(Find("ines", id));
        Assert.Null(Find("anna", id + 1000));
    }

    [Fact]
    public void Where_the_order_is_hidden_the_same_number_stands_for_it_everywhere()
    {
        Show(false);
        var own = Find("anna", Entry("anna"))!.Order;
        Assert.Matches("^sale [0-9A-F]{8}$", own);
        Assert.Equal(own, _book.Get<ShownToPayees, string>(s => s.Shown(Row(s)).OrderId));
        Assert.Equal("A-17", Find("ines", Entry("ines"))!.Order);
        Assert.NotEqual(own, _book.Get<ShownToPayees, string>(s => s.OrderFor("friends", "A-18")));
        EntryRow Row(ShownToPayees _) => _book.Get<EntryList, EntryRow>(l => l.Find(new EntryFilter(null, null, "anna", EntryKindFilter.Any, null)).Rows[0]);
    }

    [Fact]
    public void An_example_is_shown_as_it_would_be_before_anything_is_kept()
    {
        var example = _book.Get<OwnTraces, OwnEntry?>(t => t.Example("friends", new AgreementViewRecord { AgreementId = "friends", Steps = ShownSteps.All, ShowsOrders = false }))!;
        Assert.StartsWith("sale ", example.Order, StringComparison.Ordinal);
        Assert.Empty(_book.Get<BookDbContext, AgreementViewRecord[]>(db => [.. db.AgreementViews]));
        Show(false);
        Show(true);
        Assert.Equal("A-17", _book.Get<ShownToPayees, string>(s => s.OrderFor("friends", "A-17")));
        Assert.Null(_book.Get<OwnTraces, OwnEntry?>(t => t.Example("nothing", new AgreementViewRecord { AgreementId = "nothing" })));
    }

    [Fact]
    public void Materials_are_for_those_on_the_agreement_while_they_are_offered()
    {
        Assert.Empty(Add(new MaterialDraft { Name = "For friends", Agreement = "friends", Text = "See {link} with {code}, {other}" }));
        Assert.Empty(Add(new MaterialDraft { Name = "For all", Text = "Hello" }, [0x89, 0x50, 0x4E, 0x47]));
        Assert.Empty(Add(new MaterialDraft { Name = "Later", Text = "Soon", From = new DateOnly(2026, 12, 1) }));
        Assert.Equal([new OwnMaterial(2, "For all", "Hello", true), new OwnMaterial(1, "For friends", "See https://l with ANNA, {other}", false)], Of("anna"));
        Assert.Equal([2], Of("ines").Select(m => m.Id));
        Assert.NotNull(_book.Get<Materials, (byte[], string)?>(m => m.Picture("ines", 2)));
        _book.Do<Materials>(m => m.End(2, Lead));
        Assert.Null(_book.Get<Materials, (byte[], string)?>(m => m.Picture("ines", 2)));
        Assert.Empty(Of("ines"));
        Assert.Equal(["Agreement", "Name", "Picture", "To"], Add(new MaterialDraft { Agreement = "none", From = new DateOnly(2026, 12, 1), To = new DateOnly(2026, 11, 1) }, [.. "<svg/>"u8]).Select(f => f.Field).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void They_say_how_they_are_reached_and_ask_for_where_their_money_goes()
    {
        Assert.Equal(["Language"], _book.Get<OwnDetails, IReadOnlyList<FieldFault>>(d => d.SetReach("anna", new ReachDraft { Language = "Klingonese?" }, new())).Select(f => f.Field));
        Assert.Empty(_book.Get<OwnDetails, IReadOnlyList<FieldFault>>(d => d.SetReach("anna", new ReachDraft { Language = "pt-BR", PostalAddress = "A street\nA town", IsUnsubscribed = true }, new())));
        Assert.Equal(("pt-BR", true), _book.Get<OwnDetails, ReachDraft>(d => d.Reach("anna")) is var reach ? (reach.Language, reach.IsUnsubscribed) : default);
        Assert.Throws<RefusedException>(() => _book.Get<OwnDetails, IReadOnlyList<FieldFault>>(d => d.Propose("anna", new Payouts.PayoutDetailsDraft { Method = PayoutMethod.Through, Through = "ines" })));
        Assert.Empty(_book.Get<OwnDetails, IReadOnlyList<FieldFault>>(d => d.Propose("anna", new Payouts.PayoutDetailsDraft { Method = PayoutMethod.Wallet, Recipient = "anna@wallet.example" })));
        Assert.Equal("Anna", Assert.Single(_book.Get<Payouts.PayoutDetails, IReadOnlyList<PayoutDetailsRecord>>(d => d.Waiting())).ProposedBy);
    }

    [Fact]
    public void What_the_lead_changed_meanwhile_is_not_overwritten()
    {
        var shown = _book.Get<OwnDetails, ReachDraft>(d => d.Reach("anna"));
        _book.Do<BookDbContext>(db => db.Payees.Where(p => p.Id == "anna").ExecuteUpdate(s => s.SetProperty(p => p.Language, "de").SetProperty(p => p.PostalAddress, "New street\nTown")));

        // The language was not touched here, so the lead's stays; the address was changed by both.
        var mine = shown with { PostalAddress = "My street", IsUnsubscribed = true };
        Assert.Equal([("PostalAddress", "Changed since you opened this page: it is now New street\nTown. Save again to put yours in its place.")], SetReach(mine, shown).Select(f => (f.Field, f.Message)));
        Assert.Equal(new ReachDraft { Language = "de", PostalAddress = "New street\nTown" }, _book.Get<OwnDetails, ReachDraft>(d => d.Reach("anna")));

        Assert.Empty(SetReach(mine with { PostalAddress = "New street\r\nTown" }, shown));
        Assert.Equal(new ReachDraft { Language = "de", PostalAddress = "New street\nTown", IsUnsubscribed = true }, _book.Get<OwnDetails, ReachDraft>(d => d.Reach("anna")));
    }

    private IReadOnlyList<FieldFault> SetReach(ReachDraft draft, ReachDraft shown) => _book.Get<OwnDetails, IReadOnlyList<FieldFault>>(d => d.SetReach("anna", draft, shown));

    private IReadOnlyList<FieldFault> Add(MaterialDraft draft, byte[]? picture = null) => _book.Get<Materials, IReadOnlyList<FieldFault>>(m => m.Add(draft, picture, Lead));

    private IReadOnlyList<OwnMaterial> Of(string payee) => _book.Get<Materials, IReadOnlyList<OwnMaterial>>(m => m.Of(payee, "https://l", payee.ToUpperInvariant()));

    private void Show(bool orders) => _book.Do<ShownToPayees>(s => s.Save(new AgreementViewRecord { AgreementId = "friends", ShowsOrders = orders }, Lead));

    private OwnEntry? Find(string payee, long id) => _book.Get<OwnTraces, OwnEntry?>(t => t.Find(payee, id));

    private long Entry(string payee) => _book.Get<BookDbContext, long>(db => db.Entries.AsNoTracking().First(e => e.Payee == payee).Id);
}
