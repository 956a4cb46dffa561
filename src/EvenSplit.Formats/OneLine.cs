using System.Globalization;
using System.Text;

namespace EvenSplit.Formats;

/// <summary>Keeps a message on one line: what would break it is written as an escape.</summary>
public static class OneLine
{
    public static string Of(string text)
    {
        StringBuilder? escaped = null;
        for (var i = 0; i < text.Length; i++)
        {
            if (Breaks(text[i])) (escaped ??= new StringBuilder(text, 0, i, text.Length + 16)).Append(CultureInfo.InvariantCulture, $"\\u{(int)text[i]:x4}");
            else escaped?.Append(text[i]);
        }
        return escaped?.ToString() ?? text;
    }

    private static bool Breaks(char letter) => char.IsControl(letter) || letter is '\u2028' or '\u2029';
}
