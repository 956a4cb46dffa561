using System.Data.Common;
using System.Linq.Expressions;
using System.Text.Json;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Posting;

/// <summary>Reads many rows of one entity by the values of one column, straight from the columns: a tenth of the time that queries of entities take. They are not tracked.</summary>
internal static class BulkReader<T> where T : class
{
    /// <summary>Made once from the EF model: columns, conversions and all.</summary>
    private static Func<DbDataReader, T>? _row;

    /// <param name="by">The column by which rows are looked for, such as the order they belong to.</param>
    /// <param name="orderBy">Names of columns.</param>
    public static IEnumerable<T> Read(BookDbContext db, string by, IEnumerable<long> values, string orderBy)
    {
        var entity = db.Model.FindEntityType(typeof(T))!;
        var row = _row ??= ToRow(entity);
        db.Database.OpenConnection();
        try
        {
            using var command = db.Database.GetDbConnection().CreateCommand();
            command.Transaction = db.Database.CurrentTransaction?.GetDbTransaction();
            var columns = string.Join(", ", entity.GetProperties().Select(p => $"\"{p.GetColumnName()}\""));
            command.CommandText = $"SELECT {columns} FROM \"{entity.GetViewName() ?? entity.GetTableName()}\" WHERE \"{by}\" IN (SELECT value FROM json_each($values)) ORDER BY {orderBy}";
            var parameter = command.CreateParameter();
            (parameter.ParameterName, parameter.Value) = ("$values", JsonSerializer.Serialize(values));
            command.Parameters.Add(parameter);
            using var reader = command.ExecuteReader();
            while (reader.Read()) yield return row(reader);
        }
        finally
        {
            db.Database.CloseConnection();
        }
    }

    private static Func<DbDataReader, T> ToRow(IEntityType entity)
    {
        var reader = Expression.Parameter(typeof(DbDataReader));
        var columns = entity.GetProperties().Select((property, i) => (MemberBinding)Expression.Bind(property.PropertyInfo!, Value(reader, property, i)));
        return Expression.Lambda<Func<DbDataReader, T>>(Expression.MemberInit(Expression.New(typeof(T)), columns), reader).Compile();
    }

    private static Expression Value(Expression reader, IProperty property, int index)
    {
        var converter = property.GetTypeMapping().Converter;
        var stored = converter?.ProviderClrType ?? Nullable.GetUnderlyingType(property.ClrType) ?? property.ClrType;
        Expression value = Expression.Call(reader, nameof(DbDataReader.GetFieldValue), [stored], Expression.Constant(index));
        if (converter is not null) value = Expression.Invoke(converter.ConvertFromProviderExpression, value);
        if (value.Type != property.ClrType) value = Expression.Convert(value, property.ClrType);
        return property.IsNullable
            ? Expression.Condition(Expression.Call(reader, nameof(DbDataReader.IsDBNull), [], Expression.Constant(index)), Expression.Default(property.ClrType), value)
            : value;
    }
}
