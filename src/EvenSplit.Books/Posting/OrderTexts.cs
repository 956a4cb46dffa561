using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Posting;

/// <summary>Puts ids of orders into the index by which any three letters of them are found. The database takes out those of orders that go; the check of the book compares.</summary>
internal static class OrderTexts
{
    /// <summary>All in one statement: SQLite writes that index out after each, and joins what it wrote.</summary>
    /// <param name="first">The first key of the orders that have just come in; they are the last of the book.</param>
    public static void Add(BookDbContext db, long first) => db.Database.ExecuteSql($"INSERT INTO OrderTexts (rowid, Text) SELECT Id, OrderId FROM Orders WHERE Id >= {first}");
}
