using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace EvenSplit.Books.Tests;

/// <summary>The machine stopped.</summary>
internal sealed class StoppedException : Exception;

/// <summary>Stops as if the machine did, before a command to the database.</summary>
internal sealed class StopsAfter(int commands) : DbCommandInterceptor
{
    private int _seen;

    public override InterceptionResult<DbDataReader> ReaderExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<DbDataReader> result) => Next(result);

    public override InterceptionResult<int> NonQueryExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<int> result) => Next(result);

    private T Next<T>(T result) => _seen++ < commands ? result : throw new StoppedException();
}
