using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>
/// That an entry has its order and its payee is held at the commit, and its key no longer counts in a table of its own: neither is anything that a refused entry would
/// have to be undone for. Rows stay as they are, so only what the schema says of them is changed, as SQLite documents it for constraints: no book is copied for it.
/// </summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261203060000_EntriesAtOnce")]
public sealed class EntriesAtOnce : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql(
        """
        PRAGMA writable_schema = ON;
        UPDATE sqlite_master SET sql = replace(replace(sql, 'ON DELETE CASCADE', 'ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED'), 'PRIMARY KEY AUTOINCREMENT', 'PRIMARY KEY')
            WHERE type = 'table' AND name = 'Entries';
        PRAGMA writable_schema = RESET;
        DELETE FROM sqlite_sequence WHERE name = 'Entries';
        """);
}
