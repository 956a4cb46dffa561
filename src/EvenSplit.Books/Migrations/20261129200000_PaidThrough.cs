using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Payees that are paid through another, and invoices on remittances.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129200000_PaidThrough")]
public sealed class PaidThrough : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE Remittances ADD COLUMN Through TEXT NULL;
        ALTER TABLE Remittances ADD COLUMN ExecuteOn TEXT NULL;
        DROP INDEX IX_Remittances_EndToEnd;
        CREATE INDEX IX_Remittances_EndToEnd ON Remittances (EndToEnd) WHERE EndToEnd IS NOT NULL;
        CREATE TABLE NotedInvoices (LineId INTEGER NOT NULL, RunId INTEGER NOT NULL, Payee TEXT NOT NULL, CONSTRAINT PK_NotedInvoices PRIMARY KEY (LineId, RunId)) WITHOUT ROWID;
        CREATE INDEX IX_NotedInvoices_RunId_Payee ON NotedInvoices (RunId, Payee);
        """);
}
