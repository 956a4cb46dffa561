using System;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace EvenSplit.Books.Migrations
{
    /// <summary>The book as it was on 25 Nov 2026; every later one follows from it. Its name is that of the last of those it was made of, so that a book of that day goes on.</summary>
    [DbContext(typeof(BookDbContext))]
    [Migration("20261125131220_ReversalsOfRuns")]
    public partial class ReversalsOfRuns : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
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
                name: "AgreementDrafts",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    AgreementId = table.Column<string>(type: "TEXT", nullable: true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    SavedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    SavedBy = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AgreementDrafts", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Agreements",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Basis = table.Column<int>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    ForNewAffiliates = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Agreements", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "AspNetRoles",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    ConcurrencyStamp = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetRoles", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUsers",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    DisplayName = table.Column<string>(type: "TEXT", nullable: false),
                    UserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedUserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    Email = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedEmail = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    EmailConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                    PasswordHash = table.Column<string>(type: "TEXT", nullable: true),
                    SecurityStamp = table.Column<string>(type: "TEXT", nullable: true),
                    ConcurrencyStamp = table.Column<string>(type: "TEXT", nullable: true),
                    PhoneNumber = table.Column<string>(type: "TEXT", nullable: true),
                    PhoneNumberConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                    TwoFactorEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                    LockoutEnd = table.Column<long>(type: "INTEGER", nullable: true),
                    LockoutEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                    AccessFailedCount = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUsers", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Audit",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Action = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Audit", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Book",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    TimeZone = table.Column<string>(type: "TEXT", nullable: false),
                    ClickModel = table.Column<int>(type: "INTEGER", nullable: false),
                    AllowSelfReferral = table.Column<bool>(type: "INTEGER", nullable: false),
                    DemoToday = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    ShopAddress = table.Column<string>(type: "TEXT", nullable: false),
                    RefundLimit = table.Column<long>(type: "INTEGER", nullable: false),
                    RulesVersion = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Book", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "BulkChanges",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    FileName = table.Column<string>(type: "TEXT", nullable: false),
                    Content = table.Column<string>(type: "TEXT", nullable: false),
                    IsWhole = table.Column<bool>(type: "INTEGER", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Before = table.Column<string>(type: "TEXT", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_BulkChanges", x => x.Id);
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
                name: "Channels",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    FeeRate = table.Column<long>(type: "INTEGER", nullable: false),
                    FeeFixed = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    RebateRate = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Channels", x => x.Id);
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
                name: "EntrySums",
                columns: table => new
                {
                    Period = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    IsReversal = table.Column<bool>(type: "INTEGER", nullable: false),
                    Entries = table.Column<long>(type: "INTEGER", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_EntrySums", x => new { x.Period, x.Payee, x.Currency, x.IsReversal });
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
                name: "ExchangeRates",
                columns: table => new
                {
                    Date = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    To = table.Column<string>(type: "TEXT", nullable: false),
                    Rate = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ExchangeRates", x => new { x.From, x.To, x.Date });
                });

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
                name: "Imports",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    FileName = table.Column<string>(type: "TEXT", nullable: false),
                    StoredAs = table.Column<string>(type: "TEXT", nullable: true),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                    BytesRead = table.Column<long>(type: "INTEGER", nullable: false),
                    Rows = table.Column<long>(type: "INTEGER", nullable: false),
                    Added = table.Column<long>(type: "INTEGER", nullable: false),
                    Changed = table.Column<long>(type: "INTEGER", nullable: false),
                    Unchanged = table.Column<long>(type: "INTEGER", nullable: false),
                    Quarantined = table.Column<long>(type: "INTEGER", nullable: false),
                    ColumnNames = table.Column<string>(type: "TEXT", nullable: false),
                    ExtraColumns = table.Column<string>(type: "TEXT", nullable: false),
                    Fault = table.Column<string>(type: "TEXT", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Imports", x => x.Id);
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
                name: "OpenSums",
                columns: table => new
                {
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    ClearsOn = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OpenSums", x => new { x.Payee, x.Currency, x.ClearsOn });
                });

            migrationBuilder.CreateTable(
                name: "Orders",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    OrderId = table.Column<string>(type: "TEXT", nullable: false),
                    Channel = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    PlacedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    PaidAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Period = table.Column<int>(type: "INTEGER", nullable: false),
                    Processor = table.Column<string>(type: "TEXT", nullable: true),
                    IsTest = table.Column<bool>(type: "INTEGER", nullable: false),
                    TestSince = table.Column<long>(type: "INTEGER", nullable: true),
                    PricesIncludeTax = table.Column<bool>(type: "INTEGER", nullable: false),
                    Customer = table.Column<int>(type: "INTEGER", nullable: false),
                    CustomerKey = table.Column<string>(type: "TEXT", nullable: true),
                    Origin = table.Column<string>(type: "TEXT", nullable: true),
                    Visitor = table.Column<string>(type: "TEXT", nullable: true),
                    Discount = table.Column<long>(type: "INTEGER", nullable: false),
                    Shipping = table.Column<long>(type: "INTEGER", nullable: false),
                    ShippingTax = table.Column<long>(type: "INTEGER", nullable: false),
                    ActualProcessingFee = table.Column<long>(type: "INTEGER", nullable: true),
                    ActualChannelFee = table.Column<long>(type: "INTEGER", nullable: true),
                    ActualRebate = table.Column<long>(type: "INTEGER", nullable: true),
                    ManualPayee = table.Column<string>(type: "TEXT", nullable: true),
                    SignedOffAt = table.Column<long>(type: "INTEGER", nullable: true),
                    FactsHash = table.Column<long>(type: "INTEGER", nullable: false),
                    Status = table.Column<int>(type: "INTEGER", nullable: false),
                    AttributedTo = table.Column<string>(type: "TEXT", nullable: true),
                    Via = table.Column<int>(type: "INTEGER", nullable: true),
                    GoodsNet = table.Column<long>(type: "INTEGER", nullable: false),
                    Tax = table.Column<long>(type: "INTEGER", nullable: false),
                    ShippingNet = table.Column<long>(type: "INTEGER", nullable: false),
                    Charged = table.Column<long>(type: "INTEGER", nullable: false),
                    ProcessingFee = table.Column<long>(type: "INTEGER", nullable: false),
                    ChannelFee = table.Column<long>(type: "INTEGER", nullable: false),
                    Rebate = table.Column<long>(type: "INTEGER", nullable: false),
                    Affiliates = table.Column<long>(type: "INTEGER", nullable: false),
                    Collaborators = table.Column<long>(type: "INTEGER", nullable: false),
                    Vendors = table.Column<long>(type: "INTEGER", nullable: false),
                    House = table.Column<long>(type: "INTEGER", nullable: false),
                    ShippingKept = table.Column<long>(type: "INTEGER", nullable: false),
                    Exceptions = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Orders", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "PayRuns",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Reference = table.Column<string>(type: "TEXT", nullable: false),
                    Payees = table.Column<string>(type: "TEXT", nullable: true),
                    AsOf = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    PreparedBy = table.Column<string>(type: "TEXT", nullable: false),
                    LockedBy = table.Column<string>(type: "TEXT", nullable: true),
                    LockedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ApprovedBy = table.Column<string>(type: "TEXT", nullable: true),
                    ApprovedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    IssuedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PayRuns", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Payees",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Role = table.Column<int>(type: "INTEGER", nullable: false),
                    Email = table.Column<string>(type: "TEXT", nullable: true),
                    PayoutCurrency = table.Column<string>(type: "TEXT", nullable: false),
                    ActiveFrom = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    ActiveTo = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    HoldDays = table.Column<int>(type: "INTEGER", nullable: true),
                    OnHold = table.Column<bool>(type: "INTEGER", nullable: false),
                    Minimum = table.Column<long>(type: "INTEGER", nullable: false),
                    WithholdingPercent = table.Column<long>(type: "INTEGER", nullable: false),
                    TransferFee = table.Column<long>(type: "INTEGER", nullable: false),
                    FreeTransfers = table.Column<int>(type: "INTEGER", nullable: false),
                    RecoupPercent = table.Column<long>(type: "INTEGER", nullable: false),
                    Method = table.Column<int>(type: "INTEGER", nullable: false),
                    Schedule = table.Column<string>(type: "TEXT", nullable: false),
                    TaxForm = table.Column<string>(type: "TEXT", nullable: false),
                    RecruitedBy = table.Column<string>(type: "TEXT", nullable: true),
                    CustomerKeys = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Payees", x => x.Id);
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
                name: "PeriodTotals",
                columns: table => new
                {
                    Period = table.Column<int>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    Orders = table.Column<long>(type: "INTEGER", nullable: false),
                    GoodsNet = table.Column<long>(type: "INTEGER", nullable: false),
                    Tax = table.Column<long>(type: "INTEGER", nullable: false),
                    ShippingNet = table.Column<long>(type: "INTEGER", nullable: false),
                    Charged = table.Column<long>(type: "INTEGER", nullable: false),
                    ProcessingFee = table.Column<long>(type: "INTEGER", nullable: false),
                    ChannelFee = table.Column<long>(type: "INTEGER", nullable: false),
                    Rebate = table.Column<long>(type: "INTEGER", nullable: false),
                    Affiliates = table.Column<long>(type: "INTEGER", nullable: false),
                    Collaborators = table.Column<long>(type: "INTEGER", nullable: false),
                    Vendors = table.Column<long>(type: "INTEGER", nullable: false),
                    House = table.Column<long>(type: "INTEGER", nullable: false),
                    ShippingKept = table.Column<long>(type: "INTEGER", nullable: false),
                    WithExceptions = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PeriodTotals", x => new { x.Period, x.Currency });
                });

            migrationBuilder.CreateTable(
                name: "Processors",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    FeeRate = table.Column<long>(type: "INTEGER", nullable: false),
                    FeeFixed = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Processors", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Products",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Price = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    Vendor = table.Column<string>(type: "TEXT", nullable: true),
                    UnitCost = table.Column<long>(type: "INTEGER", nullable: true),
                    CostCurrency = table.Column<string>(type: "TEXT", nullable: false),
                    ReturnDays = table.Column<int>(type: "INTEGER", nullable: false),
                    PricePlan = table.Column<string>(type: "TEXT", nullable: false),
                    PaymentPlan = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Products", x => x.Id);
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

            migrationBuilder.CreateTable(
                name: "Recalculations",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Touched = table.Column<string>(type: "TEXT", nullable: false),
                    Total = table.Column<long>(type: "INTEGER", nullable: false),
                    Done = table.Column<long>(type: "INTEGER", nullable: false),
                    Changed = table.Column<long>(type: "INTEGER", nullable: false),
                    LastOrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    IsFinished = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Recalculations", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Rehearsals",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    AgreementId = table.Column<string>(type: "TEXT", nullable: false),
                    DraftId = table.Column<int>(type: "INTEGER", nullable: false),
                    ToPublish = table.Column<bool>(type: "INTEGER", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    To = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Total = table.Column<long>(type: "INTEGER", nullable: false),
                    Done = table.Column<long>(type: "INTEGER", nullable: false),
                    Result = table.Column<string>(type: "TEXT", nullable: true),
                    Fault = table.Column<string>(type: "TEXT", nullable: true),
                    AskedBy = table.Column<string>(type: "TEXT", nullable: false),
                    AskedAt = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Rehearsals", x => x.Id);
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
                name: "AgreementVersions",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    AgreementId = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    PublishedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    PublishedBy = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AgreementVersions", x => x.Id);
                    table.ForeignKey(
                        name: "FK_AgreementVersions_Agreements_AgreementId",
                        column: x => x.AgreementId,
                        principalTable: "Agreements",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
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
                name: "AspNetRoleClaims",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RoleId = table.Column<string>(type: "TEXT", nullable: false),
                    ClaimType = table.Column<string>(type: "TEXT", nullable: true),
                    ClaimValue = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetRoleClaims", x => x.Id);
                    table.ForeignKey(
                        name: "FK_AspNetRoleClaims_AspNetRoles_RoleId",
                        column: x => x.RoleId,
                        principalTable: "AspNetRoles",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserClaims",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    ClaimType = table.Column<string>(type: "TEXT", nullable: true),
                    ClaimValue = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserClaims", x => x.Id);
                    table.ForeignKey(
                        name: "FK_AspNetUserClaims_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserLogins",
                columns: table => new
                {
                    LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                    ProviderKey = table.Column<string>(type: "TEXT", nullable: false),
                    ProviderDisplayName = table.Column<string>(type: "TEXT", nullable: true),
                    UserId = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserLogins", x => new { x.LoginProvider, x.ProviderKey });
                    table.ForeignKey(
                        name: "FK_AspNetUserLogins_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserRoles",
                columns: table => new
                {
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    RoleId = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserRoles", x => new { x.UserId, x.RoleId });
                    table.ForeignKey(
                        name: "FK_AspNetUserRoles_AspNetRoles_RoleId",
                        column: x => x.RoleId,
                        principalTable: "AspNetRoles",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_AspNetUserRoles_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserTokens",
                columns: table => new
                {
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Value = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserTokens", x => new { x.UserId, x.LoginProvider, x.Name });
                    table.ForeignKey(
                        name: "FK_AspNetUserTokens_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
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
                name: "Quarantine",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    ImportId = table.Column<int>(type: "INTEGER", nullable: false),
                    Row = table.Column<long>(type: "INTEGER", nullable: false),
                    Group = table.Column<string>(type: "TEXT", nullable: false),
                    Cells = table.Column<string>(type: "TEXT", nullable: false),
                    Columns = table.Column<string>(type: "TEXT", nullable: false),
                    Fault = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Quarantine", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Quarantine_Imports_ImportId",
                        column: x => x.ImportId,
                        principalTable: "Imports",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

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
                name: "OrderExceptions",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    Code = table.Column<int>(type: "INTEGER", nullable: false),
                    LineId = table.Column<string>(type: "TEXT", nullable: true),
                    Payee = table.Column<string>(type: "TEXT", nullable: true),
                    Price = table.Column<int>(type: "INTEGER", nullable: true),
                    Expected = table.Column<long>(type: "INTEGER", nullable: true),
                    Actual = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderExceptions", x => x.Id);
                    table.ForeignKey(
                        name: "FK_OrderExceptions_Orders_OrderId",
                        column: x => x.OrderId,
                        principalTable: "Orders",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Refunds",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RefundId = table.Column<string>(type: "TEXT", nullable: false),
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    Shipping = table.Column<long>(type: "INTEGER", nullable: false),
                    ShippingTax = table.Column<long>(type: "INTEGER", nullable: false),
                    ProcessingFeeReturned = table.Column<long>(type: "INTEGER", nullable: false),
                    DisputeFee = table.Column<long>(type: "INTEGER", nullable: false),
                    FactsHash = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Refunds", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Refunds_Orders_OrderId",
                        column: x => x.OrderId,
                        principalTable: "Orders",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
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
                name: "Adjustments",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Reference = table.Column<string>(type: "TEXT", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    RunId = table.Column<int>(type: "INTEGER", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Adjustments", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Adjustments_Payees_Payee",
                        column: x => x.Payee,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Advances",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    PayeeId = table.Column<string>(type: "TEXT", nullable: false),
                    Reference = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Advances", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Advances_Payees_PayeeId",
                        column: x => x.PayeeId,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Entries",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    LinePosition = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Agreement = table.Column<string>(type: "TEXT", nullable: false),
                    Part = table.Column<int>(type: "INTEGER", nullable: false),
                    RefundId = table.Column<long>(type: "INTEGER", nullable: true),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    PostedOn = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Period = table.Column<int>(type: "INTEGER", nullable: false),
                    ClearsOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    RunId = table.Column<int>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Entries", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Entries_Orders_OrderId",
                        column: x => x.OrderId,
                        principalTable: "Orders",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Entries_Payees_Payee",
                        column: x => x.Payee,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Memberships",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    PayeeId = table.Column<string>(type: "TEXT", nullable: false),
                    AgreementId = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    To = table.Column<DateOnly>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Memberships", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Memberships_Agreements_AgreementId",
                        column: x => x.AgreementId,
                        principalTable: "Agreements",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Memberships_Payees_PayeeId",
                        column: x => x.PayeeId,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "PayeeCodes",
                columns: table => new
                {
                    Code = table.Column<string>(type: "TEXT", nullable: false, collation: "NOCASE"),
                    PayeeId = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PayeeCodes", x => x.Code);
                    table.ForeignKey(
                        name: "FK_PayeeCodes_Payees_PayeeId",
                        column: x => x.PayeeId,
                        principalTable: "Payees",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
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
                name: "Remittances",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RunId = table.Column<int>(type: "INTEGER", nullable: false),
                    Payee = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    Opening = table.Column<long>(type: "INTEGER", nullable: false),
                    Earned = table.Column<long>(type: "INTEGER", nullable: false),
                    Adjustments = table.Column<long>(type: "INTEGER", nullable: false),
                    Recouped = table.Column<long>(type: "INTEGER", nullable: false),
                    Withheld = table.Column<long>(type: "INTEGER", nullable: false),
                    TransferFee = table.Column<long>(type: "INTEGER", nullable: false),
                    Paid = table.Column<long>(type: "INTEGER", nullable: false),
                    Carried = table.Column<long>(type: "INTEGER", nullable: false),
                    Reason = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    PaidOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Method = table.Column<int>(type: "INTEGER", nullable: false),
                    DetailsId = table.Column<int>(type: "INTEGER", nullable: true),
                    EndToEnd = table.Column<string>(type: "TEXT", nullable: true),
                    FileId = table.Column<int>(type: "INTEGER", nullable: true),
                    Why = table.Column<string>(type: "TEXT", nullable: true),
                    Evidence = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Remittances", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Remittances_PayRuns_RunId",
                        column: x => x.RunId,
                        principalTable: "PayRuns",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Remittances_Payees_Payee",
                        column: x => x.Payee,
                        principalTable: "Payees",
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
                name: "OrderLines",
                columns: table => new
                {
                    OrderId = table.Column<long>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    LineId = table.Column<string>(type: "TEXT", nullable: false),
                    Product = table.Column<string>(type: "TEXT", nullable: false),
                    Variant = table.Column<string>(type: "TEXT", nullable: true),
                    Quantity = table.Column<long>(type: "INTEGER", nullable: false),
                    UnitPrice = table.Column<long>(type: "INTEGER", nullable: false),
                    Discount = table.Column<long>(type: "INTEGER", nullable: false),
                    Tax = table.Column<long>(type: "INTEGER", nullable: false),
                    RequiresShipping = table.Column<bool>(type: "INTEGER", nullable: false),
                    PaymentNumber = table.Column<int>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderLines", x => new { x.OrderId, x.Position });
                    table.ForeignKey(
                        name: "FK_OrderLines_Orders_OrderId",
                        column: x => x.OrderId,
                        principalTable: "Orders",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_OrderLines_Products_Product",
                        column: x => x.Product,
                        principalTable: "Products",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "ProductCollections",
                columns: table => new
                {
                    ProductId = table.Column<string>(type: "TEXT", nullable: false),
                    Collection = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProductCollections", x => new { x.ProductId, x.Collection });
                    table.ForeignKey(
                        name: "FK_ProductCollections_Products_ProductId",
                        column: x => x.ProductId,
                        principalTable: "Products",
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
                name: "Variants",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    ProductId = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Variants", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Variants_Products_ProductId",
                        column: x => x.ProductId,
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

            migrationBuilder.CreateTable(
                name: "RefundLines",
                columns: table => new
                {
                    RefundId = table.Column<long>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    LineId = table.Column<string>(type: "TEXT", nullable: false),
                    Quantity = table.Column<long>(type: "INTEGER", nullable: false),
                    Goods = table.Column<long>(type: "INTEGER", nullable: false),
                    Tax = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RefundLines", x => new { x.RefundId, x.Position });
                    table.ForeignKey(
                        name: "FK_RefundLines_Refunds_RefundId",
                        column: x => x.RefundId,
                        principalTable: "Refunds",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Recoupments",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RunId = table.Column<int>(type: "INTEGER", nullable: false),
                    AdvanceId = table.Column<int>(type: "INTEGER", nullable: false),
                    Amount = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Recoupments", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Recoupments_Advances_AdvanceId",
                        column: x => x.AdvanceId,
                        principalTable: "Advances",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Recoupments_PayRuns_RunId",
                        column: x => x.RunId,
                        principalTable: "PayRuns",
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

            migrationBuilder.CreateIndex(
                name: "IX_Adjustments_Payee_RunId",
                table: "Adjustments",
                columns: new[] { "Payee", "RunId" });

            migrationBuilder.CreateIndex(
                name: "IX_Adjustments_Reference",
                table: "Adjustments",
                column: "Reference",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Advances_PayeeId_Reference",
                table: "Advances",
                columns: new[] { "PayeeId", "Reference" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_AgreementVersions_AgreementId_From",
                table: "AgreementVersions",
                columns: new[] { "AgreementId", "From" });

            migrationBuilder.CreateIndex(
                name: "IX_AspNetRoleClaims_RoleId",
                table: "AspNetRoleClaims",
                column: "RoleId");

            migrationBuilder.CreateIndex(
                name: "RoleNameIndex",
                table: "AspNetRoles",
                column: "NormalizedName",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserClaims_UserId",
                table: "AspNetUserClaims",
                column: "UserId");

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserLogins_UserId",
                table: "AspNetUserLogins",
                column: "UserId");

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserRoles_RoleId",
                table: "AspNetUserRoles",
                column: "RoleId");

            migrationBuilder.CreateIndex(
                name: "EmailIndex",
                table: "AspNetUsers",
                column: "NormalizedEmail");

            migrationBuilder.CreateIndex(
                name: "UserNameIndex",
                table: "AspNetUsers",
                column: "NormalizedUserName",
                unique: true);

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
                name: "IX_Entries_Open",
                table: "Entries",
                columns: new[] { "Payee", "ClearsOn" },
                filter: "RunId IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Entries_OpenReversals",
                table: "Entries",
                columns: new[] { "Payee", "ClearsOn", "Currency", "Amount" },
                filter: "RunId IS NULL AND Amount < 0");

            migrationBuilder.CreateIndex(
                name: "IX_Entries_OrderId",
                table: "Entries",
                column: "OrderId");

            migrationBuilder.CreateIndex(
                name: "IX_Entries_Payee_PostedOn_Id",
                table: "Entries",
                columns: new[] { "Payee", "PostedOn", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_Entries_Period_PostedOn_Id",
                table: "Entries",
                columns: new[] { "Period", "PostedOn", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_Entries_Run",
                table: "Entries",
                columns: new[] { "RunId", "Payee" },
                filter: "RunId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Entries_RunReversals",
                table: "Entries",
                columns: new[] { "RunId", "Payee", "Currency", "Amount" },
                filter: "RunId IS NOT NULL AND Amount < 0");

            migrationBuilder.CreateIndex(
                name: "IX_EntryHolds_OrderId",
                table: "EntryHolds",
                column: "OrderId",
                filter: "LetGoAt IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_EntrySums_Payee",
                table: "EntrySums",
                column: "Payee");

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
                name: "IX_Memberships_AgreementId",
                table: "Memberships",
                column: "AgreementId");

            migrationBuilder.CreateIndex(
                name: "IX_Memberships_PayeeId",
                table: "Memberships",
                column: "PayeeId");

            migrationBuilder.CreateIndex(
                name: "IX_OfferSteps_Product",
                table: "OfferSteps",
                column: "Product");

            migrationBuilder.CreateIndex(
                name: "IX_OrderClicks_Payee",
                table: "OrderClicks",
                column: "Payee");

            migrationBuilder.CreateIndex(
                name: "IX_OrderCodes_Code",
                table: "OrderCodes",
                column: "Code");

            migrationBuilder.CreateIndex(
                name: "IX_OrderExceptions_OrderId",
                table: "OrderExceptions",
                column: "OrderId");

            migrationBuilder.CreateIndex(
                name: "IX_OrderLines_Product",
                table: "OrderLines",
                column: "Product");

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
                name: "IX_Orders_OrderId",
                table: "Orders",
                column: "OrderId",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Orders_Origin",
                table: "Orders",
                column: "Origin",
                filter: "Origin IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Orders_Period_PlacedAt_Id",
                table: "Orders",
                columns: new[] { "Period", "PlacedAt", "Id" });

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
                name: "IX_Orders_WithExceptions",
                table: "Orders",
                columns: new[] { "Period", "PlacedAt", "Id" },
                filter: "Exceptions > 0");

            migrationBuilder.CreateIndex(
                name: "IX_PayRuns_Reference",
                table: "PayRuns",
                column: "Reference",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_PayeeCodes_PayeeId",
                table: "PayeeCodes",
                column: "PayeeId");

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

            migrationBuilder.CreateIndex(
                name: "IX_Quarantine_ImportId",
                table: "Quarantine",
                column: "ImportId");

            migrationBuilder.CreateIndex(
                name: "IX_Quarantine_State_ImportId_Row",
                table: "Quarantine",
                columns: new[] { "State", "ImportId", "Row" });

            migrationBuilder.CreateIndex(
                name: "IX_Recoupments_AdvanceId",
                table: "Recoupments",
                column: "AdvanceId");

            migrationBuilder.CreateIndex(
                name: "IX_Recoupments_RunId",
                table: "Recoupments",
                column: "RunId");

            migrationBuilder.CreateIndex(
                name: "IX_Refunds_OrderId",
                table: "Refunds",
                column: "OrderId");

            migrationBuilder.CreateIndex(
                name: "IX_Refunds_RefundId",
                table: "Refunds",
                column: "RefundId",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Remittances_EndToEnd",
                table: "Remittances",
                column: "EndToEnd",
                unique: true,
                filter: "EndToEnd IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Remittances_Payee",
                table: "Remittances",
                column: "Payee");

            migrationBuilder.CreateIndex(
                name: "IX_Remittances_RunId_Payee",
                table: "Remittances",
                columns: new[] { "RunId", "Payee" },
                unique: true);

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

            migrationBuilder.CreateIndex(
                name: "IX_Variants_ProductId",
                table: "Variants",
                column: "ProductId");

            migrationBuilder.CreateIndex(
                name: "IX_WriteOffs_Payee",
                table: "WriteOffs",
                column: "Payee");
        }
    }
}
