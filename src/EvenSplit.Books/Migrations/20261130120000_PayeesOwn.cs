using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Payees sign in and see their own.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261130120000_PayeesOwn")]
public sealed class PayeesOwn : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE PayeeLinks (TokenHash TEXT NOT NULL CONSTRAINT PK_PayeeLinks PRIMARY KEY, Payee TEXT NOT NULL, BrowserHash TEXT NULL, At INTEGER NOT NULL, UsedAt INTEGER NULL) WITHOUT ROWID;
        CREATE INDEX IX_PayeeLinks_Payee ON PayeeLinks (Payee);
        CREATE TABLE PayeeSessions (Id TEXT NOT NULL CONSTRAINT PK_PayeeSessions PRIMARY KEY, Payee TEXT NOT NULL, StartedAt INTEGER NOT NULL, Origin TEXT NOT NULL, Browser TEXT NOT NULL, EndedAt INTEGER NULL) WITHOUT ROWID;
        CREATE INDEX IX_PayeeSessions_Payee ON PayeeSessions (Payee);
        CREATE TABLE PayeeQuestions (
            Id INTEGER NOT NULL CONSTRAINT PK_PayeeQuestions PRIMARY KEY AUTOINCREMENT, Payee TEXT NOT NULL, EntryId INTEGER NULL, RunId INTEGER NULL, Question TEXT NOT NULL, AskedAt INTEGER NOT NULL,
            Answer TEXT NULL, AnsweredBy TEXT NULL, AnsweredAt INTEGER NULL);
        CREATE INDEX IX_PayeeQuestions_Payee ON PayeeQuestions (Payee);
        CREATE INDEX IX_PayeeQuestions_Open ON PayeeQuestions (Id) WHERE AnsweredAt IS NULL;
        """);
}
