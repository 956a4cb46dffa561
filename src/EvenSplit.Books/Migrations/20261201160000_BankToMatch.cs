using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>What has changed for the bank's bench is noted one by one, so that a statement costs what it holds; payments, files and lines are found by what they are known by.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261201160000_BankToMatch")]
public sealed class BankToMatch : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE BankToMatch (Kind INTEGER NOT NULL, Name TEXT NOT NULL, CONSTRAINT PK_BankToMatch PRIMARY KEY (Kind, Name)) STRICT, WITHOUT ROWID;
        CREATE INDEX IX_Remittances_Reference ON Remittances (Reference) WHERE Reference IS NOT NULL;
        CREATE INDEX IX_Remittances_FileId ON Remittances (FileId) WHERE FileId IS NOT NULL;
        CREATE INDEX IX_OutsideLines_BankReference ON OutsideLines (Reference) WHERE Bench = 1;
        CREATE INDEX IX_OutsideLines_BankCredits ON OutsideLines (Bench) WHERE Bench = 1 AND Gross > 0;
        UPDATE BenchStates SET IsToMatch = 1 WHERE Bench = 1;
        """);
}
