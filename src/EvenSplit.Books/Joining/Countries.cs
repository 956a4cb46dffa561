namespace EvenSplit.Books.Joining;

/// <summary>Countries by their two letters (ISO 3166), with their English names.</summary>
public static class Countries
{
    public static IReadOnlyList<(string Code, string Name)> All { get; } = Read();

    internal static IReadOnlySet<string> Codes { get; } = All.Select(c => c.Code).ToHashSet();

    public static string Name(string code) => All.FirstOrDefault(c => c.Code == code).Name ?? code;

    private static (string, string)[] Read()
    {
        using var file = new StreamReader(typeof(Countries).Assembly.GetManifestResourceStream("Countries.tsv")!);
        return [.. file.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => l.Split('\t')).Select(l => (l[0], l[1])).OrderBy(c => c.Item2, StringComparer.Ordinal)];
    }
}
