using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace EvenSplit.Books.Migrations
{
    /// <inheritdoc />
    public partial class AgreementTexts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Text",
                table: "AgreementVersions",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "Acceptances",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    VersionId = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    AcceptedOn = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    RecordedBy = table.Column<string>(type: "TEXT", nullable: false),
                    RecordedAt = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Acceptances", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Acceptances_AgreementVersions_VersionId",
                        column: x => x.VersionId,
                        principalTable: "AgreementVersions",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Acceptances_Payees_Payee",
                        column: x => x.Payee,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Acceptances_Payee",
                table: "Acceptances",
                column: "Payee");

            migrationBuilder.CreateIndex(
                name: "IX_Acceptances_VersionId_Payee",
                table: "Acceptances",
                columns: new[] { "VersionId", "Payee" },
                unique: true);
            AppendOnlyGuards.AcceptancesStay(migrationBuilder);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Acceptances");

            migrationBuilder.DropColumn(
                name: "Text",
                table: "AgreementVersions");
        }
    }
}
