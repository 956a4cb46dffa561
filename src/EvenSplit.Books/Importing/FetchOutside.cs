using EvenSplit.Books.Model;

namespace EvenSplit.Books.Importing;

/// <summary>Fetches the reports that processors and partners leave in their folders; each is read as if somebody had brought it in. Banks' answers are fetched with those about payments.</summary>
public sealed class FetchOutside(BookPlace place, ImportFiles files) : IUseCase
{
    private const string Fetcher = "fetched";

    /// <returns>Whether there was anything.</returns>
    public bool Fetch() => Fetch(place.Processor, ImportKind.Settlement) | Fetch(place.Partners, ImportKind.Outside);

    private bool Fetch(string folder, ImportKind kind)
    {
        var from = Path.Combine(folder, "out");
        if (!Directory.Exists(from)) return false;
        var found = false;
        foreach (var file in Directory.GetFiles(from).Where(f => !f.EndsWith(".part", StringComparison.Ordinal)).Order(StringComparer.Ordinal))
        {
            var to = "read";
            try
            {
                // One that was queued before a stop and not yet moved is read twice, which changes nothing.
                using var content = File.OpenRead(file);
                files.QueueAsync(kind, Path.GetFileName(file), content, Fetcher).GetAwaiter().GetResult();
            }
            catch (RefusedException)
            {
                // Empty or too large: it keeps no other from being read.
                to = "refused";
            }
            File.Move(file, Path.Combine(Directory.CreateDirectory(Path.Combine(folder, to)).FullName, Path.GetFileName(file)), overwrite: true);
            found = true;
        }
        return found;
    }
}
