using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Tracks are kept by the sums of their days, so that what comes late changes one row and not all after it.</summary>
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
        """);
}
