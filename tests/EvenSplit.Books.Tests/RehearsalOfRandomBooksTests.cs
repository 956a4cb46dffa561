using EvenSplit.Books.Forms;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests;

/// <summary>
/// A rehearsal works over the orders since its first day only, and takes from the book how far payees had come. What it tells must be what publishing posts,
/// whether the tracks that the draft asks for are kept, or were asked for by nobody before.
/// </summary>
public sealed class RehearsalOfRandomBooksTests
{
    [Fact]
    public void Publishing_posts_what_was_rehearsed()
    {
        var (rehearsed, differing, onNewTracks) = (0, 0, 0);
        for (var seed = 1; seed <= 4; seed++)
        {
            var facts = ScenarioBook.Random(seed, 150);
            using var book = new ScenarioBook(facts);
            var random = new Random(seed);
            var donors = ScenarioBook.Random(seed + 900, 5).Rules.Agreements;
            foreach (var agreement in Rules(book).Agreements)
            {
                var versions = donors.Where(a => a.Basis == agreement.Basis).SelectMany(a => a.Versions).ToArray();
                var days = facts.Orders.Select(o => facts.Rules.Policy.Time.DateOf(o.PlacedAt)).Where(d => d > agreement.Versions.Max(v => v.From)).ToArray();
                if (versions.Length == 0 || days.Length == 0) continue;
                var from = days[random.Next(days.Length)];
                var draft = AgreementDraft.Of("Next", agreement, versions[random.Next(versions.Length)] with { From = from });
                // What the other scenario has and this one has not cannot be rehearsed here.
                if (Rehearse(book, agreement.Id.Value, draft) is not { } result) continue;
                var tracks = book.Get<BookDbContext, int>(db => db.ProgressTracks.Count());
                var before = Earned(book, from);
                Assert.Empty(book.Get<AgreementDesk, IReadOnlyList<FieldFault>>(d => d.Publish(agreement.Id.Value, draft, "Lena").Faults));
                book.Do<RecalculateOrders>(r => r.RunAll());
                var after = Earned(book, from);
                var posted = before.Keys.Union(after.Keys).Select(k => (k.Payee, k.Currency, Difference: after.GetValueOrDefault(k) - before.GetValueOrDefault(k)))
                    .Where(d => d.Difference != 0).Order();
                Assert.Equal(posted, result.Payees.Select(p => (p.Id, p.Currency, p.Amount.Difference)).Order());
                rehearsed++;
                if (result.Differing > 0) differing++;
                if (book.Get<BookDbContext, int>(db => db.ProgressTracks.Count()) > tracks) onNewTracks++;
            }
        }
        Assert.True(rehearsed > 15 && differing > 5 && onNewTracks > 1, $"Of {rehearsed} rehearsed {differing} changed something, {onNewTracks} asked for new tracks.");
    }

    private static Rulebook Rules(ScenarioBook book) => book.Get<BookCache, Rulebook>(c => c.Find()!.Rules);

    private static RehearsalResult? Rehearse(ScenarioBook book, string agreement, AgreementDraft draft)
    {
        var (id, faults) = book.Get<Rehearsals, (int? Id, IReadOnlyList<FieldFault> Faults)>(r => r.Ask(1, agreement, draft, null, new DateOnly(2028, 1, 1), false, "Lena"));
        if (faults.Count > 0) return null;
        book.Do<Rehearsals>(r => r.RunAll());
        return book.Get<Rehearsals, RehearsalView>(r => r.Find(id!.Value)!).Result!;
    }

    /// <summary>What is posted for orders placed from a day on.</summary>
    private static Dictionary<(string Payee, string Currency), long> Earned(ScenarioBook book, DateOnly from)
    {
        var time = Rules(book).Policy.Time;
        return book.Get<BookDbContext, Dictionary<(string, string), long>>(db => db.Entries.Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { o.PlacedAt, e.Payee, e.Currency, e.Amount })
            .AsEnumerable().Where(e => time.DateOf(e.PlacedAt) >= from).GroupBy(e => (e.Payee, e.Currency)).ToDictionary(g => g.Key, g => g.Sum(e => e.Amount)));
    }
}
