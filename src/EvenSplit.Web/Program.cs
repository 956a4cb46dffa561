using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Connections;

try
{
    var app = WebBook.Build(args);
    if (args.Contains("--addresses"))
    {
        WebBook.Prepare(app);
        foreach (var address in await PageAddresses.AllAsync(app)) Console.WriteLine(address);
        return 0;
    }
    if (WebBook.PrepareSafely(app) is { } trouble)
    {
        await app.DisposeAsync();
        TroubleSite.Run(args, trouble);
        return 1;
    }
    WebBook.TellOwner(app);
    app.Run();
    return 0;
}
catch (IOException failure) when (failure.InnerException is AddressInUseException)
{
    Console.Error.WriteLine("Something else listens at this address already. Choose another with --port.");
    return 1;
}

/// <summary>Named so that tests can start the application.</summary>
public partial class Program;
