using System.Xml;
using System.Xml.Linq;

namespace EvenSplit.Formats.Payments;

/// <summary>A message from a bank or wallet cannot be read; nothing of it was taken. The message says what is wrong.</summary>
public sealed class PaymentMessageException(string message) : Exception(message);

/// <summary>Reads XML from outside: no DTD, no external entity, limits on depth and size.</summary>
internal static class SafeXml
{
    public const int MostCharacters = 64 * 1024 * 1024;
    private const int MostDepth = 64;

    /// <exception cref="PaymentMessageException">Not well-formed, too large or too deep.</exception>
    public static XElement Read(string text)
    {
        if (text.Length > MostCharacters) throw new PaymentMessageException($"The message is larger than {MostCharacters / 1024 / 1024} MB.");
        var settings = new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = MostCharacters };
        try
        {
            using (var depth = XmlReader.Create(new StringReader(text), settings))
            {
                while (depth.Read())
                {
                    if (depth.Depth > MostDepth) throw new PaymentMessageException($"The message is nested more than {MostDepth} deep.");
                }
            }
            using var reader = XmlReader.Create(new StringReader(text), settings);
            return XDocument.Load(reader).Root!;
        }
        catch (XmlException fault)
        {
            throw new PaymentMessageException($"The message is not sound XML, at line {fault.LineNumber}: {fault.Message}");
        }
    }

    /// <summary>The first child at a path of local names, whatever version's namespace they are in.</summary>
    public static XElement? At(this XElement element, params ReadOnlySpan<string> path)
    {
        XElement? found = element;
        foreach (var name in path)
        {
            found = found?.Elements().FirstOrDefault(e => e.Name.LocalName == name);
        }
        return found;
    }

    public static IEnumerable<XElement> All(this XElement element, string name) => element.Elements().Where(e => e.Name.LocalName == name);

    public static string TextAt(this XElement element, params ReadOnlySpan<string> path) => element.At(path)?.Value.Trim() ?? "";
}
