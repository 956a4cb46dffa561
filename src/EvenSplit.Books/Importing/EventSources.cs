using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Formats.Events;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>A shop that may send events, with when it sent the last.</summary>
public sealed record EventSourceView(string Id, string Name, bool IsOpen, DateTimeOffset? LastEvent, string AddedBy);

/// <summary>
/// Says which shops may send events, and where links lead. Each source has a secret of its own, kept as a file that only the application's user may read
/// among the book's keys: a copy of the database does not give it away.
/// </summary>
public sealed class EventSources(BookDbContext db, BookPlace place, BookClock clock, AuditLog audit) : IUseCase
{
    public IReadOnlyList<EventSourceView> List() => db.EventSources.AsNoTracking().OrderBy(s => s.AddedAt).AsEnumerable()
        .Select(s => new EventSourceView(s.Id, s.Name, s.ClosedAt is null, db.Inbox.Where(e => e.Source == s.Id).OrderByDescending(e => e.Id).Select(e => (DateTimeOffset?)e.ReceivedAt).FirstOrDefault(), s.AddedBy)).ToArray();

    /// <summary>Secrets of the sources that may send, by source.</summary>
    public IReadOnlyDictionary<string, string> Secrets() => db.EventSources.AsNoTracking().Where(s => s.ClosedAt == null).Select(s => s.Id).AsEnumerable()
        .Where(id => File.Exists(FileOf(id))).ToDictionary(id => id, id => File.ReadAllText(FileOf(id)).Trim());

    /// <returns>The source's id and its secret, which is shown once.</returns>
    /// <exception cref="RefusedException">It has no name.</exception>
    public (string Id, string Secret) Add(string name, string by)
    {
        if (name.Trim().Length == 0) throw new RefusedException("Say which shop it is.", "SourceName");
        var id = Ids.Free(name, taken => db.EventSources.Any(s => s.Id == taken));
        db.EventSources.Add(new EventSourceRecord { Id = id, Name = name.Trim(), AddedBy = by, AddedAt = clock.GetUtcNow() });
        audit.Note(by, "add source", name.Trim());
        var secret = Write(id);
        db.SaveChanges();
        return (id, secret);
    }

    /// <summary>Gives the source another secret; what is signed with the old one is refused from now on.</summary>
    public string Renew(string id, string by)
    {
        var source = db.EventSources.Single(s => s.Id == id);
        audit.Note(by, "renew secret", source.Name);
        db.SaveChanges();
        return Write(id);
    }

    /// <summary>Takes no more events from the source.</summary>
    public void Close(string id, string by)
    {
        var source = db.EventSources.Single(s => s.Id == id);
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
        if (db.Book.Any(b => b.ShopAddress == typed)) return;
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.ShopAddress, typed).SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
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
