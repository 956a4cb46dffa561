using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Metadata;

namespace EvenSplit.Books.Tests;

/// <summary>The model that is compiled beforehand must be the one that <see cref="BookDbContext"/> describes; CONTRIBUTING.md says how it is made anew.</summary>
public sealed class CompiledModelTests : IDisposable
{
    private readonly BookDbContext _db = new(new DbContextOptionsBuilder<BookDbContext>().UseSqlite("Data Source=none.db").Options);

    public void Dispose() => _db.Dispose();

    [Fact]
    public void It_is_what_the_context_describes()
    {
        Assert.IsAssignableFrom<RuntimeModel>(_db.Model);
        Assert.Equal(Described(_db.GetService<IDesignTimeModel>().Model), Described(_db.Model));
    }

    private static string Described(IModel model) => string.Join('\n', model.GetEntityTypes().OrderBy(e => e.Name, StringComparer.Ordinal).SelectMany(Described));

    private static IEnumerable<string> Described(IEntityType entity) =>
    [
        $"{entity.Name}: {entity.GetTableName()} {entity.GetViewName()}",
        .. entity.GetProperties().OrderBy(p => p.Name, StringComparer.Ordinal).Select(p =>
            $"  {p.Name} {p.ClrType} {p.IsNullable} {p.GetColumnName()} {p.GetMaxLength()} {p.ValueGenerated} {p.IsConcurrencyToken} {p.GetTypeMapping().Converter?.GetType()} {p.GetTypeMapping().Converter?.ProviderClrType}"),
        .. entity.GetKeys().Select(k => $"  key {Names(k.Properties)}").Order(StringComparer.Ordinal),
        .. entity.GetForeignKeys().Select(k => $"  to {k.PrincipalEntityType.Name} by {Names(k.Properties)} {k.IsUnique} {k.DeleteBehavior} {k.PrincipalToDependent?.Name} {k.DependentToPrincipal?.Name}").Order(StringComparer.Ordinal),
    ];

    private static string Names(IEnumerable<IReadOnlyProperty> properties) => string.Join(",", properties.Select(p => p.Name));
}
