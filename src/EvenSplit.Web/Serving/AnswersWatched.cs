using EvenSplit.Books;

namespace EvenSplit.Web.Serving;

/// <summary>Sees when the bank, the wallet, a processor or a partner leaves something in its folder.</summary>
internal sealed class AnswersWatched : IDisposable
{
    private const string Out = "out";

    /// <summary>One for all folders: a machine has only so many.</summary>
    private readonly FileSystemWatcher _watcher;

    public AnswersWatched(BookPlace place, WorkSignal signal)
    {
        foreach (var folder in new[] { place.Bank, place.Wallet, place.Processor, place.Partners }) Directory.CreateDirectory(Path.Combine(folder, Out));
        _watcher = new FileSystemWatcher(place.Folder) { IncludeSubdirectories = true, NotifyFilter = NotifyFilters.FileName };
        _watcher.Created += (_, change) => Raise(change.FullPath, signal);
        // A file becomes whole by being given its name.
        _watcher.Renamed += (_, change) => Raise(change.FullPath, signal);
        _watcher.EnableRaisingEvents = true;
    }

    public void Dispose() => _watcher.Dispose();

    private static void Raise(string path, WorkSignal signal)
    {
        if (Path.GetFileName(Path.GetDirectoryName(path)) == Out) signal.Raise();
    }
}
