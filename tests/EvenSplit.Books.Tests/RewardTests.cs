using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Rewards;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Rewards between customers: only paid orders of somebody else count, refunds take credit back, and credit is given once.</summary>
public sealed class RewardTests : IDisposable
{
    private const string Header = "order_id,channel,placed_at,paid_at,currency,customer,customer_key,coupon_codes,line_id,product,quantity,unit_price,line_discount";

    private static readonly SchemeDraft Scheme = new()
    {
        Name = "Friends",
        From = new DateOnly(2026, 9, 1),
        CreditPercent = "5",
        CreditFixed = "1.00",
        HoldDays = 7,
        Discounts = [new FriendDiscountDraft { Percent = "10" }, new FriendDiscountDraft()],
    };

    private readonly TestBook _book = new();

    public RewardTests()
    {
        Assert.Empty(Add(Scheme));
        _book.Do<RewardSchemes>(s => s.AddCode("IVY", "c1", "Ivy", Lead));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_paid_order_of_a_new_friend_brings_credit_and_nothing_else_does()
    {
        Import("A", customer: "c2", code: "ivy"); // codes compare without regard to case
        Import("OWN", customer: "c1");
        Import("OLD", customer: "c3", kind: "returning");
        Import("UNPAID", customer: "c4", paid: false);
        Import("BEFORE", day: "2026-08-20", customer: "c5");
        var rows = Rows();
        Assert.Equal(["A", "OLD", "OWN"], rows.Select(r => r.Order).Order(StringComparer.Ordinal));
        var good = rows.Single(r => r.Order == "A");
        Assert.Equal((9000, 1000, 1000, 550L, null), (good.Goods.Minor, good.Due.Minor, good.Given.Minor, good.Credit!.Value, good.Why));
        Assert.Equal(["their own order", "not a new customer"], rows.Where(r => r.Order != "A").OrderBy(r => r.Order == "OLD").Select(r => r.Why));
        Assert.All(rows.Where(r => r.Order != "A"), r => Assert.Equal(0, r.Credit));
    }

    [Fact]
    public void A_customer_sees_what_their_own_codes_brought()
    {
        _book.Do<RewardSchemes>(s => s.AddCode("OAK", "c9", "Oak", Lead));
        Import("A", customer: "c2");
        Import("LATER", customer: "c4", paid: false);
        Import("OTHERS", customer: "c5", code: "oak");
        var view = Of("c1")!;
        Assert.Equal(("Ivy", 1, 550L), (view.Name, view.Unpaid, view.Credit.Owed + view.Held));
        Assert.Equal(["A"], view.Rows.Select(r => r.Order));
        Assert.Equal(["OTHERS"], Of("c9")!.Rows.Select(r => r.Order));
        Assert.Null(Of("c2"));
        Assert.Equal(Credits().Single(c => c.Key == "c1"), view.Credit);
        CustomerFriends? Of(string key) => _book.Get<RewardReport, CustomerFriends?>(r => r.OfCustomer(key));
    }

    [Fact]
    public void A_link_opens_one_customers_page_and_cannot_be_made_up()
    {
        var token = _book.Get<CustomerLinks, string>(l => l.TokenOf("c1"));
        Assert.Equal("c1", CustomerOf(token));
        foreach (var other in new[] { "", "c1", token[..^1], token + "A", token.Replace(token[20], token[20] == 'A' ? 'B' : 'A'), new string('x', 5000) }) Assert.Null(CustomerOf(other));
        string? CustomerOf(string text) => _book.Get<CustomerLinks, string?>(l => l.CustomerOf(text));
    }

    [Fact]
    public void Credit_is_given_once_and_a_refund_makes_the_next_smaller()
    {
        Import("A", customer: "c2");
        Assert.Equal([(550L, 0L)], Credits().Select(c => (c.Earned, c.Given)));
        Assert.Equal([550L], _book.Get<RewardReport, IReadOnlyList<CustomerCredit>>(r => r.Give(Lead)).Select(c => c.Owed));
        Assert.Throws<RefusedException>(() => _book.Do<RewardReport>(r => r.Give(Lead)));
        _book.ImportRefunds("R,A,2026-09-22T12:00:00Z,cancel,,,,");
        Assert.Equal([-550L], Credits().Select(c => c.Owed));
        Import("B", customer: "c3");
        Import("C", customer: "c4");
        Assert.Equal([550L], _book.Get<RewardReport, IReadOnlyList<CustomerCredit>>(r => r.Give(Lead)).Select(c => c.Owed));
        Assert.Throws<Microsoft.Data.Sqlite.SqliteException>(() => _book.Do<BookDbContext>(db => db.StoreCredits.ExecuteDelete()));
    }

    [Fact]
    public void What_is_still_held_is_not_given()
    {
        Import("A", day: "2026-09-28", customer: "c2");
        Assert.True(Assert.Single(Rows()).IsHeld);
        Assert.Empty(Credits());
    }

    [Fact]
    public void A_code_is_one_customers_only_and_no_payees()
    {
        Assert.Contains("Anna", Refused("ANNA").Message, StringComparison.Ordinal);
        Assert.Contains("Ivy", Refused("Ivy").Message, StringComparison.Ordinal);
        Assert.Contains("without a space", Refused("TWO WORDS").Message, StringComparison.Ordinal);
    }

    [Fact]
    public void One_scheme_holds_at_a_time_and_its_fields_must_make_sense()
    {
        Assert.Equal(["From"], Add(Scheme with { From = new DateOnly(2026, 12, 1) }).Select(f => f.Field));
        _book.Do<RewardSchemes>(s => s.End(1, new DateOnly(2026, 12, 1), Lead));
        Assert.Empty(Add(Scheme with { From = new DateOnly(2026, 12, 1) }));
        Assert.Equal(["Name", "CreditPercent"], Add(new SchemeDraft { From = new DateOnly(2026, 1, 1), To = new DateOnly(2026, 2, 1) }).Select(f => f.Field));
        Assert.Equal(["Discounts[0].PerUnit", "Discounts[1].Collection"], Add(Scheme with { From = new DateOnly(2026, 1, 1), To = new DateOnly(2026, 2, 1), Discounts = [new FriendDiscountDraft { Percent = "1", PerUnit = "1" }, new FriendDiscountDraft { Percent = "2" }] }).Select(f => f.Field));
    }

    private RefusedException Refused(string code) => Assert.Throws<RefusedException>(() => _book.Do<RewardSchemes>(s => s.AddCode(code, "c9", "Nora", Lead)));

    private void Import(string order, string customer, string day = "2026-09-20", string code = "IVY", string kind = "new", bool paid = true) => Assert.Equal(ImportState.Done, _book.Read(_book.Queue(
        ImportKind.Orders, $"{Header}\n{order},shop,{day}T12:00:00Z,{(paid ? day + "T12:05:00Z" : "")},EUR,{kind},{customer},{code},1,guide,1,100.00,10.00\n")).State);

    private IReadOnlyList<RewardRow> Rows() => _book.Get<RewardReport, IReadOnlyList<RewardRow>>(r => r.Rows(Period.Of(new DateOnly(2026, 9, 1)), Period.Of(new DateOnly(2026, 10, 1))));

    private IReadOnlyList<CustomerCredit> Credits() => _book.Get<RewardReport, IReadOnlyList<CustomerCredit>>(r => r.Credits());

    private IReadOnlyList<FieldFault> Add(SchemeDraft draft) => _book.Get<RewardSchemes, IReadOnlyList<FieldFault>>(s => s.Add(draft, Lead));
}
