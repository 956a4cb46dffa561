using EvenSplit.Calc;

return CalcCommand.Make().Parse(args).Invoke();
