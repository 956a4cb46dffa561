using EvenSplit.Web.Serving;

var app = WebBook.Build(args);
WebBook.Prepare(app);
if (args.Contains("--addresses"))
{
    foreach (var address in await PageAddresses.AllAsync(app)) Console.WriteLine(address);
    return;
}
app.Run();

/// <summary>Named so that tests can start the application.</summary>
public partial class Program;
