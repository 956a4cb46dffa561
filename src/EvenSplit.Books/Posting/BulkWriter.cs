using System.Data.Common;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Posting;

/// <summary>
/// Inserts many rows of one entity without tracking them: columns and conversions come from the EF model, connection and transaction from EF.
/// Keys must be set by the caller.
/// </summary>
internal sealed class BulkWriter<T> : IDisposable where T : class
{
    private readonly DbCommand _command;
    private readonly (IProperty Property, DbParameter Parameter, Func<object?, object?>? ToProvider)[] _columns;

    /// <param name="replace">Whether a row takes the place of one with the same key.</param>
    /// <exception cref="InvalidOperationException">There is no transaction to write in.</exception>
    public BulkWriter(BookDbContext db, bool replace = false)
    {
        var transaction = db.Database.CurrentTransaction ?? throw new InvalidOperationException("Bulk rows are written inside a transaction.");
        var entity = db.Model.FindEntityType(typeof(T))!;
        _command = db.Database.GetDbConnection().CreateCommand();
        _command.Transaction = transaction.GetDbTransaction();
        _columns = entity.GetProperties().Select((property, i) =>
        {
            var parameter = _command.CreateParameter();
            parameter.ParameterName = "$p" + i;
            _command.Parameters.Add(parameter);
            return (property, parameter, property.GetTypeMapping().Converter?.ConvertToProvider);
        }).ToArray();
        var names = string.Join(", ", _columns.Select(c => $"\"{c.Property.GetColumnName()}\""));
        var values = string.Join(", ", _columns.Select(c => c.Parameter.ParameterName));
        _command.CommandText = $"INSERT {(replace ? "OR REPLACE " : "")}INTO \"{entity.GetTableName()}\" ({names}) VALUES ({values})";
        _command.Prepare();
    }

    public void Write(IEnumerable<T> rows)
    {
        foreach (var row in rows)
        {
            foreach (var (property, parameter, toProvider) in _columns)
            {
                var value = property.GetGetter().GetClrValue(row);
                parameter.Value = value is null ? DBNull.Value : toProvider is null ? value : toProvider(value) ?? DBNull.Value;
            }
            _command.ExecuteNonQuery();
        }
    }

    public void Dispose() => _command.Dispose();
}
