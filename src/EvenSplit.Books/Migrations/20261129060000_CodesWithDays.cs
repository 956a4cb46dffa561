using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Codes have days, so that one may be of several payees one after another; refunds can be withdrawn; what orders said before they were changed.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129060000_CodesWithDays")]
public sealed class CodesWithDays : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE PayeeCodesNew (
            Id INTEGER NOT NULL CONSTRAINT PK_PayeeCodes PRIMARY KEY AUTOINCREMENT, Code TEXT COLLATE NOCASE NOT NULL, PayeeId TEXT NOT NULL, "From" TEXT NULL, "To" TEXT NULL,
            CONSTRAINT FK_PayeeCodes_Payees_PayeeId FOREIGN KEY (PayeeId) REFERENCES Payees (Id) ON DELETE CASCADE);
        INSERT INTO PayeeCodesNew (Code, PayeeId) SELECT Code, PayeeId FROM PayeeCodes ORDER BY rowid;
        DROP TABLE PayeeCodes;
        ALTER TABLE PayeeCodesNew RENAME TO PayeeCodes;
        CREATE INDEX IX_PayeeCodes_Code ON PayeeCodes (Code);
        CREATE INDEX IX_PayeeCodes_PayeeId ON PayeeCodes (PayeeId);
        ALTER TABLE Refunds ADD COLUMN WithdrawnAt INTEGER NULL;
        ALTER TABLE Refunds ADD COLUMN WithdrawnBy TEXT NOT NULL DEFAULT '';
        ALTER TABLE Refunds ADD COLUMN WhyWithdrawn TEXT NOT NULL DEFAULT '';
        CREATE TABLE EarlierFacts (OrderId INTEGER NOT NULL, FactsHash INTEGER NOT NULL, ReplacedAt INTEGER NOT NULL, CONSTRAINT PK_EarlierFacts PRIMARY KEY (OrderId, FactsHash)) WITHOUT ROWID;
        CREATE INDEX IX_Orders_IsTest ON Orders (IsTest) WHERE IsTest;
        UPDATE Orders SET IsContested = 0 WHERE IsTest AND IsContested;
        """);
}
