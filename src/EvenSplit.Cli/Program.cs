using System.CommandLine;
using System.CommandLine.Help;
using EvenSplit.Books;
using EvenSplit.Cli;

// Named as it is called, not as the file of the program.
var root = new Command("evensplit", "Even Split: works out, reconciles and pays split earnings.")
{
    new HelpOption(),
    DemoCommand.Make(),
    ImportCommand.Make(),
    SourceCommand.Make(),
    UserCommand.Make(),
    UserCommand.MakeConfirm(),
    UserCommand.MakeAlone(),
    LoadCommand.Make(),
    LoadCommand.MakeResult(),
    ExportCommand.Make(),
    CheckCommand.Make(),
    BackupCommand.Make(),
    BackupCommand.MakeRestore(),
    EvenSplit.Cli.Bench.BenchCommand.Make(),
};
try
{
    return root.Parse(args).Invoke(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
}
catch (Exception failure) when (BookTrouble.Of(failure) is not null || failure is RefusedException or IOException or UnauthorizedAccessException)
{
    // What is wrong with the disk or the book, not with the application.
    Console.Error.WriteLine(BookTrouble.Of(failure) ?? failure.Message);
    return 1;
}
