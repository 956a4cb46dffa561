using EvenSplit.Calc;

// How its user calls it.
AppContext.SetData("System.CommandLine.ExecutableName", "evensplit calc");
return CalcCommand.Make().Parse(args).Invoke();
