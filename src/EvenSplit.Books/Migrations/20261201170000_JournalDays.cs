using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>
/// Kept sums of the journal by day, in the place of those that seals had; rows there are already are added by the side, as new ones are. The lines of a settlement by their ids, since the first
/// tell its processor.
/// </summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261201170000_JournalDays")]
public sealed class JournalDays : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE JournalDays (
            "On" TEXT NOT NULL, Kind INTEGER NOT NULL, Of TEXT NOT NULL, Currency TEXT NOT NULL, Debit INTEGER NOT NULL, Credit INTEGER NOT NULL, Postings INTEGER NOT NULL,
            CONSTRAINT PK_JournalDays PRIMARY KEY ("On", Kind, Of, Currency)) STRICT, WITHOUT ROWID;
        CREATE TABLE JournalMarks (Kind INTEGER NOT NULL CONSTRAINT PK_JournalMarks PRIMARY KEY, AddedTo INTEGER NOT NULL) STRICT, WITHOUT ROWID;
        ALTER TABLE RowSeals DROP COLUMN Sums;
        CREATE INDEX IX_OutsideLines_OfSettlements ON OutsideLines (Source) WHERE Bench = 0;
        """);
}
