using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Who gave somebody their role, who signs in no more, who is signed in; and what a book says that came back from a backup. Who was there before counts as confirmed.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261129030000_UsersAndSessions")]
public sealed class UsersAndSessions : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        ALTER TABLE AspNetUsers ADD COLUMN MadeBy TEXT NULL;
        ALTER TABLE AspNetUsers ADD COLUMN EndedAt INTEGER NULL;
        ALTER TABLE Book ADD COLUMN Mark TEXT NOT NULL DEFAULT '';
        ALTER TABLE Book ADD COLUMN RestoredFrom INTEGER NULL;
        CREATE TABLE Sessions (Id TEXT NOT NULL CONSTRAINT PK_Sessions PRIMARY KEY, UserId TEXT NOT NULL, StartedAt INTEGER NOT NULL, EndedAt INTEGER NULL, Origin TEXT NOT NULL,
            CONSTRAINT FK_Sessions_AspNetUsers_UserId FOREIGN KEY (UserId) REFERENCES AspNetUsers (Id) ON DELETE CASCADE);
        CREATE INDEX IX_Sessions_UserId ON Sessions (UserId);
        """);
}
