using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Tests;

/// <summary>A folder in which a book can be, gone afterwards.</summary>
internal sealed class EmptyFolder : IDisposable
{
    private readonly ServiceProvider _services;

    public EmptyFolder()
    {
        Place = new BookPlace(Path.Combine(Path.GetTempPath(), "evensplit-" + Guid.NewGuid().ToString("N")));
        Directory.CreateDirectory(Place.Folder);
        _services = ServicesOf(Place);
    }

    public static ServiceProvider ServicesOf(BookPlace place)
    {
        var services = new ServiceCollection();
        services.AddLogging();
        services.AddBook(place);
        services.AddIdentityCore<BookUser>(BookUsers.Configure).AddRoles<IdentityRole>().AddEntityFrameworkStores<BookDbContext>();
        return services.BuildServiceProvider();
    }

    public BookPlace Place { get; }

    public IServiceProvider Services => _services;

    /// <summary>Runs statements in the database, which need be no book yet.</summary>
    public void Do(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={Place.Database};Foreign Keys=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    public void Dispose()
    {
        _services.Dispose();
        SqliteConnection.ClearAllPools();
        Directory.Delete(Place.Folder, recursive: true);
    }
}

/// <summary>An empty book in a folder of its own, gone afterwards.</summary>
internal abstract class BookOnDisk : IDisposable
{
    /// <summary>The database of a new book, made once: to make it anew for each test takes longer than most tests. That it is made is tested by the first.</summary>
    private static readonly Lazy<byte[]> New = new(() =>
    {
        using var folder = new EmptyFolder();
        folder.Services.PrepareBook();
        folder.Do("PRAGMA wal_checkpoint(TRUNCATE)");
        return File.ReadAllBytes(folder.Place.Database);
    });

    private readonly EmptyFolder _folder = new();

    /// <param name="dump">Statements that make the database before it is opened; null makes a new book.</param>
    protected BookOnDisk(string? dump = null)
    {
        if (dump is not null) _folder.Do(dump);
        else File.WriteAllBytes(_folder.Place.Database, New.Value);
        _folder.Services.PrepareBook();
    }

    public BookPlace Place => _folder.Place;

    public void MoveTo(DateOnly date) => _folder.Services.GetRequiredService<BookClock>().MoveTo(date);

    /// <summary>Whether changes of rules are shown before they are posted, as on the pages; and the difference that is agreed to.</summary>
    public (bool Asks, string Agreed) ShownFirst { get; set; }

    /// <summary>Whether what a change comes to is worked out by the side, however few orders it reaches.</summary>
    public bool IsEveryChangeLarge { get; set; }

    /// <summary>What the change that is agreed to comes to, worked out by the side.</summary>
    public PostedDifference? WorkedOut { get; set; }

    /// <summary>Works out again what waits, in portions so small that even these books have several, so that what is read ahead of them matters.</summary>
    public void Recalculate() => Do<RecalculateOrders>(r =>
    {
        r.Portion = (2, 7);
        r.RunAll();
    });

    private IServiceScope Scope()
    {
        var scope = _folder.Services.CreateScope();
        var shown = scope.ServiceProvider.GetRequiredService<ShownFirst>();
        (shown.Asks, shown.Seen, shown.WorkedOut) = (ShownFirst.Asks, ShownFirst.Agreed, WorkedOut);
        if (IsEveryChangeLarge) shown.MostAtOnce = 0;
        return scope;
    }

    public void Do<T>(Action<T> action) where T : notnull
    {
        using var scope = Scope();
        action(scope.ServiceProvider.GetRequiredService<T>());
    }

    public TResult Get<T, TResult>(Func<T, TResult> get) where T : notnull
    {
        using var scope = Scope();
        return get(scope.ServiceProvider.GetRequiredService<T>());
    }

    /// <summary>Nothing waits, and what the book keeps is what its facts come to.</summary>
    public void AgreesWithItself() => Do<BookCheck>(AgreesWithItself);

    public static void AgreesWithItself(BookCheck check)
    {
        var result = check.Run();
        Assert.True(result.Waiting is null);
        var differences = result.Lines.SelectMany(l => l.Shown.Select(d => $"{l.Name}: {d.What}: kept {d.Kept}, comes to {d.WorkedOut}")).ToArray();
        if (differences.Length > 0) Assert.Fail(string.Join('\n', differences.Take(10)));
    }

    public void Dispose() => _folder.Dispose();
}

/// <summary>A book of an earlier version, from the statements that make its database.</summary>
internal sealed class BookFromDump(string file) : BookOnDisk(File.ReadAllText(file));
