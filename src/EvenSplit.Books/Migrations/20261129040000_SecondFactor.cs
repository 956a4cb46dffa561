using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Second factors and what a book says of them, of working alone, of buyers made unknown, of how long it keeps what it need not keep, and of its keys. A book from before asks for no second factor until its lead says so.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129040000_SecondFactor")]
public sealed class SecondFactor : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE AspNetUsers ADD COLUMN LastCodes TEXT NOT NULL DEFAULT '';
        ALTER TABLE Sessions ADD COLUMN ProvedAt INTEGER NULL;
        ALTER TABLE Book ADD COLUMN AsksSecondFactor INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE Book ADD COLUMN WorksAlone INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE Book ADD COLUMN KeepClicksMonths INTEGER NULL;
        ALTER TABLE Book ADD COLUMN KeepEventsMonths INTEGER NULL;
        ALTER TABLE Book ADD COLUMN KeyProof TEXT NOT NULL DEFAULT '';
        CREATE TABLE AspNetUserPasskeys (CredentialId BLOB NOT NULL CONSTRAINT PK_AspNetUserPasskeys PRIMARY KEY, UserId TEXT NOT NULL, Data TEXT NOT NULL,
            CONSTRAINT FK_AspNetUserPasskeys_AspNetUsers_UserId FOREIGN KEY (UserId) REFERENCES AspNetUsers (Id) ON DELETE CASCADE);
        CREATE TABLE UnknownBuyers (KeyHash TEXT NOT NULL CONSTRAINT PK_UnknownBuyers PRIMARY KEY, Replacement TEXT NOT NULL);
        CREATE INDEX IX_AspNetUserPasskeys_UserId ON AspNetUserPasskeys (UserId);
        """);
}
