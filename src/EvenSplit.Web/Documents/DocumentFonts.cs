using PdfSharp.Fonts;

namespace EvenSplit.Web.Documents;

/// <summary>Gives documents the application's own fonts: none of the machine's are needed.</summary>
internal sealed class DocumentFonts(string webRoot) : IFontResolver
{
    public const string Family = "Document";

    private static readonly Lock Once = new();

    public static void Use(string webRoot)
    {
        lock (Once) GlobalFontSettings.FontResolver ??= new DocumentFonts(webRoot);
    }

    public FontResolverInfo ResolveTypeface(string familyName, bool bold, bool italic) => new(bold ? "Bold" : "Regular");

    public byte[] GetFont(string faceName) => File.ReadAllBytes(Path.Combine(webRoot, "built", "fonts", $"document-{faceName}.ttf"));
}
