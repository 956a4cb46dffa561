using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.People;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Tax forms come from payees, are kept encrypted, and count once somebody has looked.</summary>
public sealed class TaxFormTests : IDisposable
{
    private static readonly byte[] Pdf = [.. "%PDF-1.7 the number is 12345"u8];

    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Taken_it_stands_on_file_and_only_once()
    {
        Send("form.pdf", Pdf);
        var id = Assert.Single(All()).Id;
        Assert.Equal("", Record().TaxForm);
        Assert.Throws<RefusedException>(() => _book.Do<TaxForms>(f => f.Take(id, " ", TestBook.Lead)));
        _book.Do<TaxForms>(f => f.Take(id, "Residence, 2026", TestBook.Lead));
        Assert.Equal("Residence, 2026", Record().TaxForm);
        Assert.Contains(TestBook.Lead, Assert.Throws<RefusedException>(() => _book.Do<TaxForms>(f => f.Refuse(id, "no", TestBook.Lead))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Refused_they_read_why()
    {
        _book.Do<PayeeDesk>(d => d.Save("anna", d.Draft("anna")! with { Email = "anna@people.example" }, TestBook.Lead));
        Send("form.pdf", Pdf);
        _book.Do<TaxForms>(f => f.Refuse(Assert.Single(f.All()).Id, "It is not signed.", TestBook.Lead));
        Assert.Equal("It is not signed.", Assert.Single(_book.Get<TaxForms, IReadOnlyList<TaxFormRow>>(f => f.Of("anna"))).Refusal);
        Assert.Contains("It is not signed.", _book.Get<Outbox, string>(o => o.Find(o.List()[0].Id)!.Text), StringComparison.Ordinal);
        Assert.Equal("", Record().TaxForm);
    }

    [Fact]
    public void It_opens_for_its_payee_and_the_house_and_lies_encrypted()
    {
        Send("form.pdf", Pdf);
        var id = Assert.Single(All()).Id;
        Assert.Equal(Pdf, File(id, "anna")!.Value.Content);
        Assert.Equal(Pdf, File(id, null)!.Value.Content);
        Assert.Null(File(id, "ines"));
        Assert.DoesNotContain("12345", System.Text.Encoding.Latin1.GetString(_book.Get<BookDbContext, byte[]>(db => db.TaxForms.Single().Content)), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("form.exe", "MZ")]
    [InlineData("form.pdf", "MZ no document")]
    [InlineData("form.png", "%PDF-1.7")]
    [InlineData("", "%PDF-1.7")]
    [InlineData("form.svg", "<svg onload=alert(1)>")]
    public void What_is_no_document_and_no_picture_is_refused(string name, string content)
    {
        Assert.Throws<RefusedException>(() => Send(name, System.Text.Encoding.ASCII.GetBytes(content)));
        Assert.Empty(All());
    }

    [Fact]
    public void A_path_is_no_name_and_nobody_floods()
    {
        Send("../../etc/form.pdf", Pdf);
        Assert.Equal("form.pdf", Assert.Single(All()).FileName);
        Send("c:\\users\\form2.pdf", Pdf);
        Send("3.pdf", Pdf);
        Assert.Contains("still to be checked", Assert.Throws<RefusedException>(() => Send("4.pdf", Pdf)).Message, StringComparison.Ordinal);
        Assert.Throws<RefusedException>(() => _book.Do<TaxForms>(f => f.Send("ines", "big.pdf", [.. Pdf, .. new byte[TaxForms.MostBytes]])));
    }

    private void Send(string name, byte[] content) => _book.Do<TaxForms>(f => f.Send("anna", name, content));

    private IReadOnlyList<TaxFormRow> All() => _book.Get<TaxForms, IReadOnlyList<TaxFormRow>>(f => f.All());

    private (string FileName, string Type, byte[] Content)? File(int id, string? payee) => _book.Get<TaxForms, (string, string, byte[])?>(f => f.File(id, payee));

    private PayeeRecord Record() => _book.Get<BookDbContext, PayeeRecord>(db => db.Payees.AsNoTracking().Single(p => p.Id == "anna"));
}
