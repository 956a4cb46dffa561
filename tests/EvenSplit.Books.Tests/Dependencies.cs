using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Tests;

/// <summary>Dependencies point one way: Web, Cli → Books → Formats → Core, and the core knows nothing but itself.</summary>
public sealed class Dependencies
{
    private static IEnumerable<string> References(Type of) => of.Assembly.GetReferencedAssemblies().Select(a => a.Name!);

    [Fact]
    public void Core_uses_the_language_and_nothing_else() =>
        Assert.All(References(typeof(Money)), name => Assert.StartsWith("System.", name, StringComparison.Ordinal));

    [Fact]
    public void Core_touches_no_file_no_network_no_clock()
    {
        string[] forbidden = ["System.IO.FileSystem", "System.Net", "Microsoft.", "System.Data"];
        Assert.DoesNotContain(References(typeof(Money)), name => forbidden.Any(f => name.StartsWith(f, StringComparison.Ordinal)));
    }

    [Fact]
    public void Formats_knows_only_the_core() =>
        Assert.Equal(["EvenSplit.Core"], References(typeof(CsvTable)).Where(n => n.StartsWith("EvenSplit", StringComparison.Ordinal)));

    [Fact]
    public void Books_knows_no_interface() =>
        Assert.DoesNotContain(References(typeof(BookCache)), n => n is "EvenSplit.Web" or "EvenSplit.Cli" || n.StartsWith("Microsoft.AspNetCore.Mvc", StringComparison.Ordinal));
}
