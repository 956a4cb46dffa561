using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>A scenario handed in on the command line: read whole before anything is done with it.</summary>
public static class ScenarioFile
{
    public const string Description = "A scenario file, or - for standard input.";

    /// <returns>0 done; 2 where the file is at fault, with a line for each fault on standard error.</returns>
    public static int Use(string file, Action<Facts> work)
    {
        try
        {
            work(Read(file));
            return 0;
        }
        catch (ScenarioFaultException faulty)
        {
            foreach (var fault in faulty.Faults) Console.Error.WriteLine(fault);
        }
        catch (BeyondLargestAmountException beyond)
        {
            Console.Error.WriteLine(OneLine.Of(beyond.Message));
        }
        catch (Exception unreadable) when (unreadable is IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine(unreadable.Message);
        }
        return 2;
    }

    private static Facts Read(string file)
    {
        using var input = file == "-" ? Console.OpenStandardInput() : File.OpenRead(file);
        return ScenarioReader.Read(input);
    }
}
