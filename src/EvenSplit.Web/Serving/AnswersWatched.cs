using EvenSplit.Books;

namespace EvenSplit.Web.Serving;

/// <summary>Sees when the bank, the wallet, a processor or a partner leaves something in its folder.</summary>
internal sealed class AnswersWatched : IDisposable
{
    private readonly FileSystemWatcher[] _watchers;

    public AnswersWatched(BookPlace place, WorkSignal signal) =>
        _watchers = [.. new[] { place.Bank, place.Wallet, place.Processor, place.Partners }.Select(folder => Watch(Directory.CreateDirectory(Path.Combine(folder, "out")).FullName, signal))];

    public void Dispose()
    {
        foreach (var watcher in _watchers) watcher.Dispose();
    }

    private static FileSystemWatcher Watch(string folder, WorkSignal signal)
    {
        var watcher = new FileSystemWatcher(folder);
        watcher.Created += (_, _) => signal.Raise();
        // A file becomes whole by being given its name.
        watcher.Renamed += (_, _) => signal.Raise();
        watcher.EnableRaisingEvents = true;
        return watcher;
    }
}
