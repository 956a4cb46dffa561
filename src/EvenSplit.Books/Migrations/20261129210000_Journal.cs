using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>What sales put into the journal of the book, and which months are closed.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129210000_Journal")]
public sealed class Journal : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE Bookings (
            Id INTEGER NOT NULL CONSTRAINT PK_Bookings PRIMARY KEY AUTOINCREMENT, OrderId INTEGER NOT NULL, Refund TEXT NULL, "On" TEXT NOT NULL, Period INTEGER NOT NULL, ForPeriod INTEGER NULL,
            Processor TEXT NOT NULL, Channel TEXT NOT NULL, Currency TEXT NOT NULL, Goods INTEGER NOT NULL, Shipping INTEGER NOT NULL, Tax INTEGER NOT NULL, ProcessingFee INTEGER NOT NULL,
            ChannelFee INTEGER NOT NULL, Rebate INTEGER NOT NULL);
        CREATE INDEX IX_Bookings_OrderId ON Bookings (OrderId);
        CREATE INDEX IX_Bookings_Period_On ON Bookings (Period, "On");
        CREATE INDEX IX_Bookings_ForPeriod ON Bookings (ForPeriod) WHERE ForPeriod IS NOT NULL;
        INSERT OR IGNORE INTO OrdersToMatch SELECT OrderId FROM Orders;
        ALTER TABLE OutsideLines ADD COLUMN JournalOn TEXT NULL;
        CREATE TABLE MonthCloses (
            Id INTEGER NOT NULL CONSTRAINT PK_MonthCloses PRIMARY KEY AUTOINCREMENT, Period INTEGER NOT NULL, ClosedBy TEXT NOT NULL, ClosedAt INTEGER NOT NULL, ConfirmedBy TEXT NULL, ConfirmedAt INTEGER NULL,
            OpenedBy TEXT NULL, OpenedConfirmedBy TEXT NULL, OpenedAt INTEGER NULL, OpenedBecause TEXT NOT NULL, IsWithdrawn INTEGER NOT NULL, Hash TEXT NOT NULL, HashBefore TEXT NOT NULL, Proof TEXT NOT NULL);
        CREATE UNIQUE INDEX IX_MonthCloses_Period ON MonthCloses (Period) WHERE OpenedConfirmedBy IS NULL AND NOT IsWithdrawn;
        CREATE TABLE JournalAccounts (Account TEXT NOT NULL CONSTRAINT PK_JournalAccounts PRIMARY KEY, Code TEXT NOT NULL, Name TEXT NOT NULL) WITHOUT ROWID;
        """);
}
