using System.Globalization;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

// What calc is measured by: a process that reads a scenario's JSON into types with System.Text.Json and does nothing else. It also makes the scenario.
switch (args)
{
    case ["make", var file, var orders]:
        File.WriteAllBytes(file, RandomScenario.Bytes(2, ScenarioSize.ForBenchmark(int.Parse(orders, CultureInfo.InvariantCulture))));
        return 0;
    case ["read", var file]:
        Console.WriteLine($"{ScenarioReader.Parse(File.ReadAllBytes(file))!.Orders.Count} orders");
        return 0;
    default:
        Console.Error.WriteLine("make FILE ORDERS, or read FILE");
        return 2;
}
