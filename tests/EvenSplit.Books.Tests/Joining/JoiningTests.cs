using EvenSplit.Books.Balances;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>People ask to take part, show that their address is theirs, and are approved, declined or asked back.</summary>
public sealed class JoiningTests : IDisposable
{
    private const string Lead = TestBook.Lead, Site = "https://pay.shop.example", From = "192.0.2.1";

    private static readonly DateOnly Today = new(2026, 11, 3);

    private readonly TestBook _book = new();

    public JoiningTests()
    {
        _book.MoveTo(Today);
        Say(new JoiningDraft { Way = JoiningWay.OnApproval, HoldDays = 60, RecordDays = 30, RecordOrders = 2, RecordRefunds = "50", Questions = [new QuestionDraft { Words = "What do you make?", IsNeeded = true }, new QuestionDraft { Words = "How many?", Kind = QuestionKind.OneOf, Choices = "few, many" }] });
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Who_is_approved_brings_orders_from_today_and_what_they_earn_is_held_longer()
    {
        var id = Asked("Wren Tallowby", "wren@tallowby.example");
        Approve(id);
        var payee = Of(id).Payee!;
        Assert.Equal("wren-tallowby", payee);
        Assert.Contains("Your code: WRENTALLOWBY", MailTo("wren@tallowby.example", "welcome-"), StringComparison.Ordinal);
        Assert.Contains($"{Site}/go/wren-tallowby", MailTo("wren@tallowby.example", "welcome-"), StringComparison.Ordinal);
        _book.ImportOrders(TestBook.Row("BEFORE", "2026-11-02", "WRENTALLOWBY"), TestBook.Row("AFTER", "2026-11-03", "WRENTALLOWBY"));
        var entry = Assert.Single(_book.Get<BookDbContext, EntryRecord[]>(db => [.. db.Entries.AsNoTracking().Where(e => e.Payee == payee)]));
        Assert.Equal((1000, Today.AddDays(60)), (entry.Amount, entry.ClearsOn));
    }

    [Fact]
    public void Goods_are_noted_at_cost_and_nobody_is_owed_for_them()
    {
        Say(new JoiningDraft { Way = JoiningWay.OnApproval, Gift = GiftKind.Goods, GiftAmount = "12.50", GiftNote = "a print" });
        var id = Asked("Wren", "wren@tallowby.example");
        Approve(id);
        Assert.Equal([(Today, "Friends", "a print", "€12.50")], _book.Get<GivenGoods, IReadOnlyList<(DateOnly On, string Agreement, string What, Money Cost)>>(g => g.Of("wren")).Select(g => (g.On, g.Agreement, g.What, g.Cost.InWords())));
        Assert.Equal((1, 1250L), _book.Get<GivenGoods, (int People, IReadOnlyList<Money> Cost)>(g => g.Under("friends")) is var given ? (given.People, given.Cost[0].Minor) : default);
        Assert.Equal((0L, 0), (_book.Owed("wren"), _book.Get<BookDbContext, int>(db => db.Adjustments.Count() + db.Advances.Count())));
    }

    [Fact]
    public void A_buyer_who_asks_is_recognised_and_their_own_orders_bring_them_nothing()
    {
        _book.ImportOrders(TestBook.Row("OWN", "2026-10-09"));
        _book.Do<BookDbContext>(db => db.Orders.ExecuteUpdate(set => set.SetProperty(o => o.CustomerKey, "wren@tallowby.example")));
        var (id, other) = (Asked("Wren", "wren@tallowby.example"), Asked("Jack", "jack@tallowby.example"));
        Assert.Equal(new BuyerFigures(1, new DateOnly(2026, 10, 9)), Open(id).Bought);
        Assert.Null(Open(other).Bought);
        Approve(id);
        Approve(other);
        Assert.Equal([("jack", 0), ("wren", 1)], _book.Get<BookDbContext, (string, int)[]>(db => [.. db.Payees.AsNoTracking().Where(p => p.Id == "wren" || p.Id == "jack").AsEnumerable().Select(p => (p.Id, p.CustomerKeys.Count)).Order()]));
        ApplicationView Open(int application) => _book.Get<ApplicationQueue, ApplicationView?>(q => q.Open(application))!;
    }

    [Fact]
    public void Customers_who_bring_friends_are_filled_in_once()
    {
        Assert.Throws<RefusedException>(Customers);
        _book.Do<BookDbContext>(db =>
        {
            foreach (var (code, key, name) in new[] { ("A1", "ann@home.example", "Ann"), ("A2", "ann@home.example", "Ann"), ("B1", "c-17", "Bob"), ("C1", "cy@home.example", "") }) db.CustomerCodes.Add(new CustomerCodeRecord { Code = code, CustomerKey = key, Name = name });
            db.SaveChanges();
        });
        Assert.Equal("Ann <ann@home.example>\ncy@home.example", Customers());
        _book.Do<Invitations>(i => i.Invite("friends", "ann@home.example", Lead, Site));
        Assert.Equal("cy@home.example", Customers());
        string Customers() => _book.Get<Invitations, string>(i => i.CustomersWhoBringFriends());
    }

    [Fact]
    public void New_people_are_paid_as_others_once_they_have_their_record_and_somebody_says_so()
    {
        var id = Asked("Wren", "wren@tallowby.example");
        Approve(id);
        _book.ImportOrders(TestBook.Row("A", "2026-11-03", "WREN"), TestBook.Row("B", "2026-11-03", "WREN"));
        Assert.False(New().HasRecord);
        _book.MoveTo(Today.AddDays(30));
        Assert.True(New().HasRecord);
        _book.ImportRefunds("R1,A,2026-11-20T10:00:00Z,refund,1,1,100.00,0", "R2,B,2026-11-20T10:00:00Z,refund,1,1,100.00,0");
        Assert.False(New().HasRecord);
        _book.ImportOrders(TestBook.Row("C", "2026-11-21", "WREN"), TestBook.Row("D", "2026-11-21", "WREN"));
        Assert.True(New().HasRecord);
        _book.Do<NewPeople>(n => n.End("wren", "friends", Lead));
        _book.Recalculate();
        Assert.Empty(_book.Get<NewPeople, IReadOnlyList<NewPayee>>(n => n.Find()));
        Assert.All(_book.Get<BookDbContext, EntryRecord[]>(db => [.. db.Entries.AsNoTracking().Where(e => e.Payee == "wren" && e.RefundId == null)]), e => Assert.Equal(e.PostedOn, e.ClearsOn));
        NewPayee New() => Assert.Single(_book.Get<NewPeople, IReadOnlyList<NewPayee>>(n => n.Find()));
    }

    [Fact]
    public void A_link_confirms_once_and_tells_nothing_of_others()
    {
        Ask("Wren", "wren@tallowby.example");
        var token = TokenFor("wren@tallowby.example");
        Assert.Equal((false, false), Confirm(new string('0', 64)));
        Assert.Equal((false, false), Confirm("' OR 1=1 --"));
        Assert.Equal(ApplicationState.Unconfirmed, Single().State);
        Assert.Equal((true, false), Confirm(token));
        Assert.Equal((true, false), Confirm(token));
        Assert.Equal(ApplicationState.Waiting, Single().State);
        Assert.Equal(1, _book.Get<BookDbContext, int>(db => db.Audit.Count(a => a.Action == "ask to take part")));
    }

    [Fact]
    public void A_link_opens_for_two_days()
    {
        Ask("Wren", "wren@tallowby.example");
        var token = TokenFor("wren@tallowby.example");
        _book.MoveTo(Today.AddDays(3));
        Assert.Equal((false, false), Confirm(token));
        Ask("Wren", "wren@tallowby.example");
        Assert.Equal(1, _book.Get<BookDbContext, int>(db => db.Applications.Count()));
    }

    [Fact]
    public void Nobody_floods_the_mail_of_somebody_else()
    {
        for (var i = 0; i < 10; i++) Ask("Wren", "WREN@tallowby.example");
        Assert.Equal(3, _book.Get<BookDbContext, int>(db => db.Applications.Count()));
        Assert.Equal(3, _book.Get<Outbox, int>(o => o.List().Count));
        Assert.All(_book.Get<BookDbContext, string[]>(db => [.. db.Applications.Select(a => a.Email)]), e => Assert.Equal("wren@tallowby.example", e));
    }

    [Fact]
    public void Every_field_is_looked_at_and_nothing_is_kept_of_a_bad_form()
    {
        var faults = _book.Get<Applying, IReadOnlyList<FieldFault>>(a => a.Ask("friends", new ApplicationDraft { Name = new string('x', 101), Email = "no address\r\nBcc: all@people.example", Country = "XX", Sites = "javascript:alert(1)", Note = new string('x', 4001), Answers = ["", "some"] }, From, Site));
        Assert.Equal(["Answers[0]", "Answers[1]", "Country", "Email", "Name", "Note", "Sites"], faults.Select(f => f.Field).Order(StringComparer.Ordinal));
        Assert.Empty(_book.Get<BookDbContext, ApplicationRecord[]>(db => [.. db.Applications]));
        Assert.Empty(_book.Get<Outbox, IReadOnlyList<SentMail>>(o => o.List()));
    }

    [Fact]
    public void What_somebody_calls_themselves_is_no_field_and_no_header()
    {
        Ask("{link} {code}", "wren@tallowby.example");
        Assert.Contains("Dear {link} {code},", MailTo("wren@tallowby.example", "confirm-"), StringComparison.Ordinal);
        Assert.NotEmpty(_book.Get<Applying, IReadOnlyList<FieldFault>>(a => a.Ask("friends", Draft("Wren\r\nBcc: x@people.example", "a@people.example"), From, Site)));
    }

    [Fact]
    public void An_agreement_that_takes_nobody_or_is_paused_takes_nobody()
    {
        Assert.Throws<RefusedException>(() => _book.Get<Applying, IReadOnlyList<FieldFault>>(a => a.Ask("art", Draft("Wren", "wren@tallowby.example"), From, Site)));
        _book.Do<JoiningDesk>(j => j.Pause("friends", Lead));
        Assert.Throws<RefusedException>(() => Ask("Wren", "wren@tallowby.example"));
    }

    [Fact]
    public void Paused_nobody_brings_anything_and_what_was_earned_stays()
    {
        _book.ImportOrders(TestBook.Row("A", "2026-11-02", "ANNA"));
        _book.Do<JoiningDesk>(j => j.Pause("friends", Lead));
        _book.Recalculate();
        _book.ImportOrders(TestBook.Row("B", "2026-11-03", "ANNA"));
        Assert.Equal(1000, _book.Owed("anna"));
        Assert.Throws<RefusedException>(() => _book.Do<JoiningDesk>(j => j.Pause("friends", Lead)));
        _book.MoveTo(Today.AddDays(2));
        Assert.Equal(1, _book.Get<JoiningDesk, (int Back, IReadOnlyList<string>)>(j => j.Resume("friends", Lead)).Back);
        _book.Recalculate();
        _book.ImportOrders(TestBook.Row("C", "2026-11-05", "ANNA"), TestBook.Row("D", "2026-11-04", "ANNA"));
        Assert.Equal(2000, _book.Owed("anna"));
    }

    [Fact]
    public void Declined_they_read_why_and_may_ask_again_for_a_path()
    {
        var first = Asked("Wren", "wren@tallowby.example");
        Assert.Throws<RefusedException>(() => _book.Do<ApplicationDecisions>(d => d.Decline([first], " ", Lead)));
        _book.Do<ApplicationDecisions>(d => d.Decline([first], "Not everything.", Lead));
        Assert.Contains("Not everything.", MailTo("wren@tallowby.example", "declined-"), StringComparison.Ordinal);
        Assert.Throws<RefusedException>(() => Approve(first));
        var path = _book.Get<OfferPaths, string>(p => p.Save(null, new PathDraft { Name = "Guides", Steps = [new StepDraft { Product = "guide" }] }, Lead).Id!);
        var second = Asked("Wren", "wren@tallowby.example");
        _book.Do<ApplicationDecisions>(d => d.Approve([second], new Approval(ApprovalFor.Path, [], path), Lead, Site));
        _book.ImportOrders(TestBook.Row("A", "2026-11-03", "WREN"), TestBook.Row("B", "2026-11-03", "WREN", product: "print"));
        Assert.Equal(1000, _book.Owed("wren"));
        // What is added to the path later is theirs from that day on.
        _book.MoveTo(Today.AddDays(1));
        _book.Do<OfferPaths>(p => p.Save(path, new PathDraft { Name = "Guides", Steps = [new StepDraft { Product = "guide", OnAccept = 2, OnDecline = 2 }, new StepDraft { Product = "print" }] }, Lead));
        _book.Recalculate();
        _book.ImportOrders(TestBook.Row("C", "2026-11-04", "WREN", product: "print"));
        Assert.Equal(2000, _book.Owed("wren"));
        Assert.Single(_book.Get<ApplicationQueue, ApplicationView>(q => q.Open(second)!).Others);
    }

    [Fact]
    public void Asked_back_they_answer_by_their_own_link_once()
    {
        var id = Asked("Wren", "wren@tallowby.example");
        _book.Do<ApplicationDecisions>(d => d.AskBack(id, "Where do you walk?", Lead, Site));
        var token = Token(MailTo("wren@tallowby.example", "asked-back-"));
        Assert.Equal(("Wren", "Where do you walk?"), _book.Get<Applying, (string, string)?>(a => a.Asked(token)));
        Assert.Throws<RefusedException>(() => _book.Do<Applying>(a => a.Answer(token, " ")));
        _book.Do<Applying>(a => a.Answer(token, "In the hills."));
        Assert.Throws<RefusedException>(() => _book.Do<Applying>(a => a.Answer(token, "Again")));
        var view = _book.Get<ApplicationQueue, ApplicationView>(q => q.Open(id)!);
        Assert.Equal(ApplicationState.Waiting, view.Record.State);
        Assert.Contains(new Answered("Where do you walk?", "In the hills."), view.Answers);
    }

    [Fact]
    public void What_is_known_of_somebody_is_what_the_page_of_refund_rates_says()
    {
        Approve(Asked("Wren", "wren@tallowby.example"));
        _book.ImportOrders(TestBook.Row("A", "2026-11-03", "WREN"), TestBook.Row("B", "2026-11-03", "WREN"));
        _book.ImportRefunds("R1,A,2026-11-20T10:00:00Z,refund,1,1,100.00,0");
        Assert.Equal((500_000, 500_000, true), Known());
        var row = Assert.Single(_book.Get<RefundRates, IReadOnlyList<RefundRateRow>>(r => r.Find(new Period(202611), RefundRates.MonthsOfMarks)), r => r.PayeeId == "wren");
        Assert.Equal((row.OfOrders.Millionths, row.OfMoney.Millionths, row.IsOver), Known());
        // Half a year on those orders are no longer looked at, here as there.
        _book.MoveTo(new DateOnly(2027, 6, 1));
        Assert.Equal((0, 0, false), Known());
        (long, long, bool) Known() => _book.Get<PayeeFigures, KnownFigures>(f => f.Of("wren")) is var known ? (known.RefundsOfOrders.Millionths, known.RefundsOfMoney.Millionths, known.IsOverLimit) : default;
    }

    [Fact]
    public void At_once_means_that_nobody_has_to_look()
    {
        Say(new JoiningDraft { Way = JoiningWay.AtOnce });
        Ask("Wren", "wren@tallowby.example");
        Assert.Equal((true, true), Confirm(TokenFor("wren@tallowby.example")));
        Assert.Contains(_book.Get<BookDbContext, MembershipRecord[]>(db => [.. db.Memberships.AsNoTracking()]), m => m is { PayeeId: "wren", AgreementId: "friends" } && m.From == Today);
        Assert.Contains(_book.Get<JoiningDesk, IReadOnlyList<FieldFault>>(j => j.Save("friends", new JoiningDraft { Way = JoiningWay.AtOnce, Gift = GiftKind.Bonus, GiftAmount = "10", GiftNote = "hello" }, Lead)), f => f.Field == "Gift");
    }

    [Fact]
    public void Whoever_is_trusted_is_approved_as_they_ask()
    {
        Approve(Asked("Wren", "wren@tallowby.example"));
        _book.Do<ApplicationDecisions>(d => d.Trust("wren", true, Lead));
        Say(new JoiningDraft { Way = JoiningWay.OnApproval }, "art");
        Ask("Wren again", "wren@tallowby.example", "art");
        Assert.Equal((true, true), Confirm(TokenFor("wren@tallowby.example")));
        Assert.Equal(1, _book.Get<BookDbContext, int>(db => db.Payees.Count(p => p.Email == "wren@tallowby.example")));
        Assert.Contains(_book.Get<BookDbContext, MembershipRecord[]>(db => [.. db.Memberships.AsNoTracking()]), m => m is { PayeeId: "wren", AgreementId: "art" });
    }

    [Fact]
    public void Whoever_joins_changes_nothing_that_others_have_earned_already()
    {
        Say(new JoiningDraft { Way = JoiningWay.AtOnce }, "art");
        _book.ImportOrders(TestBook.Row("A", "2026-11-03"));
        var before = _book.Owed("ines");
        Assert.NotEqual(0, before);
        Ask("Wren", "wren@tallowby.example", "art");
        Assert.Equal((true, true), Confirm(TokenFor("wren@tallowby.example")));
        _book.Recalculate();
        Assert.Equal((before, 0L), (_book.Owed("ines"), _book.Owed("wren")));
        _book.MoveTo(Today.AddDays(1));
        _book.ImportOrders(TestBook.Row("B", "2026-11-04"));
        Assert.NotEqual(0, _book.Owed("wren"));
    }

    [Fact]
    public void A_gift_is_given_once_to_who_is_new()
    {
        Say(new JoiningDraft { Way = JoiningWay.OnApproval, Gift = GiftKind.Bonus, GiftAmount = "12.50", GiftNote = "Welcome" });
        Approve(Asked("Wren", "wren@tallowby.example"));
        var gift = Assert.Single(_book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Of("wren")));
        Assert.Equal((1250, AdjustmentKind.Bonus, "Welcome"), (gift.Amount, gift.Kind, gift.Note));
        Assert.Contains("You get €12.50: Welcome.", MailTo("wren@tallowby.example", "welcome-"), StringComparison.Ordinal);
    }

    [Fact]
    public void Several_are_approved_all_or_none()
    {
        var ids = new[] { Asked("Wren", "wren@tallowby.example"), Asked("Linnet", "linnet@tallowby.example") };
        _book.Do<ApplicationDecisions>(d => d.Decline([ids[1]], "no", Lead));
        Assert.Throws<RefusedException>(() => _book.Do<ApplicationDecisions>(d => d.Approve(ids, Approval.Whole, Lead, Site)));
        Assert.Equal(ApplicationState.Waiting, Of(ids[0]).State);
        Assert.DoesNotContain(_book.Get<BookDbContext, string[]>(db => [.. db.Payees.Select(p => p.Id)]), p => p == "wren");
    }

    [Fact]
    public void Invited_they_accept_and_are_in_once()
    {
        Assert.Equal((2, 0), Invite("Wren <wren@tallowby.example>\nlinnet@tallowby.example"));
        Assert.Equal((0, 2), Invite("wren@tallowby.example\nLINNET@tallowby.example"));
        Assert.Contains("Line 2", Assert.Throws<RefusedException>(() => Invite("a@people.example\nnobody")).Message, StringComparison.Ordinal);
        var token = Token(MailTo("wren@tallowby.example", "invitation-"));
        Assert.Empty(_book.Get<Invitations, IReadOnlyList<FieldFault>>(i => i.Accept(token, Draft("Wren", "other@people.example"), From, Site)));
        Assert.Equal("wren@tallowby.example", _book.Get<BookDbContext, string?>(db => db.Payees.Single(p => p.Id == "wren").Email));
        Assert.Throws<RefusedException>(() => _book.Get<Invitations, IReadOnlyList<FieldFault>>(i => i.Accept(token, Draft("Wren", ""), From, Site)));
        var linnet = _book.Get<Invitations, IReadOnlyList<InvitationRow>>(i => i.List()).Single(r => r.IsOpen).Record.Id;
        var before = Token(MailTo("linnet@tallowby.example", "invitation-"));
        _book.Do<Invitations>(i => i.SendAgain(linnet, Lead, Site));
        Assert.False(_book.Get<Invitations, bool>(i => i.Find(before) is not null));
        _book.Do<Invitations>(i => i.Withdraw(linnet, Lead));
        Assert.DoesNotContain(_book.Get<Invitations, IReadOnlyList<InvitationRow>>(i => i.List()), r => r.IsOpen);
    }

    [Fact]
    public void A_mail_is_written_anew_with_fields_that_are_known()
    {
        Assert.Contains("{whatever}", Assert.Single(Write("Hello {name}", "Take {whatever}: {link}")).Message, StringComparison.Ordinal);
        Assert.Contains("{link}", Assert.Single(Write("Hello", "Take part")).Message, StringComparison.Ordinal);
        Assert.Empty(Write("Hello {name}", "Come: {link}"));
        Ask("Wren", "wren@tallowby.example");
        Assert.StartsWith("Come: https://pay.shop.example/apply/confirm?token=", MailTo("wren@tallowby.example", "confirm-"), StringComparison.Ordinal);
        IReadOnlyList<FieldFault> Write(string subject, string text) => _book.Get<MailTemplates, IReadOnlyList<FieldFault>>(t => t.Save(MailKind.Confirm, subject, text, Lead));
    }

    private (int Invited, int Known) Invite(string people) => _book.Get<Invitations, (int, int)>(i => i.Invite("friends", people, Lead, Site));

    private void Say(JoiningDraft draft, string agreement = "friends") => Assert.Empty(_book.Get<JoiningDesk, IReadOnlyList<FieldFault>>(j => j.Save(agreement, draft, Lead)));

    private static ApplicationDraft Draft(string name, string email) => new() { Name = name, Email = email, Country = "IE", Answers = ["Walks", "few"], Accepts = true };

    private void Ask(string name, string email, string agreement = "friends") => Assert.Empty(_book.Get<Applying, IReadOnlyList<FieldFault>>(a => a.Ask(agreement, Draft(name, email), From, Site)));

    private (bool, bool) Confirm(string token) => _book.Get<Applying, (bool, bool)>(a => a.Confirm(token, Site));

    private int Asked(string name, string email)
    {
        Ask(name, email);
        Assert.True(Confirm(TokenFor(email)).Item1);
        return _book.Get<BookDbContext, int>(db => db.Applications.Where(a => a.Email == email).Max(a => a.Id));
    }

    private void Approve(int id)
    {
        _book.Do<ApplicationDecisions>(d => d.Approve([id], Approval.Whole, Lead, Site));
        _book.Recalculate();
    }

    private ApplicationRecord Of(int id) => _book.Get<BookDbContext, ApplicationRecord>(db => db.Applications.AsNoTracking().Single(a => a.Id == id));

    private ApplicationRecord Single() => _book.Get<BookDbContext, ApplicationRecord>(db => db.Applications.AsNoTracking().Single());

    private string TokenFor(string email) => Token(MailTo(email, "confirm-"));

    private static string Token(string text)
    {
        var from = text.IndexOf("token=", StringComparison.Ordinal) + "token=".Length;
        return text[from..(from + 64)];
    }

    /// <summary>The last mail to somebody of one kind.</summary>
    private string MailTo(string email, string kind) => _book.Get<Outbox, string>(o => o.Find(o.List().First(m => m.To.Contains(email, StringComparison.Ordinal) && m.Id.StartsWith(kind, StringComparison.Ordinal)).Id)!.Text);
}
