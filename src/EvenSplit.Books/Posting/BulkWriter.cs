using System.Data.Common;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Posting;

/// <summary>
/// One prepared command for many rows of one entity, which are not tracked: columns and conversions come from the EF model, connection and
/// transaction from EF. Keys must be set by the caller.
/// </summary>
internal sealed class BulkWriter<T> : IDisposable where T : class
{
    private readonly DbCommand _command;
    private readonly (IProperty Property, DbParameter Parameter, Func<object?, object?>? ToProvider)[] _columns;

    private BulkWriter(BookDbContext db, IEnumerable<IProperty> columns, Func<IReadOnlyList<string>, IReadOnlyList<string>, string> sql)
    {
        var transaction = db.Database.CurrentTransaction ?? throw new InvalidOperationException("Bulk rows are written inside a transaction.");
        _command = db.Database.GetDbConnection().CreateCommand();
        _command.Transaction = transaction.GetDbTransaction();
        _columns = columns.Select((property, i) =>
        {
            var parameter = _command.CreateParameter();
            parameter.ParameterName = "$p" + i;
            _command.Parameters.Add(parameter);
            return (property, parameter, property.GetTypeMapping().Converter?.ConvertToProvider);
        }).ToArray();
        _command.CommandText = sql([.. _columns.Select(c => $"\"{c.Property.GetColumnName()}\"")], [.. _columns.Select(c => c.Parameter.ParameterName)]);
        _command.Prepare();
    }

    public static BulkWriter<T> Inserting(BookDbContext db) => Whole(db, "INSERT");

    /// <summary>A row takes the place of one with the same key.</summary>
    public static BulkWriter<T> Replacing(BookDbContext db) => Whole(db, "INSERT OR REPLACE");

    /// <summary>Rows go by their keys.</summary>
    public static BulkWriter<T> Deleting(BookDbContext db) => new(db, Key(db), (names, values) => $"DELETE FROM \"{Table(db)}\" WHERE {Equal(names, values, " AND ")}");

    /// <summary>Some columns of rows are set, found by their keys.</summary>
    /// <param name="columns">Names of properties, none of the key.</param>
    public static BulkWriter<T> Updating(BookDbContext db, IReadOnlyCollection<string> columns) => new(
        db, [.. columns.Select(c => Entity(db).FindProperty(c)!), .. Key(db)],
        (names, values) => $"UPDATE \"{Table(db)}\" SET {Equal([.. names.Take(columns.Count)], [.. values.Take(columns.Count)], ", ")} WHERE {Equal([.. names.Skip(columns.Count)], [.. values.Skip(columns.Count)], " AND ")}");

    /// <returns>How many rows there were.</returns>
    public int Write(IEnumerable<T> rows)
    {
        var count = 0;
        foreach (var row in rows)
        {
            foreach (var (property, parameter, toProvider) in _columns)
            {
                var value = property.GetGetter().GetClrValue(row);
                parameter.Value = value is null ? DBNull.Value : toProvider is null ? value : toProvider(value) ?? DBNull.Value;
            }
            _command.ExecuteNonQuery();
            count++;
        }
        return count;
    }

    public void Dispose() => _command.Dispose();

    private static BulkWriter<T> Whole(BookDbContext db, string verb) => new(
        db, Entity(db).GetProperties().Where(p => p.ValueGenerated != ValueGenerated.OnAddOrUpdate), (names, values) => $"{verb} INTO \"{Table(db)}\" ({string.Join(", ", names)}) VALUES ({string.Join(", ", values)})");

    private static IEntityType Entity(BookDbContext db) => db.Model.FindEntityType(typeof(T))!;

    private static string Table(BookDbContext db) => Entity(db).GetTableName()!;

    private static IReadOnlyList<IProperty> Key(BookDbContext db) => Entity(db).FindPrimaryKey()!.Properties;

    private static string Equal(IReadOnlyList<string> names, IReadOnlyList<string> values, string between) => string.Join(between, names.Zip(values, (n, v) => $"{n} = {v}"));
}
