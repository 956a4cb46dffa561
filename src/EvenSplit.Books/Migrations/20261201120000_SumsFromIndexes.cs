using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Indexes that hold what benches and proofs sum, so that neither reads the rows.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261201120000_SumsFromIndexes")]
public sealed class SumsFromIndexes : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        DROP INDEX IX_Awaited_Bench_Source_On;
        CREATE INDEX IX_Awaited_Bench_Source_On_Currency_Gross_Fee ON Awaited (Bench, Source, "On", Currency, Gross, Fee);
        DROP INDEX IX_OutsideLines_Open;
        CREATE INDEX IX_OutsideLines_Open ON OutsideLines (Bench, "On", Findings, Currency, Gross, Fee, GrossOurs, FeeOurs) WHERE State = 1;
        CREATE INDEX IX_OutsideLines_Differing ON OutsideLines (Bench, "On") WHERE State <> 0;
        CREATE INDEX IX_OutsideLines_Bench_Source_Currency_Kind_Gross_Fee ON OutsideLines (Bench, Source, Currency, Kind, Gross, Fee);
        CREATE INDEX IX_OutsideLines_FeesAndPayouts ON OutsideLines (Bench, "On") WHERE Kind >= 3;
        CREATE INDEX IX_Bookings_Cleared ON Bookings (Processor, Currency, Goods, Shipping, Tax, ProcessingFee) WHERE Processor <> '';
        """);
}
