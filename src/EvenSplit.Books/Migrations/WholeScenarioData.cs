using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Brings what a book held before into the tables and columns that the migration of the same name makes.</summary>
internal static class WholeScenarioData
{
    public static void Carry(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.Sql(
            """
            INSERT INTO OrderCodes (OrderId, Position, Code)
            WITH RECURSIVE Split (OrderId, Position, Code, Rest) AS (
                SELECT Id, -1, '', Codes || ' ' FROM Orders WHERE Codes <> ''
                UNION ALL
                SELECT OrderId, Position + 1, substr(Rest, 1, instr(Rest, ' ') - 1), substr(Rest, instr(Rest, ' ') + 1) FROM Split WHERE Rest <> '')
            SELECT OrderId, Position, Code FROM Split WHERE Position >= 0;
            """);
        migrationBuilder.Sql("ALTER TABLE Orders DROP COLUMN Codes;");
        migrationBuilder.Sql("UPDATE Recalculations SET Touched = json_object('PlacedFrom', Touched);");
        migrationBuilder.Sql("UPDATE PayRuns SET Reference = AsOf || '-' || Id;");
        migrationBuilder.Sql("UPDATE Advances SET Reference = printf('%010d', Id);");
        migrationBuilder.Sql("UPDATE Payees SET Position = (SELECT count(*) FROM Payees AS Earlier WHERE Earlier.Id < Payees.Id);");
        AppendOnlyGuards.WithoutAdjustmentGuards(migrationBuilder, () => migrationBuilder.Sql("UPDATE Adjustments SET Reference = Id;"));
        AppendOnlyGuards.EntriesMayBeRedated(migrationBuilder);
    }
}
