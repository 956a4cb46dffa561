using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books;

/// <summary>The policies by which it is decided who brought an order. A change works every order out again; what runs have taken stays. Saved as they are, they are on record as looked at.</summary>
public sealed class BookPolicies(BookDbContext db, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    private const int LongestAddress = 1000;

    public void Save(ClickModel clickModel, bool allowSelfReferral, string by)
    {
        using var change = rulesChange.Begin();
        var book = db.Book.Single();
        (book.ClickModel, book.AllowSelfReferral) = (clickModel, allowSelfReferral);
        audit.Note(by, "set policies", $"{(clickModel == ClickModel.First ? "first" : "last")} click, buyers' own orders {(allowSelfReferral ? "count" : "do not count")}");
        change.Commit();
    }

    /// <summary>How the seller stands on invoices that are written from now on.</summary>
    /// <exception cref="RefusedException">Something is too long.</exception>
    public void SaveSeller(string postalAddress, string taxNumber, string by)
    {
        if (postalAddress.Length > LongestAddress) throw new RefusedException($"Write at most {LongestAddress} characters.", "PostalAddress");
        var book = db.Book.Single();
        (book.PostalAddress, book.TaxNumber) = (postalAddress.ReplaceLineEndings("\n").Trim(), taxNumber.Trim());
        // What is read of the book once is read anew; no order is owed anything else for it.
        book.RulesVersion++;
        audit.Note(by, "say how the seller stands on invoices", book.Name);
        db.SaveChanges();
    }
}
