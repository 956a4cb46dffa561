using System.Text;

namespace EvenSplit.Formats;

/// <summary>Contacts in the open format of address books (vCard 4.0, RFC 6350).</summary>
public static class ContactCards
{
    private const int LongestLine = 75;

    public static void Write(TextWriter output, IEnumerable<(string Name, string Email, string Language, IReadOnlyList<string> Groups)> contacts)
    {
        foreach (var (name, email, language, groups) in contacts)
        {
            foreach (var line in new[] { "BEGIN:VCARD", "VERSION:4.0", $"FN:{Text(name)}", $"EMAIL:{Text(email)}", language.Length > 0 ? $"LANG:{Text(language)}" : null, groups.Count > 0 ? $"CATEGORIES:{string.Join(',', groups.Select(Text))}" : null, "END:VCARD" })
            {
                if (line is not null) output.Write(Folded(line) + "\r\n");
            }
        }
    }

    /// <summary>Reads names and addresses out of cards of any version; a card without an address is passed over, and of several addresses the first is taken.</summary>
    public static IEnumerable<(string Name, string Email)> Read(TextReader input)
    {
        var (name, email) = ("", "");
        foreach (var line in Unfolded(input))
        {
            var colon = line.IndexOf(':', StringComparison.Ordinal);
            if (colon < 0) continue;
            // A group before the name and parameters after it say nothing of what is asked here.
            var property = line[..colon].Split(';')[0].Split('.')[^1].ToUpperInvariant();
            var value = Plain(line[(colon + 1)..]);
            if (property == "BEGIN") (name, email) = ("", "");
            else if (property == "FN") name = value;
            else if (property == "EMAIL" && email.Length == 0) email = value.StartsWith("mailto:", StringComparison.OrdinalIgnoreCase) ? value["mailto:".Length..] : value;
            else if (property == "END" && email.Length > 0) yield return (name, email);
        }
    }

    private static IEnumerable<string> Unfolded(TextReader input)
    {
        string? line = null;
        while (input.ReadLine() is { } next)
        {
            if (next.StartsWith(' ') || next.StartsWith('\t')) line += next[1..];
            else
            {
                if (line is not null) yield return line;
                line = next;
            }
        }
        if (line is not null) yield return line;
    }

    private static string Plain(string text)
    {
        var plain = new StringBuilder();
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == '\\' && i + 1 < text.Length) plain.Append(text[++i] is 'n' or 'N' ? ' ' : text[i]);
            else plain.Append(text[i]);
        }
        return plain.ToString().Trim();
    }

    private static string Text(string value) => value.Replace("\\", @"\\", StringComparison.Ordinal).Replace(",", "\\,", StringComparison.Ordinal).Replace(";", "\\;", StringComparison.Ordinal).Replace("\r", "", StringComparison.Ordinal).Replace("\n", "\\n", StringComparison.Ordinal);

    /// <summary>A line has at most 75 octets; what is longer goes on in the next after a space. Characters are not cut.</summary>
    private static string Folded(string line)
    {
        var (folded, length) = (new StringBuilder(), 0);
        foreach (var rune in line.EnumerateRunes())
        {
            if (length + rune.Utf8SequenceLength > LongestLine)
            {
                folded.Append("\r\n ");
                length = 1;
            }
            folded.Append(rune.ToString());
            length += rune.Utf8SequenceLength;
        }
        return folded.ToString();
    }
}
