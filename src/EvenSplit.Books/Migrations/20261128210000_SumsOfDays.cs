using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>
/// Tracks are kept by the sums of their days, so that what comes late changes one row and not all after it. A run takes what a payee has open by one
/// row, not by a stamp on each entry.
/// </summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261128210000_SumsOfDays")]
public sealed class SumsOfDays : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE ProgressDays (
            Payee TEXT NOT NULL, Agreement TEXT NOT NULL, Currency TEXT NOT NULL, "On" TEXT NOT NULL, Sales INTEGER NOT NULL, Orders INTEGER NOT NULL, Earned INTEGER NOT NULL,
            HighestSales INTEGER NOT NULL, HighestOrders INTEGER NOT NULL, HighestEarned INTEGER NOT NULL,
            CONSTRAINT PK_ProgressDays PRIMARY KEY (Payee, Agreement, Currency, "On"));
        INSERT INTO ProgressDays
            SELECT Payee, Agreement, Currency, "On", SUM(Sales), SUM(Orders), SUM(Earned), MAX(0, MAX(SoldSoFar)), MAX(0, MAX(OrdersSoFar)), MAX(0, MAX(EarnedSoFar)) FROM (
                SELECT Payee, Agreement, Currency, "On", Sales, Orders, Earned, SUM(Sales) OVER day AS SoldSoFar, SUM(Orders) OVER day AS OrdersSoFar, SUM(Earned) OVER day AS EarnedSoFar
                FROM ProgressEvents WINDOW day AS (PARTITION BY Payee, Agreement, Currency, "On" ORDER BY At, IsRefund, EventId ROWS UNBOUNDED PRECEDING))
            GROUP BY Payee, Agreement, Currency, "On";
        ALTER TABLE ProgressEvents DROP COLUMN After;

        CREATE TABLE CountedDays (Product TEXT NOT NULL, "On" TEXT NOT NULL, Quantity INTEGER NOT NULL, CONSTRAINT PK_CountedDays PRIMARY KEY (Product, "On"));
        INSERT INTO CountedDays SELECT Product, date(PlacedAt / 864000000000 + 1721425.5), SUM(Quantity) FROM CountedSales GROUP BY 1, 2;
        ALTER TABLE CountedSales DROP COLUMN "Before";

        ALTER TABLE Orders ADD COLUMN IsRefunded INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE Orders ADD COLUMN IsContested INTEGER NOT NULL DEFAULT 0;
        UPDATE Orders SET IsRefunded = 1 WHERE Id IN (SELECT OrderId FROM Refunds);
        UPDATE Orders SET IsContested = 1 WHERE Id IN (
            SELECT click.OrderId FROM OrderClicks click JOIN OrderCodes code ON code.OrderId = click.OrderId JOIN PayeeCodes owned ON owned.Code = code.Code WHERE owned.PayeeId <> click.Payee);
        CREATE INDEX IX_Orders_Channel_Period_PlacedAt_Id ON Orders (Channel, Period, PlacedAt, Id);
        CREATE INDEX IX_Orders_Refunded ON Orders (Period, PlacedAt, Id) WHERE IsRefunded;
        CREATE INDEX IX_Orders_Contested ON Orders (Period, PlacedAt, Id) WHERE IsContested;
        CREATE INDEX IX_Orders_NotCounted ON Orders (Period, PlacedAt, Id) WHERE Status <> 0;
        CREATE VIRTUAL TABLE OrderTexts USING fts5 (Text, content = '', contentless_delete = 1, tokenize = 'trigram', detail = none);
        INSERT INTO OrderTexts (rowid, Text) SELECT Id, OrderId FROM Orders;
        CREATE TABLE SalesSums (
            Period INTEGER NOT NULL, BroughtBy TEXT NOT NULL, Channel TEXT NOT NULL, Currency TEXT NOT NULL, HasExceptions INTEGER NOT NULL, IsRefunded INTEGER NOT NULL, Orders INTEGER NOT NULL,
            Charged INTEGER NOT NULL, Tax INTEGER NOT NULL, Fees INTEGER NOT NULL, Affiliates INTEGER NOT NULL, Collaborators INTEGER NOT NULL, Vendors INTEGER NOT NULL, House INTEGER NOT NULL,
            CONSTRAINT PK_SalesSums PRIMARY KEY (Period, BroughtBy, Channel, Currency, HasExceptions, IsRefunded));
        INSERT INTO SalesSums
            SELECT Period, COALESCE(AttributedTo, ''), Channel, Currency, Exceptions > 0, IsRefunded, COUNT(*), SUM(Charged), SUM(Tax), SUM(ProcessingFee + ChannelFee - Rebate), SUM(Affiliates),
                SUM(Collaborators), SUM(Vendors), SUM(House)
            FROM Orders WHERE Status = 0 GROUP BY 1, 2, 3, 4, 5, 6;
        ALTER TABLE OrderExceptions ADD COLUMN Period INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE OrderExceptions ADD COLUMN Subject TEXT NOT NULL DEFAULT '';
        ALTER TABLE OrderExceptions ADD COLUMN IsOpen INTEGER NOT NULL DEFAULT 1;
        -- Fee missing, over-committed, payee inactive, rate missing, self-referral, price off plan: the subjects they are told by.
        UPDATE OrderExceptions SET Period = o.Period,
            Subject = CASE Code WHEN 0 THEN COALESCE(o.Processor, '') WHEN 3 THEN o.Currency WHEN 2 THEN COALESCE(Payee, '') WHEN 5 THEN COALESCE(Payee, '') WHEN 4 THEN ''
                ELSE COALESCE((SELECT l.Product FROM OrderLines l WHERE l.OrderId = o.Id AND l.LineId = OrderExceptions.LineId AND l.Position IS NOT NULL), '') END,
            IsOpen = NOT EXISTS (SELECT 1 FROM AcceptedExceptions a WHERE a.OrderId = o.Id AND a.Code = OrderExceptions.Code AND a.LineId = COALESCE(OrderExceptions.LineId, '') AND a.Payee = COALESCE(OrderExceptions.Payee, ''))
            FROM Orders o WHERE o.Id = OrderExceptions.OrderId;
        CREATE INDEX IX_OrderExceptions_Period_Code_Subject_OrderId ON OrderExceptions (Period, Code, Subject, OrderId) WHERE IsOpen;
        CREATE INDEX IX_OrderExceptions_Code_Subject_OrderId ON OrderExceptions (Code, Subject, OrderId);
        DROP INDEX IX_OrderLines_Product;
        CREATE INDEX IX_OrderLines_Product_OrderId_Position ON OrderLines (Product, OrderId, Position);
        CREATE INDEX IX_Entries_Reversals ON Entries (Period, PostedOn, Id) WHERE RefundId IS NOT NULL;

        ALTER TABLE Recalculations ADD COLUMN StartedAt INTEGER NULL;

        -- Guards that speak of what goes; all are made anew as the book is opened.
        DROP TRIGGER IF EXISTS Entries_NoUpdate;
        DROP TRIGGER IF EXISTS Entries_ClearsUntilTaken;
        DROP TRIGGER IF EXISTS Entries_OneRun;
        DROP TRIGGER IF EXISTS Remittances_NoUpdate;
        CREATE TABLE Takings (
            Id INTEGER NOT NULL CONSTRAINT PK_Takings PRIMARY KEY AUTOINCREMENT, RunId INTEGER NOT NULL, Payee TEXT NOT NULL, AsOf TEXT NOT NULL,
            CONSTRAINT FK_Takings_PayRuns_RunId FOREIGN KEY (RunId) REFERENCES PayRuns (Id) ON DELETE CASCADE);
        CREATE TABLE TakenSums (
            RunId INTEGER NOT NULL, Payee TEXT NOT NULL, Currency TEXT NOT NULL, ClearsOn TEXT NOT NULL, Amount INTEGER NOT NULL, Reversed INTEGER NOT NULL, Entries INTEGER NOT NULL,
            Fingerprint INTEGER NOT NULL,
            CONSTRAINT PK_TakenSums PRIMARY KEY (RunId, Payee, Currency, ClearsOn),
            CONSTRAINT FK_TakenSums_PayRuns_RunId FOREIGN KEY (RunId) REFERENCES PayRuns (Id) ON DELETE CASCADE);
        INSERT INTO Takings (RunId, Payee, AsOf)
            SELECT r.Id, e.Payee, r.AsOf FROM (SELECT DISTINCT RunId, Payee FROM Entries WHERE RunId IS NOT NULL) e JOIN PayRuns r ON r.Id = e.RunId ORDER BY r.LockedAt, r.Id, e.Payee;
        CREATE INDEX IX_Takings_Payee_Id ON Takings (Payee, Id);
        CREATE UNIQUE INDEX IX_Takings_RunId_Payee ON Takings (RunId, Payee);
        -- A fingerprint below 0 is still to be taken.
        INSERT INTO TakenSums
            SELECT RunId, Payee, Currency, ClearsOn, SUM(Amount), SUM(MIN(Amount, 0)), COUNT(*), -1 FROM Entries WHERE RunId IS NOT NULL GROUP BY RunId, Payee, Currency, ClearsOn;
        DELETE FROM OpenSums;
        ALTER TABLE OpenSums ADD COLUMN Reversed INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE OpenSums ADD COLUMN Entries INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE OpenSums ADD COLUMN Fingerprint INTEGER NOT NULL DEFAULT -1;
        INSERT INTO OpenSums (Payee, Currency, ClearsOn, Amount, Reversed, Entries)
            SELECT Payee, Currency, COALESCE(ClearsOn, '9999-12-31'), SUM(Amount), SUM(MIN(Amount, 0)), COUNT(*) FROM Entries WHERE RunId IS NULL GROUP BY Payee, Currency, ClearsOn;
        ALTER TABLE Entries ADD COLUMN OpenSince INTEGER NOT NULL DEFAULT 0;
        UPDATE Entries SET OpenSince = CASE WHEN RunId IS NULL THEN (SELECT COALESCE(MAX(Id), 0) FROM Takings) ELSE (SELECT t.Id - 1 FROM Takings t WHERE t.RunId = Entries.RunId AND t.Payee = Entries.Payee) END;
        DROP INDEX IX_Entries_Open;
        DROP INDEX IX_Entries_Run;
        DROP INDEX IX_Entries_OpenReversals;
        DROP INDEX IX_Entries_RunReversals;
        ALTER TABLE Entries DROP COLUMN RunId;
        CREATE INDEX IX_Entries_Payee_ClearsOn_OpenSince ON Entries (Payee, ClearsOn, OpenSince);
        ALTER TABLE Remittances DROP COLUMN TakenEntries;
        ALTER TABLE Remittances DROP COLUMN TakenFingerprint;
        CREATE VIEW PostedEntries AS
            SELECT Id, OrderId, LineNumber, Payee, Agreement, Part, RefundId, Amount, Currency, PostedOn, Period, ClearsOn, OpenSince,
                (SELECT t.RunId FROM Takings t WHERE t.Payee = e.Payee AND t.Id > e.OpenSince AND t.AsOf >= e.ClearsOn ORDER BY t.Id LIMIT 1) AS RunId
            FROM Entries e;
        """);
}
