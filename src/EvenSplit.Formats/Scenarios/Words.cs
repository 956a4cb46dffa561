using System.Collections.Frozen;

namespace EvenSplit.Formats.Scenarios;

/// <summary>The words files use for choices: the names of the enum's values, in camel case.</summary>
public static class Words
{
    /// <param name="word">Null where the choice was left out, which is the first one listed.</param>
    /// <exception cref="FormatException">No such word; the message lists those there are.</exception>
    public static T Read<T>(string? word) where T : struct, Enum =>
        word is null ? default : TryRead<T>(word, out var value) ? value : throw new FormatException(NoWord<T>(word));

    public static bool TryRead<T>(string word, out T value) where T : struct, Enum => Of<T>.Values.TryGetValue(word, out value);

    public static string Write<T>(T value) where T : struct, Enum => Of<T>.Words[value];

    /// <summary>With hyphens: <c>BelowMinimum</c> is <c>below-minimum</c>.</summary>
    public static string WriteHyphenated<T>(T value) where T : struct, Enum => Of<T>.Hyphenated[value];

    internal static string NoWord<T>(string word) where T : struct, Enum => $"'{word}' is none of {string.Join(", ", Enum.GetValues<T>().Select(Write))}.";

    private static class Of<T> where T : struct, Enum
    {
        public static readonly FrozenDictionary<T, string> Words = Enum.GetValues<T>().ToFrozenDictionary(v => v, v => Camel(v.ToString()));
        public static readonly FrozenDictionary<string, T> Values = Words.ToFrozenDictionary(w => w.Value, w => w.Key, StringComparer.Ordinal);
        public static readonly FrozenDictionary<T, string> Hyphenated = Enum.GetValues<T>().ToFrozenDictionary(v => v, v => Hyphens(v.ToString()));

        private static string Camel(string name) => char.ToLowerInvariant(name[0]) + name[1..];

        private static string Hyphens(string name) =>
            string.Concat(name.Select((c, i) => char.IsUpper(c) ? (i > 0 ? "-" : "") + char.ToLowerInvariant(c) : c.ToString()));
    }
}
