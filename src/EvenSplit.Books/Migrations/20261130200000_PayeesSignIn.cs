using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>With what payees sign in besides the mailed link, their new addresses, invoices written in their name, leaderboards, goods given, and orders by their buyer.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261130200000_PayeesSignIn")]
public sealed class PayeesSignIn : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE PayeeLinks ADD COLUMN NewEmail TEXT NULL;
        ALTER TABLE Payees ADD COLUMN TaxNumber TEXT NOT NULL DEFAULT '';
        ALTER TABLE Book ADD COLUMN PostalAddress TEXT NOT NULL DEFAULT '';
        ALTER TABLE Book ADD COLUMN TaxNumber TEXT NOT NULL DEFAULT '';
        ALTER TABLE AgreementViews ADD COLUMN SelfBills INTEGER NOT NULL DEFAULT 0;
        CREATE TABLE GivenGoods (
            Id INTEGER NOT NULL CONSTRAINT PK_GivenGoods PRIMARY KEY AUTOINCREMENT, Payee TEXT NOT NULL, AgreementId TEXT NOT NULL, "On" TEXT NOT NULL, Cost INTEGER NOT NULL, Currency TEXT NOT NULL, Note TEXT NOT NULL);
        CREATE INDEX IX_GivenGoods_Payee ON GivenGoods (Payee);
        CREATE TABLE PayeeLogins (
            Id TEXT NOT NULL CONSTRAINT PK_PayeeLogins PRIMARY KEY, LastCodes TEXT NOT NULL, UserName TEXT NULL, NormalizedUserName TEXT NULL, Email TEXT NULL, NormalizedEmail TEXT NULL, EmailConfirmed INTEGER NOT NULL,
            PasswordHash TEXT NULL, SecurityStamp TEXT NULL, ConcurrencyStamp TEXT NULL, PhoneNumber TEXT NULL, PhoneNumberConfirmed INTEGER NOT NULL, TwoFactorEnabled INTEGER NOT NULL, LockoutEnd INTEGER NULL,
            LockoutEnabled INTEGER NOT NULL, AccessFailedCount INTEGER NOT NULL);
        CREATE TABLE PayeeLoginTokens (UserId TEXT NOT NULL, LoginProvider TEXT NOT NULL, Name TEXT NOT NULL, Value TEXT NULL, CONSTRAINT PK_PayeeLoginTokens PRIMARY KEY (UserId, LoginProvider, Name)) WITHOUT ROWID;
        CREATE TABLE PayeePasskeys (CredentialId BLOB NOT NULL CONSTRAINT PK_PayeePasskeys PRIMARY KEY, UserId TEXT NOT NULL, Data TEXT NOT NULL);
        CREATE INDEX IX_PayeePasskeys_UserId ON PayeePasskeys (UserId);
        CREATE TABLE Leaderboards (
            Id INTEGER NOT NULL CONSTRAINT PK_Leaderboards PRIMARY KEY AUTOINCREMENT, Name TEXT NOT NULL, AgreementId TEXT NULL, Measure INTEGER NOT NULL, "From" TEXT NOT NULL, "To" TEXT NOT NULL, ShowsNames INTEGER NOT NULL,
            WorkedOutAt INTEGER NULL);
        CREATE TABLE LeaderboardPlaces (
            BoardId INTEGER NOT NULL REFERENCES Leaderboards (Id) ON DELETE CASCADE, Payee TEXT NOT NULL, Rank INTEGER NOT NULL, Figure INTEGER NOT NULL, CONSTRAINT PK_LeaderboardPlaces PRIMARY KEY (BoardId, Payee)) WITHOUT ROWID;
        CREATE TABLE SelfBills (
            RunId INTEGER NOT NULL, Payee TEXT NOT NULL, Number INTEGER NOT NULL, IssuedOn TEXT NOT NULL, Supplier TEXT NOT NULL, Recipient TEXT NOT NULL, Lines TEXT NOT NULL, CONSTRAINT PK_SelfBills PRIMARY KEY (RunId, Payee)) WITHOUT ROWID;
        CREATE INDEX IX_Orders_CustomerKey ON Orders (CustomerKey) WHERE CustomerKey IS NOT NULL;
        CREATE UNIQUE INDEX IX_SelfBills_Payee_Number ON SelfBills (Payee, Number);
        """);
}
