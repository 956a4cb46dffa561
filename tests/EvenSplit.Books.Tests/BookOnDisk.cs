using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Tests;

/// <summary>An empty book in a folder of its own, gone afterwards.</summary>
internal abstract class BookOnDisk : IDisposable
{
    private readonly ServiceProvider _services;

    protected BookOnDisk()
    {
        Place = new BookPlace(Path.Combine(Path.GetTempPath(), "evensplit-" + Guid.NewGuid().ToString("N")));
        Directory.CreateDirectory(Place.Folder);
        var services = new ServiceCollection();
        services.AddLogging();
        services.AddBook(Place);
        services.AddIdentityCore<BookUser>(BookUsers.Configure).AddRoles<IdentityRole>().AddEntityFrameworkStores<BookDbContext>();
        _services = services.BuildServiceProvider();
        _services.PrepareBook();
    }

    public BookPlace Place { get; }

    public void MoveTo(DateOnly date) => _services.GetRequiredService<BookClock>().MoveTo(date);

    public void Do<T>(Action<T> action) where T : notnull
    {
        using var scope = _services.CreateScope();
        action(scope.ServiceProvider.GetRequiredService<T>());
    }

    public TResult Get<T, TResult>(Func<T, TResult> get) where T : notnull
    {
        using var scope = _services.CreateScope();
        return get(scope.ServiceProvider.GetRequiredService<T>());
    }

    public void Dispose()
    {
        _services.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(Place.Folder, recursive: true);
    }
}
