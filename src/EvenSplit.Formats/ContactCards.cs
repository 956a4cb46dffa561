using System.Text;

namespace EvenSplit.Formats;

/// <summary>Contacts in the open format of address books (vCard 4.0, RFC 6350).</summary>
public static class ContactCards
{
    private const int LongestLine = 75;

    public static void Write(TextWriter output, IEnumerable<(string Name, string Email, IReadOnlyList<string> Groups)> contacts)
    {
        foreach (var (name, email, groups) in contacts)
        {
            foreach (var line in new[] { "BEGIN:VCARD", "VERSION:4.0", $"FN:{Text(name)}", $"EMAIL:{Text(email)}", groups.Count > 0 ? $"CATEGORIES:{string.Join(',', groups.Select(Text))}" : null, "END:VCARD" })
            {
                if (line is not null) output.Write(Folded(line) + "\r\n");
            }
        }
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
