using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>What processors, banks and partners say, what it is held against, and how what did not agree was settled.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129070000_Reconcile")]
public sealed class Reconcile : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE OutsideLines (
            Id INTEGER NOT NULL CONSTRAINT PK_OutsideLines PRIMARY KEY AUTOINCREMENT, Bench INTEGER NOT NULL, Source TEXT NOT NULL, LineId TEXT NOT NULL, Kind INTEGER NOT NULL, "On" TEXT NOT NULL,
            "Order" TEXT NULL, "From" TEXT NULL, Reference TEXT NOT NULL, Name TEXT NOT NULL, Note TEXT NOT NULL, Currency TEXT NOT NULL, Gross INTEGER NOT NULL, Fee INTEGER NOT NULL, DueOn TEXT NULL,
            ImportId INTEGER NOT NULL, Ours TEXT NULL, PartFindings INTEGER NOT NULL, GrossOurs INTEGER NULL, FeeOurs INTEGER NULL, Findings INTEGER NOT NULL, State INTEGER NOT NULL);
        CREATE UNIQUE INDEX IX_OutsideLines_Bench_Source_LineId ON OutsideLines (Bench, Source, LineId);
        CREATE INDEX IX_OutsideLines_Order ON OutsideLines ("Order") WHERE "Order" IS NOT NULL;
        CREATE INDEX IX_OutsideLines_Bench_On_State ON OutsideLines (Bench, "On", State);
        CREATE INDEX IX_OutsideLines_Open ON OutsideLines (Bench, "On") WHERE State = 1;
        CREATE TABLE BankStatements (
            Id INTEGER NOT NULL CONSTRAINT PK_BankStatements PRIMARY KEY AUTOINCREMENT, Account TEXT NOT NULL, Name TEXT NOT NULL, Currency TEXT NOT NULL, First TEXT NOT NULL, Last TEXT NOT NULL,
            Opening INTEGER NULL, Closing INTEGER NULL, Sum INTEGER NOT NULL, FirstLine INTEGER NULL, LastLine INTEGER NULL);
        CREATE UNIQUE INDEX IX_BankStatements_Account_Name ON BankStatements (Account, Name);
        CREATE TABLE Awaited (
            Bench INTEGER NOT NULL, Ours TEXT NOT NULL, Kind INTEGER NOT NULL, "On" TEXT NOT NULL, "Order" TEXT NOT NULL, Source TEXT NOT NULL, Currency TEXT NOT NULL, Gross INTEGER NOT NULL, Fee INTEGER NOT NULL,
            Name TEXT NOT NULL, CONSTRAINT PK_Awaited PRIMARY KEY (Bench, Ours)) WITHOUT ROWID;
        CREATE INDEX IX_Awaited_Order ON Awaited ("Order");
        CREATE INDEX IX_Awaited_Bench_Source_On ON Awaited (Bench, Source, "On");
        CREATE INDEX IX_Awaited_Bench_Gross_On ON Awaited (Bench, Gross, "On");
        CREATE TABLE OrdersToMatch ("Order" TEXT NOT NULL CONSTRAINT PK_OrdersToMatch PRIMARY KEY) WITHOUT ROWID;
        INSERT INTO OrdersToMatch SELECT OrderId FROM Orders WHERE Processor IS NOT NULL;
        CREATE TABLE Settlings (
            Id INTEGER NOT NULL CONSTRAINT PK_Settlings PRIMARY KEY AUTOINCREMENT, Bench INTEGER NOT NULL, LineId INTEGER NULL, Ours TEXT NULL, Way INTEGER NOT NULL, Until TEXT NULL, Account TEXT NOT NULL,
            Reason TEXT NOT NULL, Findings INTEGER NOT NULL, FeeBefore INTEGER NULL, By TEXT NOT NULL, At INTEGER NOT NULL, UndoneBy TEXT NULL, UndoneAt INTEGER NULL);
        CREATE INDEX IX_Settlings_LineId ON Settlings (LineId);
        CREATE INDEX IX_Settlings_Ours ON Settlings (Ours);
        CREATE INDEX IX_Settlings_Until ON Settlings (Until) WHERE Way = 3 AND UndoneBy IS NULL;
        CREATE TABLE PartnerReports (Report TEXT NOT NULL CONSTRAINT PK_PartnerReports PRIMARY KEY, Tolerance INTEGER NOT NULL);
        CREATE TABLE BenchStates (Bench INTEGER NOT NULL CONSTRAINT PK_BenchStates PRIMARY KEY, IsToMatch INTEGER NOT NULL, UpToEntry INTEGER NOT NULL);
        INSERT INTO BenchStates VALUES (1, 1, 0), (2, 1, 0);
        CREATE TABLE ProcessorBenches (Processor TEXT NOT NULL CONSTRAINT PK_ProcessorBenches PRIMARY KEY, SettleWithinDays INTEGER NOT NULL, TakesTheirFees INTEGER NOT NULL);
        """);
}
