using EvenSplit.Books.Model;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests;

/// <summary>However much is open, the pages of a bench follow one another, and its counts and sums are those of its rows.</summary>
public sealed class BenchPagesTests : IDisposable
{
    private static readonly Period October = new(202610), November = new(202611);

    private readonly BenchBook _bench = new();

    public BenchPagesTests()
    {
        _bench.Orders([.. Enumerable.Range(1, 250).Select(i => $"A{i:D3}")]);
        // Of November: most with another fee, some of no order, some with another amount and fee; what is left is late.
        _bench.Settle([
            .. Enumerable.Range(1, 150).Select(i => BenchBook.Line("sale", $"A{i:D3}", $"f{i}", fee: "2.40")), .. Enumerable.Range(1, 90).Select(i => BenchBook.Line("sale", $"NO{i}", $"n{i}")),
            .. Enumerable.Range(151, 10).Select(i => BenchBook.Line("sale", $"A{i:D3}", $"g{i}", gross: "99.00", fee: "2.40")), .. Enumerable.Range(161, 20).Select(i => BenchBook.Line("sale", $"A{i:D3}", $"m{i}"))]);
        _bench.Book.Do<FindMatches>(m => m.RunAll());
        _bench.Book.MoveTo(new DateOnly(2026, 11, 20));
        _bench.Book.Do<SettleFindings>(s => s.Wait(Bench.Processors, [new BenchRow(null, "sale:A200"), new BenchRow(null, "sale:A201")], new DateOnly(2026, 11, 30), "they said so", TestBook.Lead));
    }

    public void Dispose() => _bench.Dispose();

    [Fact]
    public void Counts_and_sums_are_those_of_all_pages()
    {
        var (view, rows) = All(November, BenchShows.Open);
        Assert.Equal((250, 270), (view.Open, view.Lines));
        Assert.Equal(view.Open, rows.Select(r => r.Row).Distinct().Count());
        Assert.Equal([Finding.FeeDiffers, Finding.NotInBook, Finding.GrossDiffers], view.Groups.Select(g => g.Finding));
        Assert.Equal([160, 90, 10], view.Groups.Select(g => g.Count));
        Assert.All(view.Groups, g => Assert.Equal(rows.Where(r => r.Findings.HasFlag(g.Finding)).Sum(r => r.Difference), g.Differences.Sum(m => m.Minor)));
        Assert.Equal(rows.Sum(r => r.Difference), Assert.Single(view.Between).Minor);
        // The most frequent first.
        Assert.Equal(rows.Select(r => r.Findings.HasFlag(Finding.FeeDiffers) ? 0 : 1).Order(), rows.Select(r => r.Findings.HasFlag(Finding.FeeDiffers) ? 0 : 1));
        var (_, amounts) = All(November, BenchShows.Open, Finding.GrossDiffers);
        Assert.Equal(10, amounts.Count);
        Assert.All(amounts, r => Assert.True(r.Findings.HasFlag(Finding.GrossDiffers)));
    }

    [Fact]
    public void What_is_late_is_counted_until_somebody_settles_it_and_stands_among_all()
    {
        var (view, rows) = All(October, BenchShows.Open);
        Assert.Equal((68, 2, 70), (view.Open, view.Settled, view.Lines));
        Assert.All(rows, r => Assert.Equal((Finding.NotSettled, null), (r.Findings, r.Row.Line)));
        Assert.Equal(rows.Sum(r => r.Difference), Assert.Single(view.Between).Minor);
        Assert.Equal(["sale:A200", "sale:A201"], All(October, BenchShows.Settled).Rows.Select(r => r.Ours));
        Assert.Equal(70, All(October, BenchShows.All).Rows.Select(r => r.Ours).Distinct().Count());
    }

    [Fact]
    public void All_and_agreed_follow_one_another_too()
    {
        Assert.Equal(270, All(November, BenchShows.All).Rows.Select(r => r.Row).Distinct().Count());
        Assert.Equal(20, All(November, BenchShows.Agreed).Rows.Count);
        Assert.Empty(All(November, BenchShows.Settled).Rows);
    }

    private (BenchView View, List<BenchItem> Rows) All(Period month, BenchShows shows, Finding finding = Finding.None)
    {
        var rows = new List<BenchItem>();
        for (var page = 0; ; page++)
        {
            var view = _bench.Book.Get<Benches, BenchView>(b => b.Find(Bench.Processors, month, shows, finding, page));
            rows.AddRange(view.Rows);
            if (!view.HasMore) return (view, rows);
        }
    }
}
