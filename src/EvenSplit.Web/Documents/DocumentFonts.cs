namespace EvenSplit.Web.Documents;

/// <summary>The application's own fonts in the form documents for paper need: none of the machine's are asked for.</summary>
internal sealed class DocumentFonts(IWebHostEnvironment environment)
{
    private readonly Lazy<byte[]> _regular = new(() => Read(environment, "Regular")), _bold = new(() => Read(environment, "Bold"));

    public byte[] Regular => _regular.Value;

    public byte[] Bold => _bold.Value;

    private static byte[] Read(IWebHostEnvironment environment, string weight) => File.ReadAllBytes(Path.Combine(environment.WebRootPath, "built", "fonts", $"document-{weight}.ttf"));
}
