namespace EvenSplit.Core;

/// <summary>How much of something went back.</summary>
public static class RefundShare
{
    /// <summary>The part of the earned that was taken back, cut off after six places; 0 where nothing was earned.</summary>
    /// <param name="back">As much as went back, 0 or above; minor units, or a count.</param>
    /// <param name="of">Of which it is a part, in the same unit.</param>
    public static Rate Of(long back, long of) => of <= 0 ? Rate.Zero : new Rate((long)((Int128)back * Rate.One / of));
}
