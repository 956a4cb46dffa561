using System.Linq.Expressions;

namespace EvenSplit.Books;

/// <summary>Finds what somebody names: it may have gone since their page was made.</summary>
internal static class Rows
{
    /// <exception cref="RefusedException">It is not there.</exception>
    public static T Known<T>(this IQueryable<T> rows, Expression<Func<T, bool>> which) where T : class =>
        rows.SingleOrDefault(which) ?? throw new RefusedException("This is not in the book any more; it was removed meanwhile, or never was. Nothing was changed.");
}
