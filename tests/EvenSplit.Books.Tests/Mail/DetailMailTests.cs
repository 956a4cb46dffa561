using EvenSplit.Books.Mail;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.People;

namespace EvenSplit.Books.Tests;

/// <summary>Whoever's money could be led astray by a change is told of it at once.</summary>
public sealed class DetailMailTests : IDisposable
{
    private const string Lead = TestBook.Lead, Iban = "IE29AIBK93115212345678";

    private readonly TestBook _book = new();

    public DetailMailTests() => SetAddress("anna@people.example");

    public void Dispose() => _book.Dispose();

    [Fact]
    public void Details_are_told_as_they_are_proposed_and_confirmed_and_never_in_full()
    {
        Assert.Empty(_book.Get<PayoutDetails, IReadOnlyList<Forms.FieldFault>>(d => d.Propose("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = Iban, Bic = "AIBKIE2D" }, Lead)));
        var proposed = Assert.Single(Mails());
        Assert.Equal("\"Anna\" <anna@people.example>", proposed.Mail.To);
        Assert.Contains($"as {Lead} asked", proposed.Text, StringComparison.Ordinal);
        _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, TestBook.Approver));
        Assert.Equal(2, Mails().Length);
        Assert.All(Mails(), m => Assert.DoesNotContain(Iban, m.Text, StringComparison.Ordinal));
    }

    [Fact]
    public void A_new_address_is_told_to_the_old_one_too()
    {
        SetAddress("anna@elsewhere.example");
        Assert.Equal(["\"Anna\" <anna@elsewhere.example>", "\"Anna\" <anna@people.example>"], Mails().Select(m => m.Mail.To).Order(StringComparer.Ordinal));
        SetAddress("");
        Assert.Equal(3, Mails().Length);
        Assert.Equal(2, Mails().Count(m => m.Mail.To.Contains("elsewhere", StringComparison.Ordinal)));
        SetAddress("");
        Assert.Equal(3, Mails().Length);
    }

    private void SetAddress(string email) => _book.Do<PayeeDesk>(d => Assert.Empty(d.Save("anna", d.Draft("anna")! with { Email = email }, Lead).Faults));

    private OpenedMail[] Mails() => _book.Get<Outbox, OpenedMail[]>(o => [.. o.List().Select(m => o.Find(m.Id)!)]);
}
