using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Pages;
using PdfSharp.Drawing;
using PdfSharp.Pdf;

namespace EvenSplit.Web.Documents;

/// <summary>A remittance advice with its statement, drawn for paper: A4, the summary first, then every entry. Nothing that only concerns the house is on it.</summary>
internal sealed class Advice
{
    private const double Left = 56, Right = 540, Top = 60, Bottom = 780, Line = 15;

    private readonly PdfDocument _document = new();
    private readonly XFont _plain = new(DocumentFonts.Family, 9.5);
    private readonly XFont _bold = new(DocumentFonts.Family, 9.5, XFontStyleEx.Bold);
    private readonly XFont _title = new(DocumentFonts.Family, 15, XFontStyleEx.Bold);
    private readonly XPen _rule = new(XColor.FromArgb(0xD9, 0xD2, 0xC3), 0.7);
    private readonly XPen _ink = new(XColor.FromArgb(0x20, 0x24, 0x2B), 0.8);
    private XGraphics _page;
    private double _y = Top;

    private Advice() => _page = XGraphics.FromPdfPage(_document.AddPage());

    public static byte[] Draw(Statement statement)
    {
        var advice = new Advice();
        advice._document.Info.Title = $"Statement for {statement.Payee.Name} as of {statement.AsOf.InWords()}";
        advice._document.Info.Author = statement.BookName;
        advice.Head(statement);
        advice.Summary(statement.Payee.Figures);
        advice.Adjustments(statement);
        advice.Entries(statement);
        advice._page.Dispose();
        using var bytes = new MemoryStream();
        advice._document.Save(bytes);
        return bytes.ToArray();
    }

    /// <summary>What the statement says of the payment, in a sentence.</summary>
    public static string Payment(Statement statement)
    {
        var (row, figures) = (statement.Payee, statement.Payee.Figures);
        if (figures.Paid == 0) return $"Nothing is paid this time: {RunPage.Words(figures.Reason)}.";
        var amount = new Money(figures.Paid, figures.Currency).InWords();
        return row.State switch
        {
            RemittanceState.Confirmed => $"{amount} paid on {row.PaidOn!.Value.InWords()}, reference {row.Reference}.",
            RemittanceState.Sent => $"{amount} is on its way.",
            RemittanceState.Refused or RemittanceState.Returned => $"{amount} came back ({row.Why}) and is owed again.",
            RemittanceState.SetAside => $"{amount} was set aside ({row.Why}) and is owed again.",
            _ => $"{amount} is to be paid.",
        };
    }

    private void Head(Statement statement)
    {
        Write(statement.BookName, _bold, Left);
        Down(1.8);
        Write($"Statement for {statement.Payee.Name}", _title, Left);
        Down(1.5);
        Write($"As of {statement.AsOf.InWords()}. {Payment(statement)}", _plain, Left);
        Down(1.8);
    }

    private void Summary(Remittance f)
    {
        Heading("Summary", f.Currency.Code);
        foreach (var (words, amount) in new[] { ("Carried from the run before", f.Opening), ("Earned, reversals taken off", f.Earned), ("Adjustments", f.Adjustments), ("Recouped of advances", -f.Recouped), ("Withheld", -f.Withheld), ("Transfer fee", -f.TransferFee), ("Carried to the next run", -f.Carried) })
        {
            Row(words, Figure(amount, f.Currency), _plain);
        }
        _page.DrawLine(_ink, Left, _y - 10.5, Right, _y - 10.5);
        Row("Paid", Figure(f.Paid, f.Currency), _bold);
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
        _page.DrawLine(_ink, Left, _y, Right, _y);
        Down(0.9);
    }

    private void Row(string words, string figure, XFont font)
    {
        Space();
        Write(Cut(words, 380), font, Left);
        WriteRight(figure, font);
        _page.DrawLine(_rule, Left, _y + 4, Right, _y + 4);
        Down(1);
    }

    private void Space()
    {
        if (_y <= Bottom) return;
        _page.Dispose();
        _page = XGraphics.FromPdfPage(_document.AddPage());
        _y = Top;
    }

    private void Down(double lines) => _y += lines * Line;

    private void Write(string words, XFont font, double x) => _page.DrawString(words, font, XBrushes.Black, x, _y);

    private void WriteRight(string words, XFont font) => _page.DrawString(words, font, XBrushes.Black, Right - _page.MeasureString(words, font).Width, _y);

    private string Cut(string words, double width)
    {
        if (_page.MeasureString(words, _plain).Width <= width) return words;
        while (words.Length > 1 && _page.MeasureString(words + "…", _plain).Width > width) words = words[..^1];
        return words + "…";
    }

    private static string Figure(long minor, Currency currency) => minor == 0 ? "–" : MoneyWords.Figure(minor, currency);
}
