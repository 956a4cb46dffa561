using System.Net;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;

namespace EvenSplit.Web.Tests;

// The invoice that the book writes for a payee.
public sealed partial class OwnPagesTests
{
    [Fact]
    public async Task An_invoice_written_for_a_payee_is_seen_by_them_and_the_house_alone()
    {
        Do<ShownToPayees>(s => s.Save(new AgreementViewRecord { AgreementId = "friends", SelfBills = true }, "Lena"));
        Do<PayRunSteps>(s => s.LookAt(_annasRun, null, "Aron"));
        Do<PayRunSteps>(s => s.Approve(_annasRun, _site.Do<PayRunDesk, string>(d => d.Find(_annasRun)!.ControlText), "Aron"));
        Do<IssueRun>(i => i.Issue(_annasRun, "Lena"));

        var (anna, ben, lead) = (await EnteredAsync("anna@people.example"), await EnteredAsync("ben@people.example"), await _site.SignedInAsync("lead"));
        var (theirs, houses) = ($"/me/statements/{_annasRun}?handler=Invoice", $"/2025-10/pay/{_annasRun}/statement/anna-secretson?handler=Invoice");
        Assert.Contains("Self-billed invoice anna-secretson-1", await anna.GetStringAsync($"/me/statements/{_annasRun}"), StringComparison.Ordinal);
        foreach (var bytes in new[] { await anna.GetByteArrayAsync(theirs), await lead.GetByteArrayAsync(houses) })
        {
            using var pdf = UglyToad.PdfPig.PdfDocument.Open(bytes);
            var text = string.Concat(pdf.GetPages().Select(p => p.Text));
            foreach (var says in new[] { "Self-billed invoice anna-secretson-1", "Anna Secretson", "Test book", "10.00" }) Assert.Contains(says, text, StringComparison.Ordinal);
            Assert.DoesNotContain("Ben", text, StringComparison.Ordinal);
        }
        Assert.Equal(HttpStatusCode.NotFound, (await ben.GetAsync(theirs)).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await ben.GetAsync(houses)).StatusCode);
        // None was written for his.
        Assert.Equal(HttpStatusCode.NotFound, (await ben.GetAsync($"/me/statements/{_bensRun}?handler=Invoice")).StatusCode);
    }
}
