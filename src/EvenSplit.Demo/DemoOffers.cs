using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Books.Rewards;
using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Demo;

/// <summary>How Hedgerow &amp; Sky sells: price and payment plans, an offer path, a target, and rewards for customers who bring a friend.</summary>
internal static class DemoOffers
{
    /// <summary>The products that orders are held against, and how.</summary>
    public static IReadOnlyDictionary<string, PlanDraft> Plans { get; } = new Dictionary<string, PlanDraft>
    {
        ["box-owl"] = new() { Price = PriceKind.Fixed, Payments = PaymentKind.Once },
        ["print-map"] = new() { Price = PriceKind.Minimum, Payments = PaymentKind.Once },
        ["print-oak"] = new() { Price = PriceKind.Fixed, AtMost = 110, Payments = PaymentKind.Once },
        ["sound-seasons"] = new() { Price = PriceKind.Fixed, Payments = PaymentKind.Instalments, Instalments = 4, EveryMonths = 1 },
        ["club-year"] = new() { Price = PriceKind.Fixed, Payments = PaymentKind.Subscription, EveryMonths = 12, TrialDays = 30, TrialPrice = "1.00" },
    };

    public static PathDraft Path { get; } = new()
    {
        Name = "After a field guide",
        Steps =
        [
            new StepDraft { Product = "guide-hedgerow", OnAccept = 2, OnDecline = 4 },
            new StepDraft { Product = "sound-seasons", OnAccept = 5, OnDecline = 3 },
            new StepDraft { Product = "sound-dawn", OnAccept = 5 },
            new StepDraft { Product = "guide-first", OnAccept = 5 },
            new StepDraft { Product = "club-year" },
        ],
    };

    public static TargetDraft Target { get; } = new()
    {
        Name = "The autumn hedge",
        Agreement = "friends-of-the-hedge",
        Measure = TargetMeasure.Sales,
        AtLeast = "250",
        Window = ProgressWindow.Month,
        From = new DateOnly(2026, 10, 1),
        Bonus = "25.00",
    };

    public static SchemeDraft Scheme { get; } = new()
    {
        Name = "Bring a friend to the hedge",
        From = new DateOnly(2026, 9, 1),
        CreditPercent = "5",
        HoldDays = 14,
        Discounts = [new FriendDiscountDraft { Collection = "field-guides", Percent = "10" }, new FriendDiscountDraft { Collection = "pins", PerUnit = "1.00" }],
    };

    public static IReadOnlyList<(string Code, string Key, string Name)> Codes { get; } =
        [("ISOLDE-WREN", "c0007", "Isolde Marchbank"), ("TAVIN-HARE", "c0112", "Tavin Oakshade"), ("PETRA-FERN", "c0301", "Petra Lindqvale")];

    /// <summary>What friends bought in October, and an owl box that went out at a tenth of its price.</summary>
    public const string Orders =
        """
        order_id,channel,placed_at,paid_at,currency,processor,customer,customer_key,prices_include_tax,shipping,shipping_tax,coupon_codes,line_id,product,quantity,unit_price,line_discount,line_tax,requires_shipping
        HS-20001,shop,2026-10-06T09:12:00Z,2026-10-06T09:14:00Z,EUR,card,new,f0001,yes,5.95,1.11,ISOLDE-WREN,1,guide-hedgerow,1,24.00,2.40,0,yes
        HS-20001,shop,2026-10-06T09:12:00Z,2026-10-06T09:14:00Z,EUR,card,new,f0001,yes,5.95,1.11,ISOLDE-WREN,2,pin-wren,2,9.50,2.00,3.18,yes
        HS-20002,shop,2026-10-09T18:40:00Z,2026-10-09T18:41:00Z,EUR,card,new,f0002,yes,5.95,1.11,tavin-hare,1,guide-owls,1,22.00,2.20,0,yes
        HS-20003,shop,2026-10-14T07:55:00Z,2026-10-14T07:58:00Z,EUR,card,returning,c0415,yes,5.95,1.11,ISOLDE-WREN,1,guide-moss,1,26.00,2.60,0,yes
        HS-20004,shop,2026-10-19T12:03:00Z,2026-10-19T12:05:00Z,EUR,card,new,f0004,yes,0,0,PETRA-FERN,1,guide-shore,2,24.00,2.40,0,yes
        HS-20005,shop,2026-10-27T20:30:00Z,,EUR,card,new,f0005,yes,5.95,1.11,PETRA-FERN,1,guide-ponds,1,22.00,2.20,0,yes
        HS-20006,shop,2026-10-21T10:10:00Z,2026-10-21T10:12:00Z,EUR,card,new,f0006,yes,5.95,1.11,,1,box-owl,1,8.90,0,1.66,yes
        """;
}
