namespace EvenSplit.Core;

/// <summary>What an order or a refund says that is at fault; each reader knows what its own file calls it.</summary>
public enum SalesField
{
    Id, Channel, Processor, Origin, Discount, Shipping, ShippingTax, ProcessingFee, ChannelFee, Rebate, ManualPayee, Code, ClickPayee, Lines,
    LineId, Product, Variant, Quantity, UnitPrice, LineDiscount, LineTax, PaymentNumber,
    RefundedOrder, RefundShipping, RefundShippingTax, FeeReturned, DisputeFee, RefundLine, RefundQuantity, RefundGoods, RefundTax,
}

/// <summary>What is wrong with it (contract, section 10).</summary>
public enum SalesFaultKind
{
    /// <summary>An id or code without a character.</summary>
    Empty,
    /// <summary>An id that is there already.</summary>
    Twice,
    /// <summary>An id of nothing that the book knows.</summary>
    Unknown,
    /// <summary>A variant of another product, which <see cref="SalesFault.Other"/> names.</summary>
    OfOther,
    /// <summary>A number below <see cref="SalesFault.Limit"/>, which is 0, or 1 for what is sold.</summary>
    Below,
    /// <summary>Beyond the largest amount there is.</summary>
    Beyond,
    /// <summary>Price times quantity beyond the largest amount there is.</summary>
    ListBeyond,
    /// <summary>A discount above what it is taken from, or tax above what it is in.</summary>
    AboveWhole,
    /// <summary>An order without lines.</summary>
    None,
}

/// <summary>One fault of an order or refund, not yet in words.</summary>
/// <param name="Index">Which line, click or code, from 0; -1 where it is the order's or the refund's own.</param>
/// <param name="Value">The number at fault, minor units where it is money.</param>
/// <param name="Limit">What it must not pass.</param>
/// <param name="Text">The id at fault.</param>
/// <param name="Other">The id it stands against.</param>
public readonly record struct SalesFault(SalesField Field, SalesFaultKind Kind, int Index = -1, Int128 Value = default, Int128 Limit = default, string Text = "", string Other = "");

/// <summary>What orders may name.</summary>
public interface IKnownIds
{
    bool HasProduct(ProductId id);

    /// <summary>The product a variant is of; null where there is no such variant.</summary>
    ProductId? ProductOf(VariantId variant);

    bool HasPayee(PayeeId id);
}
