using System.Runtime.CompilerServices;
using System.Text;

namespace EvenSplit.Formats.Scenarios;

/// <summary>The words files use for choices: the names of the enum's values, in camel case.</summary>
public static class Words
{
    /// <param name="word">Null where the choice was left out, which is the first one listed.</param>
    /// <exception cref="FormatException">No such word; the message lists those there are.</exception>
    public static T Read<T>(string? word) where T : struct, Enum =>
        word is null ? default : TryRead<T>(word, out var value) ? value : throw new FormatException(NoWord<T>(word));

    public static bool TryRead<T>(string word, out T value) where T : struct, Enum
    {
        var place = Array.IndexOf(Of<T>.Words, word);
        value = place < 0 ? default : Unsafe.BitCast<int, T>(place);
        return place >= 0;
    }

    public static string Write<T>(T value) where T : struct, Enum => Of<T>.Words[Unsafe.BitCast<T, int>(value)];

    /// <summary>Every word of the choice, in the order in which the enum lists them.</summary>
    internal static IReadOnlyList<string> All<T>() where T : struct, Enum => Of<T>.Words;

    /// <summary>With hyphens: <c>BelowMinimum</c> is <c>below-minimum</c>.</summary>
    public static string WriteHyphenated<T>(T value) where T : struct, Enum => Of<T>.Hyphenated[Unsafe.BitCast<T, int>(value)];

    internal static string NoWord<T>(string word) where T : struct, Enum => $"'{word}' is none of {string.Join(", ", Of<T>.Words)}.";

    /// <summary>By the enum's values, which count from 0.</summary>
    private static class Of<T> where T : struct, Enum
    {
        public static readonly string[] Words = Array.ConvertAll(Enum.GetNames<T>(), Camel);
        public static readonly string[] Hyphenated = Array.ConvertAll(Enum.GetNames<T>(), Hyphens);
    }

    private static string Camel(string name) => char.ToLowerInvariant(name[0]) + name[1..];

    private static string Hyphens(string name)
    {
        var words = new StringBuilder();
        foreach (var letter in name)
        {
            if (char.IsUpper(letter) && words.Length > 0) words.Append('-');
            words.Append(char.ToLowerInvariant(letter));
        }
        return words.ToString();
    }
}
