using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>A shop that may send events, with when it sent the last.</summary>
/// <param name="Channels">Whose orders it may report; null for any.</param>
public sealed record EventSourceView(string Id, string Name, IReadOnlyList<string>? Channels, bool IsOpen, DateTimeOffset? LastEvent, string AddedBy);

/// <summary>
/// Says which shops may send events, of which channels' orders, and where links lead. Each source has a secret of its own, kept as a file that only the application's user may read
/// among the book's keys: a copy of the database does not give it away.
/// </summary>
public sealed class EventSources(BookDbContext db, BookPlace place, BookClock clock, AuditLog audit) : IUseCase
{
    public IReadOnlyList<EventSourceView> List() => db.EventSources.AsNoTracking().OrderBy(s => s.AddedAt).AsEnumerable()
        .Select(s => new EventSourceView(s.Id, s.Name, s.Channels, s.ClosedAt is null, db.Inbox.Where(e => e.Source == s.Id).OrderByDescending(e => e.Id).Select(e => (DateTimeOffset?)e.ReceivedAt).FirstOrDefault(), s.AddedBy)).ToArray();

    /// <summary>Secrets of the sources that may send, by source.</summary>
    public IReadOnlyDictionary<string, string> Secrets() => db.EventSources.AsNoTracking().Where(s => s.ClosedAt == null).Select(s => s.Id).AsEnumerable()
        .Where(id => File.Exists(FileOf(id))).ToDictionary(id => id, id => File.ReadAllText(FileOf(id)).Trim());

    /// <summary>Channels that no source reports yet.</summary>
    public IReadOnlyList<string> FreeChannels()
    {
        var taken = db.EventSources.AsNoTracking().Where(s => s.ClosedAt == null && s.Channels != null).AsEnumerable().SelectMany(s => s.Channels!).ToHashSet();
        return [.. db.Channels.AsNoTracking().OrderBy(c => c.Id).Select(c => c.Id).AsEnumerable().Where(c => !taken.Contains(c))];
    }

    /// <param name="channels">Whose orders it reports; null for all that no other source does.</param>
    /// <returns>The source's id and its secret, which is shown once.</returns>
    /// <exception cref="RefusedException">It has no name or no channel, or another source has one of them.</exception>
    public (string Id, string Secret) Add(string name, IReadOnlyCollection<string>? channels, string by)
    {
        if (name.Trim().Length == 0) throw new RefusedException("Say which shop it is.", "SourceName");
        // A book without channels yet has none to bind it to; the list of shops says so.
        var bound = channels is null or { Count: 0 } && !db.Channels.Any() ? null : Bindable(channels ?? FreeChannels(), null);
        var id = Ids.Free(name, taken => db.EventSources.Any(s => s.Id == taken));
        db.EventSources.Add(new EventSourceRecord { Id = id, Name = name.Trim(), Channels = bound, AddedBy = by, AddedAt = clock.GetUtcNow() });
        audit.Note(by, "add source", $"{name.Trim()}: {(bound is null ? "any channel" : string.Join(", ", bound))}");
        var secret = Write(id);
        db.SaveChanges();
        return (id, secret);
    }

    /// <summary>Says of which channels it may report orders from now on.</summary>
    /// <exception cref="RefusedException">It is not there, or there is no channel, or another source has one of them.</exception>
    public void Bind(string id, IReadOnlyCollection<string> channels, string by)
    {
        var source = Find(id);
        source.Channels = Bindable(channels, id);
        audit.Note(by, "bind source", $"{source.Name}: {string.Join(", ", source.Channels)}");
        db.SaveChanges();
    }

    private List<string> Bindable(IReadOnlyCollection<string> channels, string? but)
    {
        if (channels.Count == 0) throw new RefusedException("Choose the channels whose orders it reports.", "Channels");
        foreach (var channel in channels)
        {
            if (!db.Channels.Any(c => c.Id == channel)) throw new RefusedException($"There is no channel {channel}.", "Channels");
            if (db.EventSources.AsNoTracking().Where(s => s.ClosedAt == null && s.Id != but && s.Channels != null).AsEnumerable().FirstOrDefault(s => s.Channels!.Contains(channel)) is { } other)
            {
                throw new RefusedException($"{other.Name} reports the orders of {channel} already; two shops that report the same orders would write over each other.", "Channels");
            }
        }
        return [.. channels.Distinct().Order(StringComparer.Ordinal)];
    }

    private EventSourceRecord Find(string id) => db.EventSources.SingleOrDefault(s => s.Id == id) ?? throw new RefusedException("There is no such shop.");

    /// <summary>Gives the source another secret; what is signed with the old one is refused from now on.</summary>
    public string Renew(string id, string by)
    {
        var source = Find(id);
        audit.Note(by, "renew secret", source.Name);
        db.SaveChanges();
        return Write(id);
    }

    /// <summary>Takes no more events from the source.</summary>
    public void Close(string id, string by)
    {
        var source = Find(id);
        source.ClosedAt = clock.GetUtcNow();
        audit.Note(by, "close source", source.Name);
        db.SaveChanges();
        File.Delete(FileOf(id));
    }

    /// <summary>Sets where links lead.</summary>
    /// <exception cref="RefusedException">It is no address of a web site.</exception>
    public void SetShopAddress(string address, string by)
    {
        var typed = address.Trim().TrimEnd('/');
        if (!Uri.TryCreate(typed, UriKind.Absolute, out var uri) || uri.Scheme is not ("http" or "https") || uri.PathAndQuery != "/" || uri.UserInfo.Length > 0)
        {
            throw new RefusedException("Give the shop's address without a path, such as https://shop.example.", "ShopAddress");
        }
        var book = db.Book.Single();
        if (book.ShopAddress == typed) return;
        (book.ShopAddress, book.RulesVersion) = (typed, book.RulesVersion + 1);
        audit.Note(by, "set shop address", typed);
        db.SaveChanges();
    }

    private string Write(string id)
    {
        var secret = WebhookSignature.NewSecret();
        Directory.CreateDirectory(place.Keys);
        var options = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows()) options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        using var file = new StreamWriter(FileOf(id), options);
        file.Write(secret);
        return secret;
    }

    private string FileOf(string id) => Path.Combine(place.Keys, $"source-{id}.secret");
}
