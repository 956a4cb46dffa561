using System.Text;

namespace EvenSplit.Formats.Tests;

/// <summary>Cards of an address book as RFC 6350 has them.</summary>
public sealed class ContactCardsTests
{
    [Fact]
    public void What_would_end_a_value_is_written_out()
    {
        var card = Write(("Wren; Tallowby, \\ and\nsons", "wren@tallowby.example", ["Friends, of the hedge"]));
        Assert.Equal("BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Wren\\; Tallowby\\, \\\\ and\\nsons\r\nEMAIL:wren@tallowby.example\r\nCATEGORIES:Friends\\, of the hedge\r\nEND:VCARD\r\n", card);
    }

    [Fact]
    public void A_long_line_is_folded_at_whole_characters()
    {
        var name = string.Concat(Enumerable.Repeat("ü€", 60));
        var card = Write((name, "a@people.example", []));
        Assert.All(card.Split("\r\n"), line => Assert.True(Encoding.UTF8.GetByteCount(line) <= 75));
        Assert.Contains($"FN:{name}", card.Replace("\r\n ", "", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    private static string Write(params (string, string, IReadOnlyList<string>)[] contacts)
    {
        using var text = new StringWriter();
        ContactCards.Write(text, contacts);
        return text.ToString();
    }
}
