namespace EvenSplit.Web.Serving;

/// <summary>Where a payee goes on to after signing in: one of their own pages, whatever an address says.</summary>
internal static class OwnAddress
{
    private const string Home = "/me";

    private const int Longest = 300;

    /// <param name="to">As /me/questions; anything else leads home.</param>
    public static string Of(string? to) => IsOwn(to) ? to : Home;

    public static bool IsOwn([System.Diagnostics.CodeAnalysis.NotNullWhen(true)] string? to) =>
        to is { Length: <= Longest } && (to == Home || to.StartsWith("/me/", StringComparison.Ordinal)) && !to.Contains("..", StringComparison.Ordinal) && to.All(c => c is > ' ' and < (char)127 and not '\\');
}
