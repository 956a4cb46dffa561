using EvenSplit.Web.Serving;

var app = WebBook.Build(args);
WebBook.Prepare(app);
app.Run();

/// <summary>Named so that tests can start the application.</summary>
public partial class Program;
