using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Indexes of entries named the key that each index ends in anyway, so that it stood in them twice: 80 MB of the 2.5 GB of a large book.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261205060000_KeysOnceInIndexes")]
public sealed class KeysOnceInIndexes : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        DROP INDEX IX_Entries_Payee_PostedOn_Id;
        DROP INDEX IX_Entries_Period_PostedOn_Id;
        DROP INDEX IX_Entries_Reversals;
        CREATE INDEX IX_Entries_Payee_PostedOn ON Entries (Payee, PostedOn);
        CREATE INDEX IX_Entries_Period_PostedOn ON Entries (Period, PostedOn);
        CREATE INDEX IX_Entries_Reversals ON Entries (Period, PostedOn) WHERE RefundId IS NOT NULL;
        """);
}
