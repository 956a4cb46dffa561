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
    /// <summary>A payee's own pages.</summary>
    public const string Own = "own";
    /// <summary>What a payee does on them; not whoever of the house looks at them.</summary>
    public const string OwnChange = "own-change";
}
