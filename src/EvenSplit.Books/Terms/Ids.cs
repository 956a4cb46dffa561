namespace EvenSplit.Books.Terms;

/// <summary>Makes readable ids from names: "Fern Podcast" becomes fern-podcast.</summary>
internal static class Ids
{
    public static string Free(string name, Func<string, bool> isTaken)
    {
        var letters = name.Trim().ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-').ToArray();
        var id = string.Join('-', new string(letters).Split('-', StringSplitOptions.RemoveEmptyEntries));
        if (id.Length == 0) id = "unnamed";
        var free = id;
        for (var i = 2; isTaken(free); i++) free = $"{id}-{i}";
        return free;
    }
}
