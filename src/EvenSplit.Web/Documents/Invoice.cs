using EvenSplit.Books.PayRuns;
using EvenSplit.Core;

namespace EvenSplit.Web.Documents;

/// <summary>An invoice that the book wrote in a payee's name, drawn for paper.</summary>
internal sealed class Invoice : Paper
{
    private const double SecondColumn = 300;

    private Invoice(DocumentFonts fonts) : base(fonts)
    {
    }

    public static byte[] Draw(SelfBill bill, DocumentFonts fonts)
    {
        var invoice = new Invoice(fonts);
        invoice.Call($"{Kind(bill)} {bill.Number}", bill.Supplier.Split('\n')[0]);
        invoice.Head(bill);
        invoice.Lines(bill);
        return invoice.Build();
    }

    public static string Kind(SelfBill bill) => bill.IsCreditNote ? "Self-billed credit note" : "Self-billed invoice";

    private void Head(SelfBill bill)
    {
        Write($"{Kind(bill)} {bill.Number}", Bold, Left, TitleSize);
        Down(1.5);
        Write($"Of {bill.IssuedOn.InWords()}, for what was earned and paid by the run as of {bill.AsOf.InWords()}.", Plain, Left);
        Down(2);
        Write("Supplier", Bold, Left);
        Write("Recipient, who wrote this", Bold, SecondColumn);
        Down(1);
        var (supplier, recipient) = (bill.Supplier.Split('\n'), bill.Recipient.Split('\n'));
        for (var i = 0; i < Math.Max(supplier.Length, recipient.Length); i++)
        {
            Space();
            if (i < supplier.Length) Write(Cut(supplier[i], SecondColumn - Left - 10), Plain, Left);
            if (i < recipient.Length) Write(Cut(recipient[i], Right - SecondColumn), Plain, SecondColumn);
            Down(1);
        }
        Down(1);
    }

    private void Lines(SelfBill bill)
    {
        foreach (var total in bill.Totals)
        {
            Heading("Supplied", total.Currency.Code);
            foreach (var (agreement, entries, sum) in bill.Lines.Where(l => l.Sum.Currency == total.Currency)) Row($"{agreement}: {MoneyWords.Count(entries, "entry", "entries")} of the statement", Figure(sum.Minor, sum.Currency), Plain);
            Row("Total", Figure(total.Minor, total.Currency), Bold);
            Down(0.8);
        }
        foreach (var line in Wrapped("The total contains whatever tax the supplier owes on it. Advances, adjustments, tax withheld and transfer fees are on the statement."))
        {
            Space();
            Write(line, Plain, Left);
            Down(1);
        }
    }
}
