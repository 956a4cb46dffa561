using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>The record says from where something was done and what changed, finds the history of a thing, and links each row to the one before it.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129020000_LinkedRecord")]
public sealed class LinkedRecord : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE Audit ADD COLUMN Origin TEXT NOT NULL DEFAULT '';
        ALTER TABLE Audit ADD COLUMN Changes TEXT NOT NULL DEFAULT '';
        ALTER TABLE Audit ADD COLUMN Hash TEXT NOT NULL DEFAULT '';
        CREATE INDEX IX_Audit_By_Id ON Audit (By, Id);
        CREATE INDEX IX_Audit_At ON Audit (At);
        CREATE TABLE AuditThings (AuditId INTEGER NOT NULL, Thing TEXT NOT NULL, CONSTRAINT PK_AuditThings PRIMARY KEY (AuditId, Thing),
            CONSTRAINT FK_AuditThings_Audit_AuditId FOREIGN KEY (AuditId) REFERENCES Audit (Id) ON DELETE CASCADE);
        CREATE INDEX IX_AuditThings_Thing_AuditId ON AuditThings (Thing, AuditId);
        ALTER TABLE BookChecks ADD COLUMN LastAudit INTEGER NULL;
        ALTER TABLE BookChecks ADD COLUMN LastAuditHash TEXT NULL;
        """);
}
