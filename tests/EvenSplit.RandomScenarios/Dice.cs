namespace EvenSplit.RandomScenarios;

/// <summary>Seeded chance in the words a generator uses.</summary>
internal sealed class Dice(int seed)
{
    private readonly Random _random = new(seed);

    public bool Chance(double share) => _random.NextDouble() < share;

    public int Between(int least, int most) => _random.Next(least, most + 1);

    public T OneOf<T>(IReadOnlyList<T> of) => of[_random.Next(of.Count)];

    public T One<T>(params ReadOnlySpan<T> of) => of[_random.Next(of.Length)];

    /// <summary>Some of them, each at most once, in random order.</summary>
    public IReadOnlyList<T> Some<T>(IReadOnlyList<T> of, int atMost)
    {
        var picked = of.ToArray();
        _random.Shuffle(picked);
        return picked[..Between(0, Math.Min(atMost, picked.Length))];
    }

    public void Shuffle<T>(T[] items) => _random.Shuffle(items);

    /// <summary>A rate up to <paramref name="most"/> with up to six places.</summary>
    public string Rate(decimal most)
    {
        var places = One(1, 2, 2, 3, 4, 6);
        var scale = (decimal)Math.Pow(10, places);
        return (Between(0, (int)(most * scale)) / scale).ToString(System.Globalization.CultureInfo.InvariantCulture);
    }
}
