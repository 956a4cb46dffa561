using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Seals of what is posted and booked, with its sums.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261130230000_SealedRows")]
public sealed class SealedRows : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE MonthCloses ADD COLUMN IsSealed INTEGER NOT NULL DEFAULT 0;
        CREATE TABLE RowSeals (
            Id INTEGER NOT NULL CONSTRAINT PK_RowSeals PRIMARY KEY AUTOINCREMENT, Kind INTEGER NOT NULL, Period INTEGER NOT NULL, FirstId INTEGER NOT NULL, LastId INTEGER NOT NULL, Count INTEGER NOT NULL,
            Rows BLOB NOT NULL, Hash TEXT NOT NULL, Sums TEXT NOT NULL);
        CREATE UNIQUE INDEX IX_RowSeals_Kind_Period_FirstId ON RowSeals (Kind, Period, FirstId);
        CREATE INDEX IX_RowSeals_Kind_LastId ON RowSeals (Kind, LastId);
        """);
}
