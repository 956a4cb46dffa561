using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>
/// Rows that are found by a key of several columns lie in the order of that key, in place of a table and an index of it beside: half the pages to write, and none to look up.
/// </summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261202060000_RowsByTheirKeys")]
public sealed class RowsByTheirKeys : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        Rebuild("OpenSums", "Payee TEXT NOT NULL, Currency TEXT NOT NULL, ClearsOn TEXT NOT NULL, Amount INTEGER NOT NULL, Reversed INTEGER NOT NULL, Entries INTEGER NOT NULL, Fingerprint INTEGER NOT NULL", "Payee, Currency, ClearsOn");
        Rebuild("TakenSums", "RunId INTEGER NOT NULL REFERENCES PayRuns (Id) ON DELETE CASCADE, Payee TEXT NOT NULL, Currency TEXT NOT NULL, ClearsOn TEXT NOT NULL, Amount INTEGER NOT NULL, Reversed INTEGER NOT NULL, Entries INTEGER NOT NULL, Fingerprint INTEGER NOT NULL", "RunId, Payee, Currency, ClearsOn");
        Rebuild("EntrySums", "Period INTEGER NOT NULL, Payee TEXT NOT NULL, Currency TEXT NOT NULL, IsReversal INTEGER NOT NULL, Entries INTEGER NOT NULL, Amount INTEGER NOT NULL, Fingerprint INTEGER NOT NULL", "Period, Payee, Currency, IsReversal", ("IX_EntrySums_Payee", "Payee"));
        Rebuild("SalesSums", "Period INTEGER NOT NULL, BroughtBy TEXT NOT NULL, Channel TEXT NOT NULL, Currency TEXT NOT NULL, HasExceptions INTEGER NOT NULL, IsRefunded INTEGER NOT NULL, Orders INTEGER NOT NULL, Charged INTEGER NOT NULL, Tax INTEGER NOT NULL, Fees INTEGER NOT NULL, Affiliates INTEGER NOT NULL, Collaborators INTEGER NOT NULL, Vendors INTEGER NOT NULL, House INTEGER NOT NULL", "Period, BroughtBy, Channel, Currency, HasExceptions, IsRefunded");
        Rebuild("ProgressDays", "Payee TEXT NOT NULL, Agreement TEXT NOT NULL, Currency TEXT NOT NULL, \"On\" TEXT NOT NULL, Sales INTEGER NOT NULL, Orders INTEGER NOT NULL, Earned INTEGER NOT NULL, HighestSales INTEGER NOT NULL, HighestOrders INTEGER NOT NULL, HighestEarned INTEGER NOT NULL", "Payee, Agreement, Currency, \"On\"");
        Rebuild("ProgressEvents", "Payee TEXT NOT NULL, Agreement TEXT NOT NULL, Currency TEXT NOT NULL, At INTEGER NOT NULL, IsRefund INTEGER NOT NULL, EventId TEXT NOT NULL, OrderId INTEGER NOT NULL, \"On\" TEXT NOT NULL, Sales INTEGER NOT NULL, Orders INTEGER NOT NULL, Earned INTEGER NOT NULL", "Payee, Agreement, Currency, At, IsRefund, EventId", ("IX_ProgressEvents_OrderId", "OrderId"));
        Rebuild("CountedSales", "Product TEXT NOT NULL, PlacedAt INTEGER NOT NULL, OrderId INTEGER NOT NULL, LineNumber INTEGER NOT NULL, Quantity INTEGER NOT NULL", "Product, PlacedAt, OrderId, LineNumber", ("IX_CountedSales_OrderId", "OrderId"));
        Rebuild("CountedDays", "Product TEXT NOT NULL, \"On\" TEXT NOT NULL, Quantity INTEGER NOT NULL", "Product, \"On\"");
        Rebuild("RecalculationOrders", "RecalculationId INTEGER NOT NULL, At INTEGER NOT NULL, OrderId INTEGER NOT NULL", "RecalculationId, At, OrderId");
        Rebuild("OrderLines", "OrderId INTEGER NOT NULL REFERENCES Orders (Id) ON DELETE CASCADE, Number INTEGER NOT NULL, LineId TEXT NOT NULL, Product TEXT NOT NULL REFERENCES Products (Id) ON DELETE CASCADE, Variant TEXT NULL, Quantity INTEGER NOT NULL, UnitPrice INTEGER NOT NULL, Discount INTEGER NOT NULL, Tax INTEGER NOT NULL, RequiresShipping INTEGER NOT NULL, PaymentNumber INTEGER NULL, Position INTEGER NULL", "OrderId, Number", ("IX_OrderLines_Product_OrderId_Position", "Product, OrderId, Position"));
        Rebuild("OrderCodes", "OrderId INTEGER NOT NULL REFERENCES Orders (Id) ON DELETE CASCADE, Position INTEGER NOT NULL, Code TEXT COLLATE NOCASE NOT NULL", "OrderId, Position", ("IX_OrderCodes_Code", "Code"));
        Rebuild("OrderClicks", "OrderId INTEGER NOT NULL REFERENCES Orders (Id) ON DELETE CASCADE, Position INTEGER NOT NULL, Payee TEXT NOT NULL, At INTEGER NOT NULL", "OrderId, Position", ("IX_OrderClicks_Payee", "Payee"));
        Rebuild("RefundLines", "RefundId INTEGER NOT NULL REFERENCES Refunds (Id) ON DELETE CASCADE, Position INTEGER NOT NULL, LineId TEXT NOT NULL, Quantity INTEGER NOT NULL, Goods INTEGER NOT NULL, Tax INTEGER NOT NULL", "RefundId, Position");

        // No other table names these, so that one may go and the other take its name. Guards are made anew after migrations.
        void Rebuild(string table, string columns, string key, params (string Name, string Columns)[] indexes)
        {
            migrationBuilder.Sql(
                $"""
                CREATE TABLE {table}_ByKey ({columns}, CONSTRAINT PK_{table} PRIMARY KEY ({key})) WITHOUT ROWID;
                INSERT INTO {table}_ByKey ({Names(columns)}) SELECT {Names(columns)} FROM {table} ORDER BY {key};
                DROP TABLE {table};
                ALTER TABLE {table}_ByKey RENAME TO {table};
                """);
            foreach (var index in indexes) migrationBuilder.Sql($"CREATE INDEX {index.Name} ON {table} ({index.Columns});");
        }

        static string Names(string columns) => string.Join(", ", columns.Split(", ").Select(c => c[..c.IndexOf(' ', StringComparison.Ordinal)]));
    }
}
