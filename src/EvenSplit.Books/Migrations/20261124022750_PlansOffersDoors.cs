using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace EvenSplit.Books.Migrations
{
    /// <inheritdoc />
    public partial class PlansOffersDoors : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_AgreementVersions_AgreementId_From",
                table: "AgreementVersions");

            migrationBuilder.AddColumn<string>(
                name: "PaymentPlan",
                table: "Products",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "PricePlan",
                table: "Products",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

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
                name: "Actual",
                table: "OrderExceptions",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "Expected",
                table: "OrderExceptions",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Price",
                table: "OrderExceptions",
                type: "INTEGER",
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

            migrationBuilder.AddColumn<bool>(
                name: "ForNewAffiliates",
                table: "Agreements",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

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
                name: "CountedSales",
                columns: table => new
                {
                    Product = table.Column<string>(type: "TEXT", nullable: false),
                    PlacedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    LinePosition = table.Column<int>(type: "INTEGER", nullable: false),
                    Quantity = table.Column<long>(type: "INTEGER", nullable: false),
                    Before = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_CountedSales", x => new { x.Product, x.PlacedAt, x.OrderId, x.LinePosition });
                });

            migrationBuilder.CreateTable(
                name: "CustomerCodes",
                columns: table => new
                {
                    Code = table.Column<string>(type: "TEXT", nullable: false, collation: "NOCASE"),
                    CustomerKey = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_CustomerCodes", x => x.Code);
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
                name: "OfferPaths",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OfferPaths", x => x.Id);
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

            migrationBuilder.CreateTable(
                name: "ProductCosts",
                columns: table => new
                {
                    ProductId = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Cost = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProductCosts", x => new { x.ProductId, x.From });
                    table.ForeignKey(
                        name: "FK_ProductCosts_Products_ProductId",
                        column: x => x.ProductId,
                        principalTable: "Products",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "RewardSchemes",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    To = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    NewCustomersOnly = table.Column<bool>(type: "INTEGER", nullable: false),
                    CreditPercent = table.Column<long>(type: "INTEGER", nullable: false),
                    CreditFixed = table.Column<long>(type: "INTEGER", nullable: false),
                    HoldDays = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RewardSchemes", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "StoreCredits",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    CustomerKey = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_StoreCredits", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Targets",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    AgreementId = table.Column<string>(type: "TEXT", nullable: false),
                    Measure = table.Column<int>(type: "INTEGER", nullable: false),
                    AtLeast = table.Column<long>(type: "INTEGER", nullable: false),
                    Window = table.Column<int>(type: "INTEGER", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    To = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    Bonus = table.Column<long>(type: "INTEGER", nullable: true),
                    MoveTo = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Targets", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Targets_Agreements_AgreementId",
                        column: x => x.AgreementId,
                        principalTable: "Agreements",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "WithdrawnVersions",
                columns: table => new
                {
                    VersionId = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WithdrawnVersions", x => x.VersionId);
                    table.ForeignKey(
                        name: "FK_WithdrawnVersions_AgreementVersions_VersionId",
                        column: x => x.VersionId,
                        principalTable: "AgreementVersions",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "OfferSteps",
                columns: table => new
                {
                    PathId = table.Column<string>(type: "TEXT", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Product = table.Column<string>(type: "TEXT", nullable: false),
                    OnAccept = table.Column<int>(type: "INTEGER", nullable: true),
                    OnDecline = table.Column<int>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OfferSteps", x => new { x.PathId, x.Position });
                    table.ForeignKey(
                        name: "FK_OfferSteps_OfferPaths_PathId",
                        column: x => x.PathId,
                        principalTable: "OfferPaths",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_OfferSteps_Products_Product",
                        column: x => x.Product,
                        principalTable: "Products",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "FriendDiscounts",
                columns: table => new
                {
                    SchemeId = table.Column<int>(type: "INTEGER", nullable: false),
                    Collection = table.Column<string>(type: "TEXT", nullable: false),
                    Percent = table.Column<long>(type: "INTEGER", nullable: false),
                    PerUnit = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FriendDiscounts", x => new { x.SchemeId, x.Collection });
                    table.ForeignKey(
                        name: "FK_FriendDiscounts_RewardSchemes_SchemeId",
                        column: x => x.SchemeId,
                        principalTable: "RewardSchemes",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "TargetsReached",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    TargetId = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    WindowStart = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Figure = table.Column<long>(type: "INTEGER", nullable: false),
                    NoticedOn = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    DecidedBy = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_TargetsReached", x => x.Id);
                    table.ForeignKey(
                        name: "FK_TargetsReached_Payees_Payee",
                        column: x => x.Payee,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_TargetsReached_Targets_TargetId",
                        column: x => x.TargetId,
                        principalTable: "Targets",
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
                name: "IX_AgreementVersions_AgreementId_From",
                table: "AgreementVersions",
                columns: new[] { "AgreementId", "From" });

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
                name: "IX_CountedSales_OrderId",
                table: "CountedSales",
                column: "OrderId");

            migrationBuilder.CreateIndex(
                name: "IX_CustomerCodes_CustomerKey",
                table: "CustomerCodes",
                column: "CustomerKey");

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

            migrationBuilder.CreateIndex(
                name: "IX_OfferSteps_Product",
                table: "OfferSteps",
                column: "Product");

            migrationBuilder.CreateIndex(
                name: "IX_StoreCredits_CustomerKey",
                table: "StoreCredits",
                column: "CustomerKey");

            migrationBuilder.CreateIndex(
                name: "IX_Targets_AgreementId",
                table: "Targets",
                column: "AgreementId");

            migrationBuilder.CreateIndex(
                name: "IX_TargetsReached_Payee",
                table: "TargetsReached",
                column: "Payee");

            migrationBuilder.CreateIndex(
                name: "IX_TargetsReached_State",
                table: "TargetsReached",
                column: "State");

            migrationBuilder.CreateIndex(
                name: "IX_TargetsReached_TargetId_Payee_WindowStart",
                table: "TargetsReached",
                columns: new[] { "TargetId", "Payee", "WindowStart" },
                unique: true);
            AppendOnlyGuards.StoreCreditsStay(migrationBuilder);
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
                name: "CountedSales");

            migrationBuilder.DropTable(
                name: "CustomerCodes");

            migrationBuilder.DropTable(
                name: "EntryHolds");

            migrationBuilder.DropTable(
                name: "EventSources");

            migrationBuilder.DropTable(
                name: "FriendDiscounts");

            migrationBuilder.DropTable(
                name: "Inbox");

            migrationBuilder.DropTable(
                name: "OfferSteps");

            migrationBuilder.DropTable(
                name: "ProcessorSchedules");

            migrationBuilder.DropTable(
                name: "ProductCosts");

            migrationBuilder.DropTable(
                name: "StoreCredits");

            migrationBuilder.DropTable(
                name: "TargetsReached");

            migrationBuilder.DropTable(
                name: "WithdrawnVersions");

            migrationBuilder.DropTable(
                name: "RewardSchemes");

            migrationBuilder.DropTable(
                name: "OfferPaths");

            migrationBuilder.DropTable(
                name: "Targets");

            migrationBuilder.DropIndex(
                name: "IX_Orders_TestSince",
                table: "Orders");

            migrationBuilder.DropIndex(
                name: "IX_Orders_Visitor",
                table: "Orders");

            migrationBuilder.DropIndex(
                name: "IX_AgreementVersions_AgreementId_From",
                table: "AgreementVersions");

            migrationBuilder.DropColumn(
                name: "PaymentPlan",
                table: "Products");

            migrationBuilder.DropColumn(
                name: "PricePlan",
                table: "Products");

            migrationBuilder.DropColumn(
                name: "TestSince",
                table: "Orders");

            migrationBuilder.DropColumn(
                name: "Visitor",
                table: "Orders");

            migrationBuilder.DropColumn(
                name: "Actual",
                table: "OrderExceptions");

            migrationBuilder.DropColumn(
                name: "Expected",
                table: "OrderExceptions");

            migrationBuilder.DropColumn(
                name: "Price",
                table: "OrderExceptions");

            migrationBuilder.DropColumn(
                name: "RefundLimit",
                table: "Book");

            migrationBuilder.DropColumn(
                name: "ShopAddress",
                table: "Book");

            migrationBuilder.DropColumn(
                name: "ForNewAffiliates",
                table: "Agreements");

            migrationBuilder.CreateIndex(
                name: "IX_AgreementVersions_AgreementId_From",
                table: "AgreementVersions",
                columns: new[] { "AgreementId", "From" },
                unique: true);
        }
    }
}
