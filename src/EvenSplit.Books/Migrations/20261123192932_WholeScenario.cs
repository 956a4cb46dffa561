using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace EvenSplit.Books.Migrations
{
    /// <inheritdoc />
    public partial class WholeScenario : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Advances_PayeeId",
                table: "Advances");

            migrationBuilder.RenameColumn(
                name: "PlacedFrom",
                table: "Recalculations",
                newName: "Touched");

            migrationBuilder.AddColumn<string>(
                name: "CustomerKeys",
                table: "Payees",
                type: "TEXT",
                nullable: false,
                defaultValue: "[]");

            migrationBuilder.AddColumn<int>(
                name: "Position",
                table: "Payees",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "RecruitedBy",
                table: "Payees",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Payees",
                table: "PayRuns",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Reference",
                table: "PayRuns",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<long>(
                name: "SignedOffAt",
                table: "Orders",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Reference",
                table: "Advances",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Reference",
                table: "Adjustments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "OrderClicks",
                columns: table => new
                {
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderClicks", x => new { x.OrderId, x.Position });
                    table.ForeignKey(
                        name: "FK_OrderClicks_Orders_OrderId",
                        column: x => x.OrderId,
                        principalTable: "Orders",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "OrderCodes",
                columns: table => new
                {
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false, collation: "NOCASE")
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderCodes", x => new { x.OrderId, x.Position });
                    table.ForeignKey(
                        name: "FK_OrderCodes_Orders_OrderId",
                        column: x => x.OrderId,
                        principalTable: "Orders",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "PersonalTerms",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    PayeeId = table.Column<string>(type: "TEXT", nullable: false),
                    AgreementId = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    To = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    Document = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PersonalTerms", x => x.Id);
                    table.ForeignKey(
                        name: "FK_PersonalTerms_Agreements_AgreementId",
                        column: x => x.AgreementId,
                        principalTable: "Agreements",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_PersonalTerms_Payees_PayeeId",
                        column: x => x.PayeeId,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "ProgressEvents",
                columns: table => new
                {
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Agreement = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    IsRefund = table.Column<bool>(type: "INTEGER", nullable: false),
                    EventId = table.Column<string>(type: "TEXT", nullable: false),
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Sales = table.Column<long>(type: "INTEGER", nullable: false),
                    Orders = table.Column<long>(type: "INTEGER", nullable: false),
                    Earned = table.Column<long>(type: "INTEGER", nullable: false),
                    After = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProgressEvents", x => new { x.Payee, x.Agreement, x.Currency, x.At, x.IsRefund, x.EventId });
                });

            migrationBuilder.CreateTable(
                name: "ProgressTracks",
                columns: table => new
                {
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Agreement = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProgressTracks", x => new { x.Payee, x.Agreement, x.Currency });
                });

            WholeScenarioData.Carry(migrationBuilder);

            migrationBuilder.CreateIndex(
                name: "IX_PayRuns_Reference",
                table: "PayRuns",
                column: "Reference",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Orders_AttributedTo_Period_PlacedAt_Id",
                table: "Orders",
                columns: new[] { "AttributedTo", "Period", "PlacedAt", "Id" },
                filter: "AttributedTo IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Orders_ManualPayee",
                table: "Orders",
                column: "ManualPayee",
                filter: "ManualPayee IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Orders_WithExceptions",
                table: "Orders",
                columns: new[] { "Period", "PlacedAt", "Id" },
                filter: "Exceptions > 0");

            migrationBuilder.CreateIndex(
                name: "IX_Advances_PayeeId_Reference",
                table: "Advances",
                columns: new[] { "PayeeId", "Reference" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Adjustments_Reference",
                table: "Adjustments",
                column: "Reference",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_OrderClicks_Payee",
                table: "OrderClicks",
                column: "Payee");

            migrationBuilder.CreateIndex(
                name: "IX_OrderCodes_Code",
                table: "OrderCodes",
                column: "Code");

            migrationBuilder.CreateIndex(
                name: "IX_PersonalTerms_AgreementId",
                table: "PersonalTerms",
                column: "AgreementId");

            migrationBuilder.CreateIndex(
                name: "IX_PersonalTerms_PayeeId",
                table: "PersonalTerms",
                column: "PayeeId");

            migrationBuilder.CreateIndex(
                name: "IX_ProgressEvents_OrderId",
                table: "ProgressEvents",
                column: "OrderId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "OrderClicks");

            migrationBuilder.DropTable(
                name: "OrderCodes");

            migrationBuilder.DropTable(
                name: "PersonalTerms");

            migrationBuilder.DropTable(
                name: "ProgressEvents");

            migrationBuilder.DropTable(
                name: "ProgressTracks");

            migrationBuilder.DropIndex(
                name: "IX_PayRuns_Reference",
                table: "PayRuns");

            migrationBuilder.DropIndex(
                name: "IX_Orders_AttributedTo_Period_PlacedAt_Id",
                table: "Orders");

            migrationBuilder.DropIndex(
                name: "IX_Orders_ManualPayee",
                table: "Orders");

            migrationBuilder.DropIndex(
                name: "IX_Orders_WithExceptions",
                table: "Orders");

            migrationBuilder.DropIndex(
                name: "IX_Advances_PayeeId_Reference",
                table: "Advances");

            migrationBuilder.DropIndex(
                name: "IX_Adjustments_Reference",
                table: "Adjustments");

            migrationBuilder.DropColumn(
                name: "CustomerKeys",
                table: "Payees");

            migrationBuilder.DropColumn(
                name: "Position",
                table: "Payees");

            migrationBuilder.DropColumn(
                name: "RecruitedBy",
                table: "Payees");

            migrationBuilder.DropColumn(
                name: "Payees",
                table: "PayRuns");

            migrationBuilder.DropColumn(
                name: "Reference",
                table: "PayRuns");

            migrationBuilder.DropColumn(
                name: "SignedOffAt",
                table: "Orders");

            migrationBuilder.DropColumn(
                name: "Reference",
                table: "Advances");

            migrationBuilder.DropColumn(
                name: "Reference",
                table: "Adjustments");

            migrationBuilder.RenameColumn(
                name: "Touched",
                table: "Recalculations",
                newName: "PlacedFrom");

            migrationBuilder.AddColumn<string>(
                name: "Codes",
                table: "Orders",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateIndex(
                name: "IX_Advances_PayeeId",
                table: "Advances",
                column: "PayeeId");
        }
    }
}
