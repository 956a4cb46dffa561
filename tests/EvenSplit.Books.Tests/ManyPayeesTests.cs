using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Core;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>What is done for many payees at once: all of it or nothing.</summary>
public sealed class ManyPayeesTests : IDisposable
{
    private readonly TestBook _book = new();

    public ManyPayeesTests()
    {
        foreach (var name in new[] { "Fern Podcast", "Fern Letter", "Moss Notes" }) _book.AddPayee(name, PayeeRole.Affiliate, "");
    }

    public void Dispose() => _book.Dispose();

    private T Many<T>(Func<ManyPayees, T> what) => _book.Get(what);

    private static readonly string[] Three = ["fern-podcast", "fern-letter", "moss-notes"];

    [Fact]
    public void Many_are_put_on_an_agreement_or_none_is()
    {
        var day = new DateOnly(2026, 1, 1);
        // Anna is on it already, so nobody joins.
        Assert.Throws<RefusedException>(() => _book.Do<ManyPayees>(m => m.PutOn([.. Three, "anna"], "friends", day, Lead)));
        Assert.Equal(1, _book.Get<BookDbContext, int>(db => db.Memberships.Count(x => x.AgreementId == "friends")));
        _book.Do<ManyPayees>(m => m.PutOn(Three, "friends", day, Lead));
        Assert.Equal(4, _book.Get<BookDbContext, int>(db => db.Memberships.Count(x => x.AgreementId == "friends")));
        foreach (var (payees, agreement, from) in new (string[], string, DateOnly?)[] { ([], "friends", day), (Three, "nothing", day), (Three, "friends", null), (["nobody"], "friends", day) })
        {
            Assert.Throws<RefusedException>(() => _book.Do<ManyPayees>(m => m.PutOn(payees, agreement, from, Lead)));
        }
    }

    [Fact]
    public void Only_what_is_said_changes()
    {
        _book.Do<ManyPayees>(m => m.Change(Three, "weekly-5", true, null, Lead));
        _book.Do<ManyPayees>(m => m.Change(["moss-notes"], "", false, 21, Lead));
        Assert.Equal(
            ["fern-podcast weekly-5 True ", "fern-letter weekly-5 True ", "moss-notes weekly-5 False 21"],
            Three.Select(p => (p, _book.Get<PayeeDesk, PayeeDraft>(d => d.Draft(p)!))).Select(p => $"{p.p} {p.Item2.Schedule} {p.Item2.OnHold} {p.Item2.HoldDays}"));
        Assert.Throws<RefusedException>(() => _book.Do<ManyPayees>(m => m.Change(Three, "", null, null, Lead)));
        Assert.Throws<RefusedException>(() => _book.Do<ManyPayees>(m => m.Change(Three, "sometimes", null, null, Lead)));
    }

    [Fact]
    public void Codes_are_made_by_a_pattern_that_tells_them_apart()
    {
        Assert.Equal(["FERNPODCAST10", "FERNLETTER10", "MOSSNOTES10"], Many(m => m.GiveCodes(Three, "{name}10", null, null, Lead)));
        Assert.Contains("makes FERN10 for 2 of them", Assert.Throws<RefusedException>(() => Many(m => m.GiveCodes(Three, "{first}10", null, null, Lead))).Message, StringComparison.Ordinal);
        Assert.Throws<RefusedException>(() => Many(m => m.GiveCodes(["moss-notes"], "ANNA", null, null, Lead)));
        Assert.Throws<RefusedException>(() => Many(m => m.GiveCodes(["moss-notes"], " ", null, null, Lead)));
        Assert.Equal(3, _book.Get<BookDbContext, int>(db => db.PayeeCodes.Count(c => c.PayeeId != "anna")));
    }
}
