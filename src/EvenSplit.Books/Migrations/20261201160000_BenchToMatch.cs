using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>What has changed for the benches of the bank and of partners is noted one by one, so that a statement costs what it holds; payments, files and lines are found by what they are known by.
/// An order that a partner's report lacks is named with the report, since several may lack it.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261201160000_BenchToMatch")]
public sealed class BenchToMatch : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE BenchToMatch (Kind INTEGER NOT NULL, Name TEXT NOT NULL, CONSTRAINT PK_BenchToMatch PRIMARY KEY (Kind, Name)) STRICT, WITHOUT ROWID;
        CREATE INDEX IX_Remittances_Reference ON Remittances (Reference) WHERE Reference IS NOT NULL;
        CREATE INDEX IX_Remittances_FileId ON Remittances (FileId) WHERE FileId IS NOT NULL;
        CREATE INDEX IX_OutsideLines_BankReference ON OutsideLines (Reference) WHERE Bench = 1;
        CREATE INDEX IX_OutsideLines_BankCredits ON OutsideLines (Bench) WHERE Bench = 1 AND Gross > 0;
        DROP TRIGGER IF EXISTS Settlings_UndoneOnce;
        UPDATE Settlings SET Ours = Ours || ':' || (SELECT a.Source FROM Awaited a WHERE a.Bench = 2 AND a.Ours = Settlings.Ours)
            WHERE Bench = 2 AND LineId IS NULL AND EXISTS (SELECT 1 FROM Awaited a WHERE a.Bench = 2 AND a.Ours = Settlings.Ours);
        UPDATE BenchStates SET IsToMatch = 1;
        """);
}
