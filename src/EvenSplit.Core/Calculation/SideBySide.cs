using System.Runtime.ExceptionServices;

namespace EvenSplit.Core;

/// <summary>Work on many things that have nothing to do with each other, on all cores.</summary>
public static class SideBySide
{
    /// <summary>Does it for each number below <paramref name="count"/>; what one of them throws comes out as it was thrown.</summary>
    public static void For(int count, Action<int> work)
    {
        try
        {
            Parallel.For(0, count, work);
        }
        catch (AggregateException several)
        {
            ExceptionDispatchInfo.Throw(several.Flatten().InnerExceptions[0]);
        }
    }
}
