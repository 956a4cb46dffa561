using System.Data.Common;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace EvenSplit.Books.Journal;

/// <summary>Commands by which the journal goes through millions of rows, without a record for each.</summary>
internal static class JournalCommand
{
    /// <summary>Within the transaction there is; the connection must be open.</summary>
    public static DbCommand Of(BookDbContext db, string sql, params (string Name, object Value)[] parameters)
    {
        var command = db.Database.GetDbConnection().CreateCommand();
        (command.CommandText, command.Transaction) = (sql, db.Database.CurrentTransaction?.GetDbTransaction());
        foreach (var (name, value) in parameters)
        {
            var parameter = command.CreateParameter();
            (parameter.ParameterName, parameter.Value) = (name, value);
            command.Parameters.Add(parameter);
        }
        return command;
    }
}
