using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Kept sums of what went through processors' accounts, and by day of what is not settled; the index that a proof summed is needed no more.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261201150000_ProcessorSums")]
public sealed class ProcessorSums : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE ProcessorSums (Kind INTEGER NOT NULL, Of TEXT NOT NULL, Currency TEXT NOT NULL, Amount INTEGER NOT NULL, CONSTRAINT PK_ProcessorSums PRIMARY KEY (Kind, Of, Currency)) STRICT, WITHOUT ROWID;
        INSERT INTO ProcessorSums SELECT 0, Processor, Currency, SUM(Goods + Shipping + Tax - ProcessingFee) FROM Bookings WHERE Processor <> '' GROUP BY Processor, Currency;
        INSERT INTO ProcessorSums SELECT 1, Source, Currency, SUM(Fee - Gross) FROM OutsideLines WHERE Bench = 0 AND Kind >= 3 GROUP BY Source, Currency;
        INSERT INTO ProcessorSums SELECT 2, Source, Currency, SUM(Gross - Fee) FROM OutsideLines WHERE Bench = 0 AND Kind < 3 GROUP BY Source, Currency;
        CREATE TABLE NotSettledDays (
            Processor TEXT NOT NULL, "On" TEXT NOT NULL, Currency TEXT NOT NULL, Rows INTEGER NOT NULL, Amount INTEGER NOT NULL, CONSTRAINT PK_NotSettledDays PRIMARY KEY (Processor, "On", Currency)) STRICT, WITHOUT ROWID;
        INSERT INTO NotSettledDays SELECT Source, "On", Currency, COUNT(*), SUM(Gross - Fee) FROM Awaited WHERE Bench = 0 GROUP BY Source, "On", Currency;
        DROP INDEX IX_Bookings_Cleared;
        """);
}
