using System.Text;

namespace EvenSplit.Formats.Tests;

/// <summary>Cards of an address book as RFC 6350 has them.</summary>
public sealed class ContactCardsTests
{
    [Fact]
    public void What_would_end_a_value_is_written_out()
    {
        var card = Write(("Wren; Tallowby, \\ and\nsons", "wren@tallowby.example", "en-IE", ["Friends, of the hedge"]));
        Assert.Equal("BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Wren\\; Tallowby\\, \\\\ and\\nsons\r\nEMAIL:wren@tallowby.example\r\nLANG:en-IE\r\nCATEGORIES:Friends\\, of the hedge\r\nEND:VCARD\r\n", card);
    }

    [Fact]
    public void A_long_line_is_folded_at_whole_characters()
    {
        var name = string.Concat(Enumerable.Repeat("ü€", 60));
        var card = Write((name, "a@people.example", "", []));
        Assert.All(card.Split("\r\n"), line => Assert.True(Encoding.UTF8.GetByteCount(line) <= 75));
        Assert.Contains($"FN:{name}", card.Replace("\r\n ", "", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_written_is_read_again()
    {
        var name = string.Concat(Enumerable.Repeat("Wren; Tallowby, \\ ", 10)).Trim();
        Assert.Equal([(name, "wren@tallowby.example"), ("b", "b@people.example")], ContactCards.Read(new StringReader(Write((name, "wren@tallowby.example", "", ["x"]), ("b", "b@people.example", "", [])))));
    }

    [Fact]
    public void Cards_of_other_origin_are_read_as_far_as_they_say_something()
    {
        const string Cards = "BEGIN:VCARD\nVERSION:3.0\nitem1.EMAIL;TYPE=INTERNET:one@people.example\nEMAIL:two@people.example\nFN;CHARSET=UTF-8:Wren\\nTallowby\nEND:VCARD\nBEGIN:VCARD\nFN:No address\nEND:VCARD\nBEGIN:VCARD\nEMAIL:mailto:three@people.example\nEND:VCARD\nno card at all";
        Assert.Equal([("Wren Tallowby", "one@people.example"), ("", "three@people.example")], ContactCards.Read(new StringReader(Cards)));
    }

    [Theory]
    [InlineData("email,name\na@people.example,Anna\n,Nobody\nb@people.example,\"Ben, of the hedge\"\n")]
    [InlineData("\uFEFFName;E-Mail;Note\nAnna;a@people.example;x\nBen, of the hedge;b@people.example;y\n")]
    public void A_list_of_any_origin_is_read_by_its_columns(string content) =>
        Assert.Equal([("Anna", "a@people.example"), ("Ben, of the hedge", "b@people.example")], ContactList.Read(content));

    [Theory]
    [InlineData("")]
    [InlineData("name\nAnna\n")]
    [InlineData("\0\u0001\"unclosed")]
    public void A_list_without_addresses_names_nobody(string content) => Assert.Empty(ContactList.Read(content));

    private static string Write(params (string, string, string, IReadOnlyList<string>)[] contacts)
    {
        using var text = new StringWriter();
        ContactCards.Write(text, contacts);
        return text.ToString();
    }
}
