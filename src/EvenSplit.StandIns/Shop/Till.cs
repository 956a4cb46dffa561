using EvenSplit.Core;
using EvenSplit.StandIns.Processor;

namespace EvenSplit.StandIns.Shop;

/// <summary>What a buyer fills in.</summary>
public sealed record Basket(string Product, long Quantity, string Customer, string Code, string Visitor, bool IsTest, bool AsTrial, bool PaysLater);

/// <summary>Sells, renews and takes back; everything it does goes out as events.</summary>
public sealed class Till(ShopState state, ShopCatalogue catalogue)
{
    private const long DisputeFee = 1500;

    public ShopOrder Sell(Basket basket)
    {
        var product = catalogue.Find(basket.Product) ?? throw new ArgumentException($"The shop does not sell {basket.Product}.", nameof(basket));
        var path = catalogue.PathAfter(product.Id);
        var trial = basket.AsTrial ? product.Payments?.Trial : null;
        return state.Change(kept => Add(kept, product, basket, trial?.Price ?? product.Price, trial is null ? 1 : 0, null, path?.Path, path?.Steps[0].OnAccept, basket.PaysLater));
    }

    /// <summary>Takes the buyer on along the path: what they accept is an order of its own.</summary>
    /// <returns>The order on which the path goes on; its step is null where it has ended.</returns>
    public ShopOrder Answer(string orderId, bool accepted) => state.Change(kept =>
    {
        var order = kept.Orders.Single(o => o.Id == orderId);
        if (order.Step is not { } offered || Offered(order) is not { } product) return order;
        var step = catalogue.Steps(order.Path!)[offered];
        if (accepted) Add(kept, product, new Basket(product.Id, 1, order.Customer, order.Code, order.Visitor, order.IsTest, false, false), product.Price, 1, null, null, null, paysLater: false);
        order.Step = accepted ? step.OnAccept : step.OnDecline;
        return order;
    });

    /// <summary>What is offered to the buyer of an order now; null where the path has ended.</summary>
    public ShopProduct? Offered(ShopOrder order) =>
        order.Step is { } step && catalogue.Steps(order.Path ?? "") is { } steps && step < steps.Count ? catalogue.Find(steps[step].Product) : null;

    public void Pay(string orderId) => state.Change(kept =>
    {
        var order = kept.Orders.Single(o => o.Id == orderId);
        if (order.PaidAt is null) Charge(kept, order);
        return order;
    });

    /// <param name="kind">refund, chargeback or cancel: the whole order each time.</param>
    public void TakeBack(string orderId, string kind) => state.Change(kept =>
    {
        var order = kept.Orders.Single(o => o.Id == orderId);
        if (order.IsTakenBack || order.PaidAt is null) return order;
        order.IsTakenBack = true;
        order.RenewsOn = null;
        var fee = kind == "chargeback" ? DisputeFee : 0;
        var refund = $"SR-{++kept.LastRefund}";
        kept.Outgoing.Add(ShopEvents.TakenBack(order, refund, kind, state.Now, fee));
        if (!order.IsTest) kept.Unsettled.Add(new Movement(kind == "chargeback" ? "chargeback" : "refund", order.Id, kept.Today, -order.Charged, fee, refund));
        return order;
    });

    /// <summary>The next payment of a subscription, ahead of its day.</summary>
    public void Renew(string orderId) => state.Change(kept =>
    {
        RenewNow(kept, kept.Orders.Single(o => o.Id == orderId));
        return kept.Today;
    });

    /// <summary>Moves the shop's clock on by a day; what falls due is renewed.</summary>
    public void NextDay() => state.Change(kept =>
    {
        kept.Today = kept.Today.AddDays(1);
        foreach (var order in kept.Orders.Where(o => o.RenewsOn <= kept.Today).ToArray()) RenewNow(kept, order);
        return kept.Today;
    });

    private ShopOrder Add(ShopState.Kept kept, ShopProduct product, Basket basket, long price, int paymentNumber, string? origin, string? path, int? step, bool paysLater)
    {
        var order = new ShopOrder
        {
            Id = $"SH-{++kept.LastOrder}",
            Product = product.Id,
            Quantity = basket.Quantity,
            UnitPrice = price,
            Tax = product.TaxIn(price * basket.Quantity),
            Customer = basket.Customer,
            Visitor = basket.Visitor,
            Code = basket.Code,
            IsTest = basket.IsTest,
            IsReturning = kept.Orders.Exists(o => o.Customer == basket.Customer && o.PaidAt is not null && !o.IsTest),
            PaymentNumber = paymentNumber,
            Origin = origin,
            PlacedAt = state.Now,
            Path = path,
            Step = step,
            RenewsOn = Due(product, kept.Today, paymentNumber),
        };
        kept.Orders.Add(order);
        kept.Outgoing.Add(ShopEvents.Placed(order, product));
        if (!paysLater) Charge(kept, order);
        return order;
    }

    private static DateOnly? Due(ShopProduct product, DateOnly today, int paymentNumber) => product.Payments switch
    {
        { Trial: { } trial } when paymentNumber == 0 => today.AddDays(trial.Days),
        { Kind: PaymentKind.Subscription, EveryMonths: var months } => today.AddMonths(months),
        { Kind: PaymentKind.Instalments, EveryMonths: var months, Instalments: var count } when paymentNumber < count => today.AddMonths(months),
        _ => null,
    };

    private void Charge(ShopState.Kept kept, ShopOrder order)
    {
        order.PaidAt = state.Now;
        order.Fee = order.IsTest ? 0 : Settlements.FeeFor(order.Charged);
        if (!order.IsTest) kept.Unsettled.Add(new Movement("sale", order.Id, kept.Today, order.Charged, order.Fee));
        kept.Outgoing.Add(ShopEvents.Paid(order));
    }

    private void RenewNow(ShopState.Kept kept, ShopOrder order)
    {
        if (order.RenewsOn is null || order.IsTakenBack || catalogue.Find(order.Product) is not { } product) return;
        order.RenewsOn = null;
        Add(kept, product, new Basket(product.Id, order.Quantity, order.Customer, "", "", order.IsTest, false, false), product.Price, order.PaymentNumber + 1, order.Origin ?? order.Id, null, null, paysLater: false);
    }
}
