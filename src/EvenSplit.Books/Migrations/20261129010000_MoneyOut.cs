using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Doubts about payments, payout details sealed for their row, and sources bound to channels whose events have ids of their own.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129010000_MoneyOut")]
public sealed class MoneyOut : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE PaymentDoubts (
            Id INTEGER NOT NULL CONSTRAINT PK_PaymentDoubts PRIMARY KEY AUTOINCREMENT, RemittanceId INTEGER NOT NULL, Kind INTEGER NOT NULL, Says TEXT NOT NULL, FileName TEXT NOT NULL,
            RaisedBy TEXT NOT NULL, RaisedAt INTEGER NOT NULL, SettledBy TEXT NULL, SettledAt INTEGER NULL, IsUpheld INTEGER NOT NULL,
            CONSTRAINT FK_PaymentDoubts_Remittances_RemittanceId FOREIGN KEY (RemittanceId) REFERENCES Remittances (Id) ON DELETE CASCADE);
        CREATE INDEX IX_PaymentDoubts_RemittanceId ON PaymentDoubts (RemittanceId);
        CREATE INDEX IX_PaymentDoubts_SettledBy ON PaymentDoubts (SettledBy) WHERE SettledBy IS NULL;
        ALTER TABLE PaymentMessages ADD COLUMN Doubted INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE PayoutDetails ADD COLUMN IsBound INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE EventSources ADD COLUMN Channels TEXT NULL;
        DROP INDEX IX_Inbox_EventId;
        CREATE UNIQUE INDEX IX_Inbox_Source_EventId ON Inbox (Source, EventId);
        """);
}
