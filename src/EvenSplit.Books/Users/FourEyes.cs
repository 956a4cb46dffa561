using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>
/// Whoever prepared something does not release it, nor does somebody whom they themselves put into the role that releases: until another person has confirmed that
/// role, both count as one. In a book of one person who works alone nobody else could; what they release says so.
/// </summary>
public sealed class FourEyes(BookDbContext db, BookCache cache) : IUseCase
{
    /// <param name="what">What was prepared, as in "this run".</param>
    /// <param name="release">What is about to be done, as in "approve it".</param>
    /// <param name="by">Who is about to do it.</param>
    /// <param name="preparers">Who had a part in it.</param>
    /// <exception cref="RefusedException">They prepared it, or got their role from somebody who did.</exception>
    internal void Demand(string what, string release, string by, params IEnumerable<string?> preparers)
    {
        if (cache.Get(db).Record.WorksAlone) return;
        var prepared = preparers.OfType<string>().ToHashSet();
        if (prepared.Contains(by)) throw new RefusedException($"{by} prepared {what}, so somebody else must {release}.");
        if (db.Users.AsNoTracking().Where(u => u.DisplayName == by).Select(u => u.MadeBy).FirstOrDefault() is { } maker && prepared.Contains(maker))
        {
            throw new RefusedException($"{maker} prepared {what} and gave {by} the role that releases it. Somebody else confirms that role first, under Who signs in.");
        }
    }
}
