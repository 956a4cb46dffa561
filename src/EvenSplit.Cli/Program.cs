using System.CommandLine;
using EvenSplit.Cli;

var root = new RootCommand("Even Split: works out, reconciles and pays split earnings.")
{
    DemoCommand.Make(),
    ImportCommand.Make(),
    SourceCommand.Make(),
    UserCommand.Make(),
    UserCommand.MakeConfirm(),
    CalcCommand.Make(),
    LoadCommand.Make(),
    LoadCommand.MakeResult(),
    LoadCommand.MakeExport(),
    CheckCommand.Make(),
    BackupCommand.Make(),
    BackupCommand.MakeRestore(),
    EvenSplit.Cli.Bench.BenchCommand.Make(),
};
return root.Parse(args).Invoke();
