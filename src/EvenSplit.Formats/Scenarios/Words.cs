namespace EvenSplit.Formats.Scenarios;

/// <summary>The words files use for choices: the names of the enum's values, in camel case.</summary>
public static class Words
{
    /// <exception cref="FormatException">No such word; the message lists those there are.</exception>
    public static T Read<T>(string? word, T left = default) where T : struct, Enum
    {
        if (word is null) return left;
        foreach (var value in Enum.GetValues<T>())
        {
            if (Write(value) == word) return value;
        }
        throw new FormatException($"'{word}' is none of {string.Join(", ", Enum.GetValues<T>().Select(v => Write(v)))}.");
    }

    public static string Write<T>(T value) where T : struct, Enum
    {
        var name = value.ToString();
        return char.ToLowerInvariant(name[0]) + name[1..];
    }

    /// <summary>With hyphens: <c>BelowMinimum</c> is <c>below-minimum</c>.</summary>
    public static string WriteHyphenated<T>(T value) where T : struct, Enum =>
        string.Concat(value.ToString().Select((c, i) => char.IsUpper(c) ? (i > 0 ? "-" : "") + char.ToLowerInvariant(c) : c.ToString()));
}
