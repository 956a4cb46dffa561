using System.Linq.Expressions;
using System.Text.Json;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using SQLitePCL;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Reads many rows of one entity, straight from SQLite's own columns. They are not tracked.
/// </summary>
internal static class BulkReader<T> where T : class
{
    /// <summary>Made once from the EF model: columns, conversions and all.</summary>
    private static Func<sqlite3_stmt, TextPool, T>? _row;

    private static string? _columns;

    /// <param name="by">The column by which rows are looked for, such as the order they belong to.</param>
    /// <param name="orderBy">Names of columns.</param>
    public static List<T> Read(BookDbContext db, string by, IEnumerable<long> values, string orderBy) =>
        Where(db, $"\"{by}\" IN (SELECT value FROM json_each(?))", orderBy, JsonSerializer.Serialize(values));

    /// <param name="condition">With a question mark for each of the values.</param>
    public static List<T> Where(BookDbContext db, string condition, string orderBy, params ReadOnlySpan<object> values)
    {
        var entity = db.Model.FindEntityType(typeof(T))!;
        var row = _row ??= ToRow(entity);
        var columns = _columns ??= string.Join(", ", entity.GetProperties().Select(p => $"\"{p.GetColumnName()}\""));
        var (rows, texts) = (new List<T>(), new TextPool());
        StatementRows.Each(db, $"SELECT {columns} FROM \"{entity.GetViewName() ?? entity.GetTableName()}\" WHERE {condition} ORDER BY {orderBy}", values, statement => rows.Add(row(statement, texts)));
        return rows;
    }

    private static Func<sqlite3_stmt, TextPool, T> ToRow(IEntityType entity)
    {
        var (statement, texts) = (Expression.Parameter(typeof(sqlite3_stmt)), Expression.Parameter(typeof(TextPool)));
        var columns = entity.GetProperties().Select((property, i) => (MemberBinding)Expression.Bind(property.PropertyInfo!, Value(statement, texts, property, Expression.Constant(i))));
        return Expression.Lambda<Func<sqlite3_stmt, TextPool, T>>(Expression.MemberInit(Expression.New(typeof(T)), columns), statement, texts).Compile();
    }

    private static Expression Value(Expression statement, Expression texts, IProperty property, Expression index)
    {
        var converter = property.GetTypeMapping().Converter;
        var stored = converter?.ProviderClrType ?? Nullable.GetUnderlyingType(property.ClrType) ?? property.ClrType;
        Expression value = stored == typeof(string) ? Expression.Call(texts, nameof(TextPool.Text), [], statement, index)
            : stored == typeof(DateOnly) ? Expression.Call(typeof(TextPool), nameof(TextPool.Date), [], statement, index)
            : Expression.Call(typeof(raw), nameof(raw.sqlite3_column_int64), [], statement, index);
        if (stored == typeof(bool)) value = Expression.NotEqual(value, Expression.Constant(0L));
        else if (value.Type != stored) value = Expression.Convert(value, stored);
        if (converter is not null) value = Expression.Invoke(converter.ConvertFromProviderExpression, value);
        if (value.Type != property.ClrType) value = Expression.Convert(value, property.ClrType);
        if (!property.IsNullable) return value;
        var isNull = Expression.Equal(Expression.Call(typeof(raw), nameof(raw.sqlite3_column_type), [], statement, index), Expression.Constant(raw.SQLITE_NULL));
        return Expression.Condition(isNull, Expression.Default(property.ClrType), value);
    }
}
