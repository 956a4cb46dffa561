using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>How people come to agreements, and who asks to.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261130080000_Joining")]
public sealed class Joining : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE Joinings (
            AgreementId TEXT NOT NULL CONSTRAINT PK_Joinings PRIMARY KEY REFERENCES Agreements (Id), Way INTEGER NOT NULL, Intro TEXT NOT NULL, Questions TEXT NOT NULL, HoldDays INTEGER NULL, RecordDays INTEGER NOT NULL,
            RecordOrders INTEGER NOT NULL, RecordRefunds INTEGER NOT NULL, Gift INTEGER NOT NULL, GiftAmount INTEGER NOT NULL, GiftNote TEXT NOT NULL, PausedOn TEXT NULL) WITHOUT ROWID;
        CREATE TABLE PausedMemberships (AgreementId TEXT NOT NULL, Payee TEXT NOT NULL, Products TEXT NULL, CONSTRAINT PK_PausedMemberships PRIMARY KEY (AgreementId, Payee)) WITHOUT ROWID;
        CREATE TABLE Applications (
            Id INTEGER NOT NULL CONSTRAINT PK_Applications PRIMARY KEY AUTOINCREMENT, AgreementId TEXT NOT NULL REFERENCES Agreements (Id), Name TEXT NOT NULL, Email TEXT NOT NULL, Country TEXT NOT NULL, Sites TEXT NOT NULL,
            Note TEXT NOT NULL, Answers TEXT NOT NULL, VersionId INTEGER NULL, TokenHash TEXT NOT NULL, "From" TEXT NOT NULL, AskedAt INTEGER NOT NULL, ConfirmedAt INTEGER NULL, State INTEGER NOT NULL,
            DecidedBy TEXT NULL, DecidedAt INTEGER NULL, Reason TEXT NOT NULL, Payee TEXT NULL);
        CREATE INDEX IX_Applications_State_Id ON Applications (State, Id);
        CREATE INDEX IX_Applications_Email ON Applications (Email);
        CREATE UNIQUE INDEX IX_Applications_TokenHash ON Applications (TokenHash);
        CREATE TABLE Invitations (
            Id INTEGER NOT NULL CONSTRAINT PK_Invitations PRIMARY KEY AUTOINCREMENT, AgreementId TEXT NOT NULL REFERENCES Agreements (Id), Name TEXT NOT NULL, Email TEXT NOT NULL, TokenHash TEXT NOT NULL, "By" TEXT NOT NULL, At INTEGER NOT NULL,
            Sent INTEGER NOT NULL, OpenedAt INTEGER NULL, AcceptedAt INTEGER NULL, WithdrawnAt INTEGER NULL, Payee TEXT NULL);
        CREATE UNIQUE INDEX IX_Invitations_TokenHash ON Invitations (TokenHash);
        CREATE INDEX IX_Invitations_Email ON Invitations (Email);
        CREATE TABLE MailTemplates (Kind INTEGER NOT NULL CONSTRAINT PK_MailTemplates PRIMARY KEY, Subject TEXT NOT NULL, Text TEXT NOT NULL);
        CREATE TABLE TrustedPayees (Payee TEXT NOT NULL CONSTRAINT PK_TrustedPayees PRIMARY KEY, "By" TEXT NOT NULL, At INTEGER NOT NULL) WITHOUT ROWID;
        CREATE TABLE NewPayees (Payee TEXT NOT NULL, AgreementId TEXT NOT NULL, Since TEXT NOT NULL, EndedBy TEXT NULL, CONSTRAINT PK_NewPayees PRIMARY KEY (Payee, AgreementId)) WITHOUT ROWID;
        CREATE TABLE PathApprovals (Payee TEXT NOT NULL, AgreementId TEXT NOT NULL, PathId TEXT NOT NULL, CONSTRAINT PK_PathApprovals PRIMARY KEY (Payee, AgreementId, PathId)) WITHOUT ROWID;
        """);
}
