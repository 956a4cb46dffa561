using System.Globalization;
using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore.Metadata;
using SQLitePCL;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Binds the columns of an entity to the parameters of a statement, in their order. Parameters keep what they have from one row to the next, so only columns are bound that say
/// something else than in the row before: of an entry about four of thirteen.
/// </summary>
internal sealed class RowBinding<T>(string what, IReadOnlyList<IProperty> columns) where T : class
{
    /// <summary>Made once from the EF model. Told of the row, of what is bound, which it keeps, and whether nothing is bound yet.</summary>
    private delegate void Step(sqlite3_stmt statement, T row, T bound, bool isFirst);

    private static readonly Dictionary<string, Step> Made = [];
    private static readonly Func<T> Empty = Expression.Lambda<Func<T>>(Expression.New(typeof(T))).Compile();

    private readonly Step _step = Of(what, columns);
    /// <summary>A copy: whose row it was may have changed it since.</summary>
    private readonly T _bound = Empty();
    private bool _isFirst = true;

    public void Bind(sqlite3_stmt statement, T row)
    {
        _step(statement, row, _bound, _isFirst);
        _isFirst = false;
    }

    private static Step Of(string what, IReadOnlyList<IProperty> columns)
    {
        lock (Made)
        {
            if (!Made.TryGetValue(what, out var step)) Made[what] = step = Make(columns);
            return step;
        }
    }

    private static Step Make(IReadOnlyList<IProperty> columns)
    {
        var (statement, row, bound, isFirst) = (Expression.Parameter(typeof(sqlite3_stmt)), Expression.Parameter(typeof(T)), Expression.Parameter(typeof(T)), Expression.Parameter(typeof(bool)));
        var steps = columns.Select((column, i) =>
        {
            var (value, before) = (Expression.Property(row, column.PropertyInfo!), Expression.Property(bound, column.PropertyInfo!));
            return Expression.IfThen(Expression.OrElse(isFirst, Expression.NotEqual(value, before)), Expression.Block(Bind(statement, row, column, i + 1), Expression.Assign(before, value)));
        });
        return Expression.Lambda<Step>(Expression.Block(steps), statement, row, bound, isFirst).Compile();
    }

    private static Expression Bind(Expression statement, Expression row, IProperty property, int index)
    {
        Expression value = Expression.Property(row, property.PropertyInfo!);
        var isThere = Nullable.GetUnderlyingType(property.ClrType) is not null ? Expression.Property(value, "HasValue")
            : property.ClrType.IsValueType ? null
            : (Expression)Expression.NotEqual(value, Expression.Constant(null));
        if (Nullable.GetUnderlyingType(property.ClrType) is { } underlying) value = Expression.Convert(value, underlying);
        if (property.GetTypeMapping().Converter is { } converter) value = Expression.Invoke(converter.ConvertToProviderExpression, value);
        if (value.Type == typeof(bool)) value = Expression.Condition(value, Expression.Constant(1L), Expression.Constant(0L));
        else if (value.Type == typeof(DateOnly)) value = Expression.Call(value, nameof(DateOnly.ToString), [], Expression.Constant("yyyy-MM-dd"), Expression.Constant(CultureInfo.InvariantCulture));
        else if (value.Type != typeof(string) && value.Type != typeof(byte[])) value = Expression.Convert(value, typeof(long));
        var how = value.Type == typeof(string) ? nameof(raw.sqlite3_bind_text) : value.Type == typeof(byte[]) ? nameof(raw.sqlite3_bind_blob) : nameof(raw.sqlite3_bind_int64);
        var at = Expression.Constant(index);
        if (value.Type == typeof(byte[])) value = Expression.Convert(value, typeof(ReadOnlySpan<byte>));
        var bind = Expression.Call(typeof(raw), how, [], statement, at, value);
        return isThere is null ? bind : Expression.Condition(isThere, bind, Expression.Call(typeof(raw), nameof(raw.sqlite3_bind_null), [], statement, at));
    }
}
