using System.Runtime.CompilerServices;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Tests;

/// <summary>
/// Dependencies point one way: Web, Cli → Books → Formats → Core, and the core knows nothing but itself. That it asks the machine for no file, network or
/// clock is an error of its build: <c>BannedSymbols.txt</c>.
/// </summary>
public sealed class Dependencies
{
    private static IEnumerable<string> References(Type of) => of.Assembly.GetReferencedAssemblies().Select(a => a.Name!);

    [Fact]
    public void Core_uses_the_language_and_nothing_else() =>
        Assert.All(References(typeof(Money)), name => Assert.StartsWith("System.", name, StringComparison.Ordinal));

    [Fact]
    public void Formats_knows_only_the_core() =>
        Assert.Equal(["EvenSplit.Core"], References(typeof(CsvTable)).Where(n => n.StartsWith("EvenSplit", StringComparison.Ordinal)));

    [Fact]
    public void Books_knows_no_interface() =>
        Assert.DoesNotContain(References(typeof(BookCache)), n => n is "EvenSplit.Web" or "EvenSplit.Cli" || n.StartsWith("Microsoft.AspNetCore.Mvc", StringComparison.Ordinal));

    /// <summary>Each folder of the book uses others and is not used by them, in however many steps: what has no users left can be taken first.</summary>
    [Fact]
    public void No_folder_of_the_book_comes_round_to_itself()
    {
        var uses = SourceFolders().ToDictionary(f => Path.GetFileName(f), UsedBy);
        Assert.True(uses.Values.Sum(u => u.Count) > 20, "the folders' sources were not found");
        while (uses.Keys.Where(folder => !uses[folder].Any(uses.ContainsKey)).ToList() is { Count: > 0 } free)
            free.ForEach(folder => uses.Remove(folder));
        Assert.Empty(uses.Keys);
    }

    private static IEnumerable<string> SourceFolders([CallerFilePath] string here = "") =>
        Directory.GetDirectories(Path.Combine(Path.GetDirectoryName(here)!, "../../src/EvenSplit.Books")).Where(f => Path.GetFileName(f) is not ("bin" or "obj" or "Migrations"));

    private static HashSet<string> UsedBy(string folder) =>
    [
        .. Directory.GetFiles(folder, "*.cs", SearchOption.AllDirectories).SelectMany(File.ReadLines)
            .Where(line => line.StartsWith(Using, StringComparison.Ordinal)).Select(line => line[Using.Length..].TrimEnd(';').Split('.')[0]).Where(other => other != Path.GetFileName(folder)),
    ];

    private const string Using = "using EvenSplit.Books.";
}
