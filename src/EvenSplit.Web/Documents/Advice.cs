using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using EvenSplit.Web.Pages;

namespace EvenSplit.Web.Documents;

/// <summary>A remittance advice with its statement, drawn for paper: A4, the summary first, then every entry. Nothing that only concerns the house is on it.</summary>
internal sealed class Advice : Paper
{
    private Advice(DocumentFonts fonts) : base(fonts)
    {
    }

    /// <param name="parts">One, or those that are paid as one payment through one payee, whose name comes first.</param>
    /// <param name="to">The name of who gets it.</param>
    public static byte[] Draw(IReadOnlyList<Statement> parts, string to, DocumentFonts fonts)
    {
        var advice = new Advice(fonts);
        advice.Call($"Statement for {to} as of {parts[0].AsOf.InWords()}", parts[0].BookName);
        if (parts.Count > 1) advice.Overview(parts, to);
        foreach (var (statement, i) in parts.Select((s, i) => (s, i)))
        {
            if (i > 0 || parts.Count > 1) advice.NewPage();
            advice.Head(statement);
            advice.Summary(statement.Payee.Figures);
            advice.Adjustments(statement);
            advice.Entries(statement);
        }
        return advice.Build();
    }

    /// <summary>What the statement says of the payment, and of who released it where nobody else looked at it.</summary>
    public static string Payment(Statement statement) => Paid(statement) + (statement.OnePerson is { } one ? $" Prepared and approved by one person, {one}." : "");

    private static string Paid(Statement statement)
    {
        var (row, figures) = (statement.Payee, statement.Payee.Figures);
        if (figures.Paid == 0) return $"Nothing is paid this time: {RunPage.Words(figures.Reason)}.{(figures is { TakesEntries: true, Carried: not 0 } ? " It is carried to the next run." : "")}";
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
        Write(parts[0].BookName, Bold, Left);
        Down(1.8);
        Write($"One payment to {to} for {MoneyWords.Count(parts.Count, "payee")}", Bold, Left, TitleSize);
        Down(1.5);
        Write($"As of {parts[0].AsOf.InWords()}. Each part follows on its own page.", Plain, Left);
        Down(1.8);
        foreach (var currency in parts.GroupBy(p => p.Payee.Figures.Currency))
        {
            Heading("Payees", currency.Key.Code);
            foreach (var part in currency) Row(part.Payee.Name, Figure(part.Payee.Figures.Paid, currency.Key), Plain);
            Row("Payment", Figure(currency.Sum(p => p.Payee.Figures.Paid), currency.Key), Bold);
            Down(0.8);
        }
    }

    private void Head(Statement statement)
    {
        Write(statement.BookName, Bold, Left);
        Down(1.8);
        Write($"Statement for {statement.Payee.Name}", Bold, Left, TitleSize);
        Down(1.5);
        foreach (var line in Wrapped($"As of {statement.AsOf.InWords()}. {Payment(statement)}"))
        {
            Write(line, Plain, Left);
            Down(1);
        }
        Down(0.8);
    }

    private void Summary(Remittance f)
    {
        Heading("Summary", f.Currency.Code);
        foreach (var (words, amount) in new[] { ("Carried from the run before", f.Opening), ("Earned, reversals taken off", f.Earned), ("Adjustments", f.Adjustments), ("Recouped of advances", -f.Recouped), ("Withheld", -f.Withheld), ("Transfer fee", -f.TransferFee), ("Carried to the next run", -f.Carried) })
        {
            Row(words, Figure(amount, f.Currency), Plain);
        }
        Rule(Y + 10.5, 0.8, 0x20, 0x24, 0x2B);
        Row("Payment", Figure(f.Paid, f.Currency), Bold);
        Down(0.8);
    }

    private void Adjustments(Statement statement)
    {
        if (statement.Adjustments.Count == 0) return;
        Heading("Adjustments", "");
        foreach (var (kind, on, note, amount) in statement.Adjustments) Row($"{on.InWords()}, {Words(kind)}: {note}", amount.InWords(), Plain);
        Down(0.8);
    }

    private void Entries(Statement statement)
    {
        if (statement.Lines.Count == 0) return;
        Heading(MoneyWords.Count(statement.Lines.Count, "entry", "entries"), "");
        foreach (var line in statement.Lines)
        {
            Space();
            Write(line.PostedOn.InWords(), Plain, Left);
            Write(Cut(line.OrderId, 80), Plain, Left + 68);
            Write(Cut($"{line.Product}, {line.Agreement}{(line.IsReversal ? ", reversal" : "")}", 260), Plain, Left + 152);
            WriteRight(line.Amount.InWords(), Plain);
            Down(1);
        }
        foreach (var sum in statement.EarnedByCurrency) Row($"Earned in {sum.Currency.Code}", sum.InWords(), Bold);
    }

    public static string Words(AdjustmentKind kind) => kind switch
    {
        AdjustmentKind.Returned => "payment owed again",
        AdjustmentKind.WriteOff => "written off",
        _ => kind.ToString().ToLowerInvariant(),
    };
}
