using System.Data.Common;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books;

/// <summary>Registers a book and everything a user does with it.</summary>
public static class BookServices
{
    /// <summary>SQLITE_CONFIG_STMTJRNL_SPILL: beyond so many bytes, what a statement may have to undo goes into a file.</summary>
    private const int StatementJournalSpill = 26;

    /// <summary>It stays in memory, of which it takes no more than the pages a transaction changes. A large bound would not do: SQLite cannot write as much at once.</summary>
    private const int Never = -1;

    /// <summary>SQLITE_CONFIG_MEMSTATUS: counts what memory is in use, which nobody asks for, under one lock for the whole process.</summary>
    private const int MemoryStatistics = 9;

    /// <summary>Has to be said before the first connection. A row with guards keeps what it changes until it is in; as a file, that took a tenth of the time of much writing.</summary>
    static BookServices()
    {
        SQLitePCL.Batteries_V2.Init();
        SQLitePCL.raw.sqlite3_config(StatementJournalSpill, Never);
        SQLitePCL.raw.sqlite3_config(MemoryStatistics, 0);
    }

    public static IServiceCollection AddBook(this IServiceCollection services, BookPlace place)
    {
        var connection = new SqliteConnectionStringBuilder
        {
            DataSource = place.Database,
            ForeignKeys = true,
            // How long a writer waits for the one before it, in seconds.
            DefaultTimeout = 30,
        }.ToString();
        services.AddSingleton(place);
        services.AddSingleton<WorkSignal>();
        services.AddSingleton<WriterQueue>();
        services.AddSingleton<WorkFaults>();
        services.AddSingleton(new Mail.MailRoute(null));
        services.AddPooledDbContextFactory<BookDbContext>((provider, options) => options
            // A list of keys goes as one parameter: as one each, a hundred thousand orders would be more than SQLite takes.
            .UseSqlite(connection, sqlite => sqlite.UseParameterizedCollectionMode(ParameterTranslationMode.Parameter))
            .ReplaceService<IRelationalTransactionFactory, WriterQueue.WritingTransactions>()
            .AddInterceptors(new WriterQueue.ForTransactions(provider.GetRequiredService<WriterQueue>()), new WriterQueue.ForCommands(provider.GetRequiredService<WriterQueue>()))
            .AddInterceptors(new AfterRowsAlongside(), new Record.RecordChain(), new Pragmas(), new WorkSignal.AfterCommit(provider.GetRequiredService<WorkSignal>()), new WorkSignal.AfterSave(provider.GetRequiredService<WorkSignal>())));
        services.AddScoped(provider => provider.GetRequiredService<IDbContextFactory<BookDbContext>>().CreateDbContext());
        services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(place.Keys)).SetApplicationName("EvenSplit");
        services.AddSingleton<BookCache>();
        services.AddSingleton<Checking.LargeDifferences>();
        services.AddSingleton<BookClock>();
        foreach (var useCase in typeof(BookServices).Assembly.GetTypes().Where(t => typeof(IUseCase).IsAssignableFrom(t) && t.IsClass))
        {
            services.AddScoped(useCase);
        }
        return services;
    }

    private sealed class Pragmas : DbConnectionInterceptor
    {
        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData)
        {
            // EF looks whether there is a database on a connection that may not write.
            if (new SqliteConnectionStringBuilder(connection.ConnectionString).Mode == SqliteOpenMode.ReadOnly) return;
            using var command = connection.CreateCommand();
            // What was acknowledged, approved or issued is on disk before anybody is told: a power cut takes nothing of it back.
            command.CommandText = "PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA cache_size = -64000; PRAGMA wal_autocheckpoint = 8000; PRAGMA journal_size_limit = 67108864; PRAGMA mmap_size = 1073741824;";
            command.ExecuteNonQuery();
        }

        public override Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData eventData, CancellationToken cancellationToken = default)
        {
            ConnectionOpened(connection, eventData);
            return Task.CompletedTask;
        }
    }
}

/// <summary>Marks a class as one thing a user does with the book, made anew for each request.</summary>
public interface IUseCase;
