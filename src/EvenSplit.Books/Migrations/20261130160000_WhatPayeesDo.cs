using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>How payees are written to, what agreements show them, what they send and ask for, and what became of mails.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261130160000_WhatPayeesDo")]
public sealed class WhatPayeesDo : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE Payees ADD COLUMN Language TEXT NOT NULL DEFAULT '';
        ALTER TABLE Payees ADD COLUMN PostalAddress TEXT NOT NULL DEFAULT '';
        ALTER TABLE Payees ADD COLUMN IsUnsubscribed INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE Payees ADD COLUMN WithoutAdvices INTEGER NOT NULL DEFAULT 0;
        ALTER TABLE Joinings ADD COLUMN Unaccepted INTEGER NOT NULL DEFAULT 0;
        CREATE TABLE AgreementViews (AgreementId TEXT NOT NULL CONSTRAINT PK_AgreementViews PRIMARY KEY REFERENCES Agreements (Id), Steps INTEGER NOT NULL, ShowsOrders INTEGER NOT NULL, ShowsFees INTEGER NOT NULL) WITHOUT ROWID;
        CREATE TABLE PaymentRequests (Id INTEGER NOT NULL CONSTRAINT PK_PaymentRequests PRIMARY KEY AUTOINCREMENT, Payee TEXT NOT NULL, AskedAt INTEGER NOT NULL, RunId INTEGER NULL, WithdrawnAt INTEGER NULL);
        CREATE UNIQUE INDEX IX_PaymentRequests_Open ON PaymentRequests (Payee) WHERE RunId IS NULL AND WithdrawnAt IS NULL;
        CREATE TABLE TaxForms (
            Id INTEGER NOT NULL CONSTRAINT PK_TaxForms PRIMARY KEY AUTOINCREMENT, Payee TEXT NOT NULL, FileName TEXT NOT NULL, Content BLOB NOT NULL, At INTEGER NOT NULL, CheckedBy TEXT NULL, CheckedAt INTEGER NULL, Refusal TEXT NOT NULL);
        CREATE INDEX IX_TaxForms_Payee ON TaxForms (Payee);
        CREATE INDEX IX_TaxForms_Waiting ON TaxForms (Id) WHERE CheckedAt IS NULL;
        CREATE TABLE Materials (
            Id INTEGER NOT NULL CONSTRAINT PK_Materials PRIMARY KEY AUTOINCREMENT, AgreementId TEXT NULL, Name TEXT NOT NULL, Text TEXT NOT NULL, Picture BLOB NULL, PictureType TEXT NULL, "From" TEXT NOT NULL, "To" TEXT NULL);
        CREATE TABLE MailDeliveries (Id TEXT NOT NULL CONSTRAINT PK_MailDeliveries PRIMARY KEY, State INTEGER NOT NULL, Tries INTEGER NOT NULL, NextAt INTEGER NOT NULL, Answer TEXT NOT NULL, SentAt INTEGER NULL) WITHOUT ROWID;
        CREATE INDEX IX_MailDeliveries_Waiting ON MailDeliveries (NextAt) WHERE State = 0;
        """);
}
