using EvenSplit.Core;

namespace EvenSplit.Books;

/// <summary>What the book calls the things its traces speak of.</summary>
public static class BookNaming
{
    public static Naming Naming(this OpenedBook book) => new(
        id => book.PayeeName(id.Value), id => book.AgreementName(id.Value), id => book.ProductName(id.Value));
}
