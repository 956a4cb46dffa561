using System.Data.Common;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace EvenSplit.Books;

/// <summary>Whatever is asked of a connection through EF sees the rows that were handed over before to be written alongside.</summary>
internal sealed class AfterRowsAlongside : DbCommandInterceptor
{
    public override InterceptionResult<DbDataReader> ReaderExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<DbDataReader> result)
    {
        Wait(command, eventData);
        return result;
    }

    public override InterceptionResult<int> NonQueryExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<int> result)
    {
        Wait(command, eventData);
        return result;
    }

    public override InterceptionResult<object> ScalarExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<object> result)
    {
        Wait(command, eventData);
        return result;
    }

    // What is asked without blocking is asked by pages, whose connections write nothing alongside.
    private static void Wait(DbCommand command, CommandEventData eventData) => (eventData.Context as BookDbContext)?.Alongside.WaitFor(command.CommandText);
}
