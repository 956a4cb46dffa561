namespace EvenSplit.Core;

/// <summary>A signed amount with a note the payee will read: a bonus, a recharge, a correction.</summary>
public sealed record Adjustment(string Id, PayeeId Payee, DateOnly On, Money Amount, string Note);

/// <summary>A run to be made. Without payees it serves everyone.</summary>
public sealed record RunRequest(RunId Id, DateOnly AsOf, IReadOnlyList<PayeeId>? Payees);

/// <summary>Everything one book knows: what the whole result is a function of.</summary>
public sealed record Facts(
    Rulebook Rules,
    IReadOnlyList<Order> Orders,
    IReadOnlyList<Refund> Refunds,
    IReadOnlyList<Adjustment> Adjustments,
    IReadOnlyList<RunRequest> Runs);

public enum OrderStatus { Calculated, Unpaid, Test }

/// <summary>An order's figures at the sale, in minor units of its currency. A test order has none.</summary>
public sealed record OrderResult(
    Order Order, OrderStatus Status, AttributionDecision Attribution, OrderFigures? Figures, long Earnings, long House);

public sealed record RunResult(RunId Id, DateOnly AsOf, IReadOnlyList<Remittance> Payees);

/// <summary>What a book comes to (contract, section 10): orders as listed, entries in the order of their events.</summary>
public sealed record BookResult(
    IReadOnlyList<OrderResult> Orders,
    IReadOnlyList<Entry> Entries,
    IReadOnlyList<RunResult> Runs,
    IReadOnlyList<CalculationException> Exceptions);
