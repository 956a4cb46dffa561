using EvenSplit.Core;
using UglyToad.PdfPig.Content;
using UglyToad.PdfPig.Core;
using UglyToad.PdfPig.Writer;

namespace EvenSplit.Web.Documents;

/// <summary>A document drawn for paper: A4, lines from the top down, with headings, rows and rules as the screens have them.</summary>
internal abstract class Paper
{
    protected const double Left = 56, Right = 540, Top = 782, Bottom = 62, Line = 15, Size = 9.5, TitleSize = 15;

    private readonly PdfDocumentBuilder _document = new();
    private readonly Dictionary<char, bool> _known = [];
    private PdfPageBuilder _page;

    protected Paper(DocumentFonts fonts)
    {
        (Plain, Bold) = (_document.AddTrueTypeFont(fonts.Regular), _document.AddTrueTypeFont(fonts.Bold));
        _page = _document.AddPage(PageSize.A4);
    }

    protected PdfDocumentBuilder.AddedFont Plain { get; }

    protected PdfDocumentBuilder.AddedFont Bold { get; }

    /// <summary>Where the next line stands, from the foot of the page.</summary>
    protected double Y { get; private set; } = Top;

    protected void Call(string title, string author) => (_document.DocumentInformation.Title, _document.DocumentInformation.Author) = (title, author);

    protected byte[] Build() => _document.Build();

    protected void NewPage()
    {
        _page = _document.AddPage(PageSize.A4);
        Y = Top;
    }

    protected IEnumerable<string> Wrapped(string words)
    {
        var line = "";
        foreach (var word in words.Split(' '))
        {
            if (line.Length > 0 && Width($"{line} {word}", Plain) > Right - Left)
            {
                yield return line;
                line = "";
            }
            line = line.Length == 0 ? word : $"{line} {word}";
        }
        yield return line;
    }

    protected void Heading(string words, string right)
    {
        Space();
        Write(words, Bold, Left);
        if (right.Length > 0) WriteRight(right, Bold);
        Down(0.4);
        Rule(Y, 0.8, 0x20, 0x24, 0x2B);
        Down(0.9);
    }

    protected void Row(string words, string figure, PdfDocumentBuilder.AddedFont font)
    {
        Space();
        Write(Cut(words, 380), font, Left);
        WriteRight(figure, font);
        Rule(Y - 4, 0.6, 0xD9, 0xD2, 0xC3);
        Down(1);
    }

    protected void Space()
    {
        if (Y < Bottom) NewPage();
    }

    protected void Down(double lines) => Y -= lines * Line;

    protected void Rule(double y, double width, byte red, byte green, byte blue)
    {
        _page.SetStrokeColor(red, green, blue);
        _page.DrawLine(new PdfPoint(Left, y), new PdfPoint(Right, y), width);
    }

    protected void Write(string words, PdfDocumentBuilder.AddedFont font, double x, double size = Size) => _page.AddText(Known(words), size, new PdfPoint(x, Y), font);

    protected void WriteRight(string words, PdfDocumentBuilder.AddedFont font) => Write(words, font, Right - Width(words, font));

    private double Width(string words, PdfDocumentBuilder.AddedFont font) => words.Length == 0 ? 0 : _page.MeasureText(Known(words), Size, new PdfPoint(0, 0), font)[^1].EndBaseLine.X;

    protected string Cut(string words, double width)
    {
        if (Width(words, Plain) <= width) return words;
        while (words.Length > 1 && Width(words + "…", Plain) > width) words = words[..^1];
        return words + "…";
    }

    /// <summary>A letter the font has no shape for is written as a question mark.</summary>
    private string Known(string words) => string.Concat(words.Select(c =>
    {
        if (!_known.TryGetValue(c, out var known))
        {
            try
            {
                _page.MeasureText(c.ToString(), Size, new PdfPoint(0, 0), Plain);
                known = true;
            }
            catch (InvalidOperationException)
            {
                known = false;
            }
            _known[c] = known;
        }
        return known ? c : '?';
    }));

    protected static string Figure(long minor, Currency currency) => minor == 0 ? "–" : MoneyWords.Figure(minor, currency);
}
