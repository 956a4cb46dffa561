using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Pages;
using UglyToad.PdfPig.Content;
using UglyToad.PdfPig.Core;
using UglyToad.PdfPig.Writer;

namespace EvenSplit.Web.Documents;

/// <summary>A remittance advice with its statement, drawn for paper: A4, the summary first, then every entry. Nothing that only concerns the house is on it.</summary>
internal sealed class Advice
{
    private const double Left = 56, Right = 540, Top = 782, Bottom = 62, Line = 15, Size = 9.5, TitleSize = 15;

    private readonly PdfDocumentBuilder _document = new();
    private readonly PdfDocumentBuilder.AddedFont _plain, _bold;
    private readonly Dictionary<char, bool> _known = [];
    private PdfPageBuilder _page;
    private double _y = Top;

    private Advice(DocumentFonts fonts)
    {
        (_plain, _bold) = (_document.AddTrueTypeFont(fonts.Regular), _document.AddTrueTypeFont(fonts.Bold));
        _page = _document.AddPage(PageSize.A4);
    }

    /// <param name="parts">One, or those that are paid as one payment through one payee, whose name comes first.</param>
    /// <param name="to">The name of who gets it.</param>
    public static byte[] Draw(IReadOnlyList<Statement> parts, string to, DocumentFonts fonts)
    {
        var advice = new Advice(fonts);
        advice._document.DocumentInformation.Title = $"Statement for {to} as of {parts[0].AsOf.InWords()}";
        advice._document.DocumentInformation.Author = parts[0].BookName;
        if (parts.Count > 1) advice.Overview(parts, to);
        foreach (var (statement, i) in parts.Select((s, i) => (s, i)))
        {
            if (i > 0 || parts.Count > 1) advice.NewPage();
            advice.Head(statement);
            advice.Summary(statement.Payee.Figures);
            advice.Adjustments(statement);
            advice.Entries(statement);
        }
        return advice._document.Build();
    }

    /// <summary>What the statement says of the payment, and of who released it where nobody else looked at it.</summary>
    public static string Payment(Statement statement) => Paid(statement) + (statement.OnePerson is { } one ? $" Prepared and approved by one person, {one}." : "");

    private static string Paid(Statement statement)
    {
        var (row, figures) = (statement.Payee, statement.Payee.Figures);
        if (figures.Paid == 0) return $"Nothing is paid this time: {RunPage.Words(figures.Reason)}.";
        var amount = new Money(figures.Paid, figures.Currency).InWords();
        return PaidWords(row, amount) + (row.Through is { } through ? $" It goes out with the payment to {through}." : "") + (row.ExecuteOn is { } due && row.State is RemittanceState.Ready or RemittanceState.Sent ? $" The bank executes it on {due.InWords()} at the earliest." : "")
            + (row.Invoices.Count > 0 ? $" It pays {(row.Invoices.Count == 1 ? "invoice" : "invoices")} {string.Join("; ", row.Invoices.Select(i => i.InWords))}." : "");
    }

    private static string PaidWords(RunRow row, string amount) => row.State switch
    {
        RemittanceState.Confirmed => $"{amount} paid on {row.PaidOn!.Value.InWords()}, reference {row.Reference}.",
        RemittanceState.Sent => $"{amount} is on its way.",
        RemittanceState.Refused or RemittanceState.Returned => $"{amount} came back ({row.Why}) and is owed again.",
        RemittanceState.SetAside => $"{amount} was set aside ({row.Why}) and is owed again.",
        _ => $"{amount} is to be paid.",
    };

    /// <summary>The one payment for several payees, with what of it is whose.</summary>
    private void Overview(IReadOnlyList<Statement> parts, string to)
    {
        Write(parts[0].BookName, _bold, Left);
        Down(1.8);
        Write($"One payment to {to} for {MoneyWords.Count(parts.Count, "payee")}", _bold, Left, TitleSize);
        Down(1.5);
        Write($"As of {parts[0].AsOf.InWords()}. Each part follows on its own page.", _plain, Left);
        Down(1.8);
        foreach (var currency in parts.GroupBy(p => p.Payee.Figures.Currency))
        {
            Heading("Payees", currency.Key.Code);
            foreach (var part in currency) Row(part.Payee.Name, Figure(part.Payee.Figures.Paid, currency.Key), _plain);
            Row("Payment", Figure(currency.Sum(p => p.Payee.Figures.Paid), currency.Key), _bold);
            Down(0.8);
        }
    }

    private void NewPage()
    {
        _page = _document.AddPage(PageSize.A4);
        _y = Top;
    }

    private void Head(Statement statement)
    {
        Write(statement.BookName, _bold, Left);
        Down(1.8);
        Write($"Statement for {statement.Payee.Name}", _bold, Left, TitleSize);
        Down(1.5);
        foreach (var line in Wrapped($"As of {statement.AsOf.InWords()}. {Payment(statement)}"))
        {
            Write(line, _plain, Left);
            Down(1);
        }
        Down(0.8);
    }

    private IEnumerable<string> Wrapped(string words)
    {
        var line = "";
        foreach (var word in words.Split(' '))
        {
            if (line.Length > 0 && Width($"{line} {word}", _plain) > Right - Left)
            {
                yield return line;
                line = "";
            }
            line = line.Length == 0 ? word : $"{line} {word}";
        }
        yield return line;
    }

    private void Summary(Remittance f)
    {
        Heading("Summary", f.Currency.Code);
        foreach (var (words, amount) in new[] { ("Carried from the run before", f.Opening), ("Earned, reversals taken off", f.Earned), ("Adjustments", f.Adjustments), ("Recouped of advances", -f.Recouped), ("Withheld", -f.Withheld), ("Transfer fee", -f.TransferFee), ("Carried to the next run", -f.Carried) })
        {
            Row(words, Figure(amount, f.Currency), _plain);
        }
        Rule(_y + 10.5, 0.8, 0x20, 0x24, 0x2B);
        Row("Payment", Figure(f.Paid, f.Currency), _bold);
        Down(0.8);
    }

    private void Adjustments(Statement statement)
    {
        if (statement.Adjustments.Count == 0) return;
        Heading("Adjustments", "");
        foreach (var (kind, on, note, amount) in statement.Adjustments) Row($"{on.InWords()}, {Words(kind)}: {note}", amount.InWords(), _plain);
        Down(0.8);
    }

    private void Entries(Statement statement)
    {
        if (statement.Lines.Count == 0) return;
        Heading(MoneyWords.Count(statement.Lines.Count, "entry", "entries"), "");
        foreach (var line in statement.Lines)
        {
            Space();
            Write(line.PostedOn.InWords(), _plain, Left);
            Write(Cut(line.OrderId, 80), _plain, Left + 68);
            Write(Cut($"{line.Product}, {line.Agreement}{(line.IsReversal ? ", reversal" : "")}", 260), _plain, Left + 152);
            WriteRight(line.Amount.InWords(), _plain);
            Down(1);
        }
        foreach (var sum in statement.EarnedByCurrency) Row($"Earned in {sum.Currency.Code}", sum.InWords(), _bold);
    }

    public static string Words(AdjustmentKind kind) => kind switch
    {
        AdjustmentKind.Returned => "payment owed again",
        AdjustmentKind.WriteOff => "written off",
        _ => kind.ToString().ToLowerInvariant(),
    };

    private void Heading(string words, string right)
    {
        Space();
        Write(words, _bold, Left);
        if (right.Length > 0) WriteRight(right, _bold);
        Down(0.4);
        Rule(_y, 0.8, 0x20, 0x24, 0x2B);
        Down(0.9);
    }

    private void Row(string words, string figure, PdfDocumentBuilder.AddedFont font)
    {
        Space();
        Write(Cut(words, 380), font, Left);
        WriteRight(figure, font);
        Rule(_y - 4, 0.6, 0xD9, 0xD2, 0xC3);
        Down(1);
    }

    private void Space()
    {
        if (_y < Bottom) NewPage();
    }

    private void Down(double lines) => _y -= lines * Line;

    private void Rule(double y, double width, byte red, byte green, byte blue)
    {
        _page.SetStrokeColor(red, green, blue);
        _page.DrawLine(new PdfPoint(Left, y), new PdfPoint(Right, y), width);
    }

    private void Write(string words, PdfDocumentBuilder.AddedFont font, double x, double size = Size) => _page.AddText(Known(words), size, new PdfPoint(x, _y), font);

    private void WriteRight(string words, PdfDocumentBuilder.AddedFont font) => Write(words, font, Right - Width(words, font));

    private double Width(string words, PdfDocumentBuilder.AddedFont font) => words.Length == 0 ? 0 : _page.MeasureText(Known(words), Size, new PdfPoint(0, 0), font)[^1].EndBaseLine.X;

    private string Cut(string words, double width)
    {
        if (Width(words, _plain) <= width) return words;
        while (words.Length > 1 && Width(words + "…", _plain) > width) words = words[..^1];
        return words + "…";
    }

    /// <summary>A letter the font has no shape for is written as a question mark.</summary>
    private string Known(string words) => string.Concat(words.Select(c =>
    {
        if (!_known.TryGetValue(c, out var known))
        {
            try
            {
                _page.MeasureText(c.ToString(), Size, new PdfPoint(0, 0), _plain);
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

    private static string Figure(long minor, Currency currency) => minor == 0 ? "–" : MoneyWords.Figure(minor, currency);
}

/// <summary>The application's own fonts in the form documents for paper need: none of the machine's are asked for.</summary>
internal sealed class DocumentFonts(IWebHostEnvironment environment)
{
    private readonly Lazy<byte[]> _regular = new(() => Read(environment, "Regular")), _bold = new(() => Read(environment, "Bold"));

    public byte[] Regular => _regular.Value;

    public byte[] Bold => _bold.Value;

    private static byte[] Read(IWebHostEnvironment environment, string weight) => File.ReadAllBytes(Path.Combine(environment.WebRootPath, "built", "fonts", $"document-{weight}.ttf"));
}
