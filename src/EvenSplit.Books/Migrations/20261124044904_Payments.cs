using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace EvenSplit.Books.Migrations
{
    /// <inheritdoc />
    public partial class Payments : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Adjustments_Payee",
                table: "Adjustments");

            migrationBuilder.AddColumn<int>(
                name: "DetailsId",
                table: "Remittances",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "EndToEnd",
                table: "Remittances",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Evidence",
                table: "Remittances",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "FileId",
                table: "Remittances",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Method",
                table: "Remittances",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "Why",
                table: "Remittances",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Method",
                table: "Payees",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "Schedule",
                table: "Payees",
                type: "TEXT",
                nullable: false,
                defaultValue: "monthly");

            migrationBuilder.AddColumn<string>(
                name: "TaxForm",
                table: "Payees",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<long>(
                name: "IssuedAt",
                table: "PayRuns",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "ColumnNames",
                table: "Imports",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "FileSources",
                columns: table => new
                {
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    ColumnNames = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FileSources", x => new { x.Name, x.Kind });
                });

            migrationBuilder.CreateTable(
                name: "Holidays",
                columns: table => new
                {
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Holidays", x => x.On);
                });

            migrationBuilder.CreateTable(
                name: "PayingAccounts",
                columns: table => new
                {
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    Holder = table.Column<string>(type: "TEXT", nullable: false),
                    Iban = table.Column<string>(type: "TEXT", nullable: false),
                    Bic = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PayingAccounts", x => x.Currency);
                });

            migrationBuilder.CreateTable(
                name: "PaymentFiles",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RunId = table.Column<int>(type: "INTEGER", nullable: false),
                    Method = table.Column<int>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    MessageId = table.Column<string>(type: "TEXT", nullable: false),
                    FileName = table.Column<string>(type: "TEXT", nullable: false),
                    Protected = table.Column<byte[]>(type: "BLOB", nullable: false),
                    Payments = table.Column<int>(type: "INTEGER", nullable: false),
                    Sum = table.Column<long>(type: "INTEGER", nullable: false),
                    MadeAt = table.Column<long>(type: "INTEGER", nullable: false),
                    MadeBy = table.Column<string>(type: "TEXT", nullable: false),
                    DeliveredAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PaymentFiles", x => x.Id);
                    table.ForeignKey(
                        name: "FK_PaymentFiles_PayRuns_RunId",
                        column: x => x.RunId,
                        principalTable: "PayRuns",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "PaymentMessages",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    MessageId = table.Column<string>(type: "TEXT", nullable: false),
                    FileName = table.Column<string>(type: "TEXT", nullable: false),
                    ReadAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ReadBy = table.Column<string>(type: "TEXT", nullable: false),
                    Confirmed = table.Column<int>(type: "INTEGER", nullable: false),
                    Refused = table.Column<int>(type: "INTEGER", nullable: false),
                    Returned = table.Column<int>(type: "INTEGER", nullable: false),
                    Unknown = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PaymentMessages", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "PayoutDetails",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Method = table.Column<int>(type: "INTEGER", nullable: false),
                    Protected = table.Column<byte[]>(type: "BLOB", nullable: false),
                    Shown = table.Column<string>(type: "TEXT", nullable: false),
                    ProposedBy = table.Column<string>(type: "TEXT", nullable: false),
                    ProposedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ConfirmedBy = table.Column<string>(type: "TEXT", nullable: true),
                    UsableFrom = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    RefusedBy = table.Column<string>(type: "TEXT", nullable: true),
                    CameBack = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PayoutDetails", x => x.Id);
                    table.ForeignKey(
                        name: "FK_PayoutDetails_Payees_Payee",
                        column: x => x.Payee,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "RunMarks",
                columns: table => new
                {
                    RunId = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Mark = table.Column<int>(type: "INTEGER", nullable: false),
                    Says = table.Column<string>(type: "TEXT", nullable: false),
                    LookedAtBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RunMarks", x => new { x.RunId, x.Payee, x.Mark });
                    table.ForeignKey(
                        name: "FK_RunMarks_PayRuns_RunId",
                        column: x => x.RunId,
                        principalTable: "PayRuns",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "RunRates",
                columns: table => new
                {
                    RunId = table.Column<int>(type: "INTEGER", nullable: false),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    To = table.Column<string>(type: "TEXT", nullable: false),
                    Source = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RunRates", x => new { x.RunId, x.From, x.To });
                    table.ForeignKey(
                        name: "FK_RunRates_PayRuns_RunId",
                        column: x => x.RunId,
                        principalTable: "PayRuns",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "WriteOffs",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    ProposedBy = table.Column<string>(type: "TEXT", nullable: false),
                    ProposedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ConfirmedBy = table.Column<string>(type: "TEXT", nullable: true),
                    RefusedBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WriteOffs", x => x.Id);
                    table.ForeignKey(
                        name: "FK_WriteOffs_Payees_Payee",
                        column: x => x.Payee,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Remittances_EndToEnd",
                table: "Remittances",
                column: "EndToEnd",
                unique: true,
                filter: "EndToEnd IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Adjustments_Payee_RunId",
                table: "Adjustments",
                columns: new[] { "Payee", "RunId" });

            migrationBuilder.CreateIndex(
                name: "IX_PaymentFiles_MessageId",
                table: "PaymentFiles",
                column: "MessageId",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_PaymentFiles_RunId",
                table: "PaymentFiles",
                column: "RunId");

            migrationBuilder.CreateIndex(
                name: "IX_PaymentMessages_Kind_MessageId",
                table: "PaymentMessages",
                columns: new[] { "Kind", "MessageId" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_PayoutDetails_Payee",
                table: "PayoutDetails",
                column: "Payee");

            migrationBuilder.CreateIndex(
                name: "IX_WriteOffs_Payee",
                table: "WriteOffs",
                column: "Payee");

            AppendOnlyGuards.LocksMayBeTakenBack(migrationBuilder);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "FileSources");

            migrationBuilder.DropTable(
                name: "Holidays");

            migrationBuilder.DropTable(
                name: "PayingAccounts");

            migrationBuilder.DropTable(
                name: "PaymentFiles");

            migrationBuilder.DropTable(
                name: "PaymentMessages");

            migrationBuilder.DropTable(
                name: "PayoutDetails");

            migrationBuilder.DropTable(
                name: "RunMarks");

            migrationBuilder.DropTable(
                name: "RunRates");

            migrationBuilder.DropTable(
                name: "WriteOffs");

            migrationBuilder.DropIndex(
                name: "IX_Remittances_EndToEnd",
                table: "Remittances");

            migrationBuilder.DropIndex(
                name: "IX_Adjustments_Payee_RunId",
                table: "Adjustments");

            migrationBuilder.DropColumn(
                name: "DetailsId",
                table: "Remittances");

            migrationBuilder.DropColumn(
                name: "EndToEnd",
                table: "Remittances");

            migrationBuilder.DropColumn(
                name: "Evidence",
                table: "Remittances");

            migrationBuilder.DropColumn(
                name: "FileId",
                table: "Remittances");

            migrationBuilder.DropColumn(
                name: "Method",
                table: "Remittances");

            migrationBuilder.DropColumn(
                name: "Why",
                table: "Remittances");

            migrationBuilder.DropColumn(
                name: "Method",
                table: "Payees");

            migrationBuilder.DropColumn(
                name: "Schedule",
                table: "Payees");

            migrationBuilder.DropColumn(
                name: "TaxForm",
                table: "Payees");

            migrationBuilder.DropColumn(
                name: "IssuedAt",
                table: "PayRuns");

            migrationBuilder.DropColumn(
                name: "ColumnNames",
                table: "Imports");

            migrationBuilder.CreateIndex(
                name: "IX_Adjustments_Payee",
                table: "Adjustments",
                column: "Payee");
        }
    }
}
