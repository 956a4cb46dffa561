namespace EvenSplit.Core;

public enum BaseStepKind { GoodsNet, DiscountExTax, Tax, ShippingTax, Shipping, Rebate, ProcessingFee, ChannelFee, Cost, Rank1, FloorAtZero }

/// <summary>One step from the goods down to the share base, signed, in minor units of the order's currency.</summary>
public readonly record struct BaseStep(BaseStepKind Kind, Fraction Amount);

/// <summary>What a share is taken of (contract, section 5).</summary>
internal static class ShareBase
{
    /// <param name="rank1OnLine">Rank 1 entries on the line, converted; used where the version shares after referral.</param>
    /// <param name="steps">Where given, receives every step taken.</param>
    public static Fraction Of(AgreementVersion version, int rank, in LineState line, bool afterRefund, long rank1OnLine, List<BaseStep>? steps)
    {
        var sum = Fraction.Zero;
        void Add(BaseStepKind kind, Fraction amount)
        {
            sum += amount;
            steps?.Add(new BaseStep(kind, amount));
        }

        Add(BaseStepKind.GoodsNet, line.Goods);
        if (version.DiscountBorneBy == DiscountBearer.House) Add(BaseStepKind.DiscountExTax, line.Left(line.AtSale.DiscountExTax));
        if (version.Tax == Treatment.Count)
        {
            Add(BaseStepKind.Tax, line.Tax);
            if (version.Shipping == Treatment.Count) Add(BaseStepKind.ShippingTax, line.ShippingTax);
        }
        if (version.Shipping == Treatment.Count) Add(BaseStepKind.Shipping, line.Shipping);
        if (version.Rebate == Treatment.Count) Add(BaseStepKind.Rebate, line.Left(line.AtSale.Rebate));
        var houseBearsLost = version.LostFees == LostFeeBearer.House;
        if (version.DeductProcessingFee) Add(BaseStepKind.ProcessingFee, -(houseBearsLost ? line.Left(line.AtSale.ProcessingFee) : line.ProcessingFeeIfShared));
        if (version.DeductChannelFee) Add(BaseStepKind.ChannelFee, -(houseBearsLost ? line.Left(line.AtSale.ChannelFee) : line.AtSale.ChannelFee));
        if (version.DeductCost) Add(BaseStepKind.Cost, -line.Cost);
        if (version.AfterReferral && rank == 2) Add(BaseStepKind.Rank1, -Math.Max(0, rank1OnLine));
        if (sum.Sign < 0 && !(afterRefund && !houseBearsLost))
        {
            steps?.Add(new BaseStep(BaseStepKind.FloorAtZero, -sum));
            return Fraction.Zero;
        }
        return sum;
    }
}
