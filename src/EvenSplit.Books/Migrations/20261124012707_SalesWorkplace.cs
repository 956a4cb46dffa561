using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace EvenSplit.Books.Migrations
{
    /// <inheritdoc />
    public partial class SalesWorkplace : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "TestSince",
                table: "Orders",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Visitor",
                table: "Orders",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "RefundLimit",
                table: "Book",
                type: "INTEGER",
                nullable: false,
                defaultValue: 100000L);

            migrationBuilder.AddColumn<string>(
                name: "ShopAddress",
                table: "Book",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "AcceptedExceptions",
                columns: table => new
                {
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    Code = table.Column<int>(type: "INTEGER", nullable: false),
                    LineId = table.Column<string>(type: "TEXT", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AcceptedExceptions", x => new { x.OrderId, x.Code, x.LineId, x.Payee });
                });

            migrationBuilder.CreateTable(
                name: "CauseNotes",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Cause = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    AssignedTo = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_CauseNotes", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "ChannelSchedules",
                columns: table => new
                {
                    ChannelId = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    FeeRate = table.Column<long>(type: "INTEGER", nullable: false),
                    FeeFixed = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    RebateRate = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ChannelSchedules", x => new { x.ChannelId, x.From });
                    table.ForeignKey(
                        name: "FK_ChannelSchedules_Channels_ChannelId",
                        column: x => x.ChannelId,
                        principalTable: "Channels",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Clicks",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Visitor = table.Column<string>(type: "TEXT", nullable: false),
                    Order = table.Column<string>(type: "TEXT", nullable: false),
                    Page = table.Column<string>(type: "TEXT", nullable: false),
                    Source = table.Column<string>(type: "TEXT", nullable: false),
                    Period = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Clicks", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "EntryHolds",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    LinePosition = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Agreement = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    LetGoBy = table.Column<string>(type: "TEXT", nullable: true),
                    LetGoAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_EntryHolds", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "EventSources",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    AddedBy = table.Column<string>(type: "TEXT", nullable: false),
                    AddedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ClosedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_EventSources", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Inbox",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    EventId = table.Column<string>(type: "TEXT", nullable: false),
                    Source = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    Order = table.Column<string>(type: "TEXT", nullable: false),
                    Body = table.Column<byte[]>(type: "BLOB", nullable: false),
                    ReceivedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Fault = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Inbox", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "ProcessorSchedules",
                columns: table => new
                {
                    ProcessorId = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    FeeRate = table.Column<long>(type: "INTEGER", nullable: false),
                    FeeFixed = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProcessorSchedules", x => new { x.ProcessorId, x.From });
                    table.ForeignKey(
                        name: "FK_ProcessorSchedules_Processors_ProcessorId",
                        column: x => x.ProcessorId,
                        principalTable: "Processors",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Orders_TestSince",
                table: "Orders",
                column: "TestSince",
                filter: "TestSince IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Orders_Visitor",
                table: "Orders",
                column: "Visitor",
                filter: "Visitor IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_CauseNotes_Cause",
                table: "CauseNotes",
                column: "Cause");

            migrationBuilder.CreateIndex(
                name: "IX_Clicks_Order",
                table: "Clicks",
                column: "Order",
                filter: "\"Order\" <> ''");

            migrationBuilder.CreateIndex(
                name: "IX_Clicks_Payee_At_Visitor_Order",
                table: "Clicks",
                columns: new[] { "Payee", "At", "Visitor", "Order" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Clicks_Period",
                table: "Clicks",
                column: "Period");

            migrationBuilder.CreateIndex(
                name: "IX_Clicks_Visitor_At",
                table: "Clicks",
                columns: new[] { "Visitor", "At" },
                filter: "Visitor <> ''");

            migrationBuilder.CreateIndex(
                name: "IX_EntryHolds_OrderId",
                table: "EntryHolds",
                column: "OrderId",
                filter: "LetGoAt IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Inbox_EventId",
                table: "Inbox",
                column: "EventId",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Inbox_Order",
                table: "Inbox",
                column: "Order",
                filter: "State = 2");

            migrationBuilder.CreateIndex(
                name: "IX_Inbox_State_Id",
                table: "Inbox",
                columns: new[] { "State", "Id" },
                filter: "State <> 1");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "AcceptedExceptions");

            migrationBuilder.DropTable(
                name: "CauseNotes");

            migrationBuilder.DropTable(
                name: "ChannelSchedules");

            migrationBuilder.DropTable(
                name: "Clicks");

            migrationBuilder.DropTable(
                name: "EntryHolds");

            migrationBuilder.DropTable(
                name: "EventSources");

            migrationBuilder.DropTable(
                name: "Inbox");

            migrationBuilder.DropTable(
                name: "ProcessorSchedules");

            migrationBuilder.DropIndex(
                name: "IX_Orders_TestSince",
                table: "Orders");

            migrationBuilder.DropIndex(
                name: "IX_Orders_Visitor",
                table: "Orders");

            migrationBuilder.DropColumn(
                name: "TestSince",
                table: "Orders");

            migrationBuilder.DropColumn(
                name: "Visitor",
                table: "Orders");

            migrationBuilder.DropColumn(
                name: "RefundLimit",
                table: "Book");

            migrationBuilder.DropColumn(
                name: "ShopAddress",
                table: "Book");
        }
    }
}
