using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>What the first query of a process waits for: the model and the machinery of queries, half a second to compile. A start has it done on the side.</summary>
public static class FirstQuery
{
    /// <summary>Compiles a query and asks nobody.</summary>
    public static void Compile()
    {
        using var db = new BookDbContext(new DbContextOptionsBuilder<BookDbContext>().UseSqlite("Data Source=:memory:").Options);
        _ = db.Book.AsNoTracking().OrderBy(b => b.Name).ToQueryString();
    }
}
