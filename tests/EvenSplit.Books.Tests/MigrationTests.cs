using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Tests;

/// <summary>A book made by any version of the application so far is brought to this one. A migration that books have gone through is never replaced.</summary>
public sealed class MigrationTests : IDisposable
{
    private readonly string _file = Path.Combine(Path.GetTempPath(), Path.GetRandomFileName() + ".db");

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        File.Delete(_file);
    }

    [Theory]
    [InlineData("20261123162640_FirstBook")]
    [InlineData("20261123192932_WholeScenario")]
    [InlineData("20261123215130_AgreementTexts")]
    [InlineData("20261124022750_PlansOffersDoors")]
    public void A_book_of_an_earlier_version_is_brought_to_this_one(string version)
    {
        using var db = new BookDbContext(new DbContextOptionsBuilder<BookDbContext>().UseSqlite($"Data Source={_file}").Options);
        var migrator = db.GetService<IMigrator>();
        migrator.Migrate(version);
        db.Database.ExecuteSql($"INSERT INTO Book (Id, Name, Currency, TimeZone, ClickModel, AllowSelfReferral, RulesVersion) VALUES (1, 'An old book', 'EUR', 'Europe/Dublin', 1, 0, 0)");
        migrator.Migrate();
        Assert.Equal(("An old book", new Rate(Rate.One / 10), ""), db.Book.Select(b => new { b.Name, b.RefundLimit, b.ShopAddress }).AsEnumerable().Select(b => (b.Name, b.RefundLimit, b.ShopAddress)).Single());
        Assert.False(db.Database.HasPendingModelChanges());
        Assert.Throws<SqliteException>(() => db.Database.ExecuteSql($"INSERT INTO StoreCredits (\"On\", CustomerKey, Amount, \"By\") VALUES ('2026-10-01', 'c', 1, 'x'); DELETE FROM StoreCredits"));
    }
}
