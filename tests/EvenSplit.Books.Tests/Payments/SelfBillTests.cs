using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Invoices that the book writes in a payee's name, as a run is issued.</summary>
public sealed class SelfBillTests : IDisposable
{
    private readonly TestBook _book = new();

    public SelfBillTests()
    {
        _book.MoveTo(new DateOnly(2026, 11, 3));
        Say("friends", true);
        _book.Do<BookDbContext>(db => db.Payees.Where(p => p.Id == "anna").ExecuteUpdate(set => set.SetProperty(p => p.PostalAddress, "A street\nA town").SetProperty(p => p.TaxNumber, "IE1")));
        _book.Do<BookPolicies>(p => p.SaveSeller("Our street\r\nOur town", "IE9", TestBook.Lead));
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Each_entry_is_on_one_invoice_in_the_run_that_took_it()
    {
        _book.PutOn("art", "anna");
        _book.Recalculate();
        _book.ImportOrders(TestBook.Row("A", "2026-10-02", "ANNA"), TestBook.Row("B", "2026-10-03", "ANNA", price: "50.00"));
        var october = Issued(new DateOnly(2026, 10, 31));
        var bill = Of(october, "anna")!;
        Assert.Equal(("anna-1", new DateOnly(2026, 11, 3), "Anna\nA street\nA town\nTax number IE1", "Test book\nOur street\nOur town\nTax number IE9"), (bill.Number, bill.IssuedOn, bill.Supplier, bill.Recipient));
        // What she earned as an illustrator is on her statement, and not here.
        Assert.Equal([("Friends", 2L, "€15.00")], bill.Lines.Select(l => (l.Agreement, l.Entries, l.Sum.InWords())));
        Assert.Null(Of(october, "ines"));

        _book.ImportRefunds("R1,A,2026-11-05T10:00:00Z,refund,1,1,100.00,0");
        _book.MoveTo(new DateOnly(2026, 12, 1));
        Say("friends", true);
        var november = Issued(new DateOnly(2026, 11, 30));
        var note = Of(november, "anna")!;
        Assert.Equal(("anna-2", true, "−€10.00"), (note.Number, note.IsCreditNote, note.Totals[0].InWords()));
        Assert.Equal(_book.Get<BookDbContext, long>(db => db.Entries.Where(e => e.Payee == "anna" && e.Agreement == "friends").Sum(e => e.Amount)), bill.Totals[0].Minor + note.Totals[0].Minor);
    }

    [Fact]
    public void What_was_issued_never_changes()
    {
        _book.ImportOrders(TestBook.Row("A", "2026-10-02", "ANNA"));
        var run = Issued(new DateOnly(2026, 10, 31));
        var before = Of(run, "anna")!;
        Say("friends", false);
        _book.Do<PayeeDesk>(d => Assert.Empty(d.Save("anna", d.Draft("anna")! with { Name = "Anna New", PostalAddress = "Another street" }, TestBook.Lead).Faults));
        var after = Of(run, "anna")!;
        Assert.Equal((before.Supplier, before.Lines[0]), (after.Supplier, after.Lines[0]));
        foreach (var sql in new[] { "UPDATE SelfBills SET Number = 7", "DELETE FROM SelfBills", "INSERT OR REPLACE INTO SelfBills SELECT * FROM SelfBills" })
        {
            Assert.Contains("an invoice that was issued", Assert.ThrowsAny<Exception>(() => _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(sql))).Message, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Without_the_agreements_word_none_is_written()
    {
        Say("friends", false);
        _book.ImportOrders(TestBook.Row("A", "2026-10-02", "ANNA"));
        Assert.Null(Of(Issued(new DateOnly(2026, 10, 31)), "anna"));
    }

    [Fact]
    public void It_is_told_how_many_cannot_stand_on_one()
    {
        Assert.Equal((0, 1), (_book.Get<SelfBills, int>(b => b.Incomplete("friends")), _book.Get<SelfBills, int>(b => b.Incomplete("art"))));
    }

    private void Say(string agreement, bool writes) => _book.Do<ShownToPayees>(s => s.Save(new AgreementViewRecord { AgreementId = agreement, SelfBills = writes }, TestBook.Lead));

    private int Issued(DateOnly asOf)
    {
        var run = _book.Pay(asOf).Id;
        _book.Do<IssueRun>(i => i.Issue(run, TestBook.Approver));
        return run;
    }

    private SelfBill? Of(int run, string payee) => _book.Get<SelfBills, SelfBill?>(b => b.Find(run, payee));
}
