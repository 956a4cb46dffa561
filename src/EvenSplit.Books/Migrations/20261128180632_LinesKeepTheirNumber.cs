using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>
/// Lines of orders have a number of their own, so that what is posted for a line goes on naming it; memberships name products; runs keep what they
/// took and by which rates; recalculations list their orders; the book keeps what its checks found.
/// </summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261128180632_LinesKeepTheirNumber")]
public sealed class LinesKeepTheirNumber : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE OrderLines RENAME COLUMN Position TO Number;
        ALTER TABLE OrderLines ADD COLUMN Position INTEGER NULL;
        UPDATE OrderLines SET Position = Number;
        ALTER TABLE Entries RENAME COLUMN LinePosition TO LineNumber;
        ALTER TABLE EntryHolds RENAME COLUMN LinePosition TO LineNumber;
        ALTER TABLE CountedSales RENAME COLUMN LinePosition TO LineNumber;
        -- A fingerprint below 0 is still to be taken.
        ALTER TABLE EntrySums ADD COLUMN Fingerprint INTEGER NOT NULL DEFAULT -1;
        ALTER TABLE Memberships ADD COLUMN Products TEXT NULL;
        ALTER TABLE Remittances ADD COLUMN TakenEntries INTEGER NULL;
        ALTER TABLE Remittances ADD COLUMN TakenFingerprint INTEGER NULL;
        ALTER TABLE RunRates ADD COLUMN Factor TEXT NULL;
        ALTER TABLE Imports ADD COLUMN EventsOf TEXT NULL;
        ALTER TABLE Quarantine ADD COLUMN WaitsForOrder TEXT NULL;
        UPDATE Quarantine SET WaitsForOrder = json_extract(Cells, '$.order_id')
            WHERE State = 0 AND Columns = 'order_id' AND ImportId IN (SELECT Id FROM Imports WHERE Kind = 1);
        CREATE INDEX IX_Quarantine_WaitsForOrder ON Quarantine (WaitsForOrder) WHERE WaitsForOrder IS NOT NULL AND State = 0;
        CREATE UNIQUE INDEX IX_Imports_EventsOf_Kind ON Imports (EventsOf, Kind) WHERE EventsOf IS NOT NULL;

        ALTER TABLE Recalculations DROP COLUMN LastOrderId;
        ALTER TABLE Recalculations ADD COLUMN IsListed INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE Recalculations ADD COLUMN Faults TEXT NOT NULL DEFAULT '';
        UPDATE Recalculations SET Touched = CASE IsFinished WHEN 1 THEN '[]' ELSE '[{"Everything":true}]' END, IsListed = IsFinished;
        CREATE TABLE RecalculationOrders (
            RecalculationId INTEGER NOT NULL, At INTEGER NOT NULL, OrderId INTEGER NOT NULL,
            CONSTRAINT PK_RecalculationOrders PRIMARY KEY (RecalculationId, At, OrderId));

        DROP INDEX IX_CauseNotes_Cause;
        ALTER TABLE CauseNotes RENAME COLUMN Cause TO Subject;
        ALTER TABLE CauseNotes ADD COLUMN Code INTEGER NOT NULL DEFAULT 0;
        UPDATE CauseNotes SET Code = CASE substr(Subject, 1, instr(Subject, ':') - 1)
                WHEN 'FeeMissing' THEN 0 WHEN 'OverCommitted' THEN 1 WHEN 'PayeeInactive' THEN 2 WHEN 'RateMissing' THEN 3
                WHEN 'RefundExceeds' THEN 4 WHEN 'SelfReferral' THEN 5 ELSE 6 END,
            Subject = substr(Subject, instr(Subject, ':') + 1);
        CREATE INDEX IX_CauseNotes_Code_Subject ON CauseNotes (Code, Subject);

        CREATE TABLE BookChecks (
            Id INTEGER NOT NULL CONSTRAINT PK_BookChecks PRIMARY KEY AUTOINCREMENT,
            At INTEGER NOT NULL, Why TEXT NOT NULL, IsDone INTEGER NOT NULL, Milliseconds INTEGER NOT NULL, Differences INTEGER NOT NULL, Waiting INTEGER NULL);
        CREATE TABLE BookCheckLines (
            CheckId INTEGER NOT NULL, Position INTEGER NOT NULL, Name TEXT NOT NULL, Kept TEXT NOT NULL, WorkedOut TEXT NOT NULL, DifferencesFound INTEGER NOT NULL,
            CONSTRAINT PK_BookCheckLines PRIMARY KEY (CheckId, Position),
            CONSTRAINT FK_BookCheckLines_BookChecks_CheckId FOREIGN KEY (CheckId) REFERENCES BookChecks (Id) ON DELETE CASCADE);
        CREATE TABLE BookCheckDifferences (
            Id INTEGER NOT NULL CONSTRAINT PK_BookCheckDifferences PRIMARY KEY AUTOINCREMENT,
            CheckId INTEGER NOT NULL, Position INTEGER NOT NULL, Subject INTEGER NOT NULL, "Key" TEXT NOT NULL, What TEXT NOT NULL, Kept TEXT NOT NULL, WorkedOut TEXT NOT NULL,
            CONSTRAINT FK_BookCheckDifferences_BookCheckLines_CheckId_Position FOREIGN KEY (CheckId, Position) REFERENCES BookCheckLines (CheckId, Position) ON DELETE CASCADE);
        CREATE INDEX IX_BookCheckDifferences_CheckId_Position ON BookCheckDifferences (CheckId, Position);
        """);
}
