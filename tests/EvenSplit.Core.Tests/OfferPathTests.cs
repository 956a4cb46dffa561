namespace EvenSplit.Core.Tests;

public sealed class OfferPathTests
{
    private static OfferPath Path(params (int? Accept, int? Decline)[] steps) =>
        new("p", "P", [.. steps.Select((s, i) => new OfferStep(new ProductId("p" + i), s.Accept, s.Decline))]);

    [Fact]
    public void A_step_stands_behind_the_longest_way_to_it()
    {
        Assert.Equal([0, 1, 2, 1, 3], Path((1, 3), (4, 2), (4, null), (4, null), (null, null)).Depths());
        Assert.Equal([0, null, 1], Path((2, null), (2, null), (null, null)).Depths());
        Assert.Empty(Path().Depths());
    }

    [Fact]
    public void A_way_back_is_found_however_long()
    {
        Assert.Null(Path((1, 2), (2, null), (null, null)).Loop());
        Assert.Equal(1, Path((1, null), (2, null), (3, null), (null, 1)).Loop());
        Assert.Equal(0, Path((0, null)).Loop());
        Assert.Throws<InvalidOperationException>(() => Path((1, null), (0, null)).Depths());
    }

    [Fact]
    public void Each_answer_leads_its_own_way()
    {
        var step = new OfferStep(new ProductId("a"), 3, null);
        Assert.Equal((3, null), (step.After(accepted: true), step.After(accepted: false)));
    }
}
