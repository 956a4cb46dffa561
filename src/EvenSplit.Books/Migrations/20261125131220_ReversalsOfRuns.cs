using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace EvenSplit.Books.Migrations
{
    /// <inheritdoc />
    public partial class ReversalsOfRuns : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateIndex(
                name: "IX_Entries_OpenReversals",
                table: "Entries",
                columns: new[] { "Payee", "ClearsOn", "Currency", "Amount" },
                filter: "RunId IS NULL AND Amount < 0");

            migrationBuilder.CreateIndex(
                name: "IX_Entries_RunReversals",
                table: "Entries",
                columns: new[] { "RunId", "Payee", "Currency", "Amount" },
                filter: "RunId IS NOT NULL AND Amount < 0");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Entries_OpenReversals",
                table: "Entries");

            migrationBuilder.DropIndex(
                name: "IX_Entries_RunReversals",
                table: "Entries");
        }
    }
}
