using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace EvenSplit.Books.Model;

/// <summary>Lets <c>dotnet ef migrations add</c> see the model.</summary>
internal sealed class DesignTimeBook : IDesignTimeDbContextFactory<BookDbContext>
{
    public BookDbContext CreateDbContext(string[] args) =>
        new(new DbContextOptionsBuilder<BookDbContext>().UseSqlite("Data Source=design.db").Options);
}
