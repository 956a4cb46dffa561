using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>What is kept of the files of processors, banks and partners, and their lines by the file they came in.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261201080000_FilesAsTheyCame")]
public sealed class FilesAsTheyCame : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        CREATE TABLE OutsideFiles (
            ImportId INTEGER NOT NULL CONSTRAINT PK_OutsideFiles PRIMARY KEY, Hash TEXT NOT NULL, Bytes INTEGER NOT NULL,
            CONSTRAINT FK_OutsideFiles_Imports_ImportId FOREIGN KEY (ImportId) REFERENCES Imports (Id) ON DELETE CASCADE);
        CREATE INDEX IX_OutsideLines_ImportId ON OutsideLines (ImportId);
        """);
}
