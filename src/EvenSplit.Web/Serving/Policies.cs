namespace EvenSplit.Web.Serving;

/// <summary>What somebody may do beyond reading.</summary>
internal static class Policies
{
    /// <summary>Everything that changes the book.</summary>
    public const string Change = "change";
    /// <summary>Signing in and out: no role is asked for.</summary>
    public const string Anyone = "anyone";
    /// <summary>Releasing a run; never one's own, which the run itself sees to.</summary>
    public const string Approve = "approve";
}
