using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Why entries were posted that no sale or refund caused, when a payment came back, and which forms were sent. What was posted before has no reason.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129050000_WhyPosted")]
public sealed class WhyPosted : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE PostingCauses (FirstEntry INTEGER NOT NULL CONSTRAINT PK_PostingCauses PRIMARY KEY, LastEntry INTEGER NOT NULL, Words TEXT NOT NULL, By TEXT NOT NULL, At INTEGER NOT NULL);
        CREATE TABLE SentForms (Token TEXT NOT NULL CONSTRAINT PK_SentForms PRIMARY KEY, At INTEGER NOT NULL, LedTo TEXT NULL);
        CREATE INDEX IX_SentForms_At ON SentForms (At);
        ALTER TABLE Recalculations ADD COLUMN Words TEXT NOT NULL DEFAULT '';
        ALTER TABLE Recalculations ADD COLUMN "By" TEXT NOT NULL DEFAULT '';
        ALTER TABLE Remittances ADD COLUMN CameBackOn TEXT NULL;
        """);
}
