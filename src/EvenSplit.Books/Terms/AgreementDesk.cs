using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>An agreement in the list.</summary>
public sealed record AgreementSummary(string Id, string Name, Basis Basis, Currency Currency, DateOnly? From, int Versions, IReadOnlyList<string> Terms, int Payees, bool ForNewAffiliates);

/// <summary>One published version in words.</summary>
/// <param name="Changes">What it says that the version before did not, and the other way round.</param>
/// <param name="Text">What was agreed in words, as Markdown.</param>
public sealed record VersionView(
    int Id, DateOnly From, string PublishedBy, DateTimeOffset PublishedAt, IReadOnlyList<string> Terms, IReadOnlyList<string> Switches,
    IReadOnlyList<(bool IsNew, string Sentence)> Changes, string Text, IReadOnlyList<AcceptanceView> Acceptances, string? WithdrawnBy, bool MayBeWithdrawn);

/// <summary>Who accepted a version, when and how.</summary>
public sealed record AcceptanceView(string Payee, DateOnly On, string Note, string RecordedBy);

/// <summary>Somebody on an agreement.</summary>
/// <param name="Products">Names of the products they take part with; null for all.</param>
public sealed record MemberView(int Id, string Payee, string Name, DateOnly From, DateOnly? To, IReadOnlyList<string>? Products);

/// <summary>An agreement with its versions, newest first, and who is on it.</summary>
public sealed record AgreementView(string Id, string Name, Basis Basis, Currency Currency, bool ForNewAffiliates, IReadOnlyList<VersionView> Versions, IReadOnlyList<MemberView> Members);

/// <summary>Shows agreements, publishes their versions, and puts payees on them.</summary>
public sealed class AgreementDesk(BookDbContext db, BookCache cache, BookClock clock, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    public IReadOnlyList<AgreementSummary> List()
    {
        var book = cache.Get(db);
        var naming = book.Naming();
        var today = clock.Today;
        var forNew = db.Agreements.Where(a => a.ForNewAffiliates).Select(a => a.Id).ToHashSet();
        return book.Rules.Agreements.Select(a =>
        {
            var current = a.VersionOn(today) ?? (a.Versions.Count > 0 ? a.Versions[0] : null);
            return new AgreementSummary(
                a.Id.Value, book.AgreementName(a.Id.Value), a.Basis, a.Currency, current?.From, a.Versions.Count,
                current?.Terms.Select(t => TermWords.Term(t, a.Currency, naming)).ToArray() ?? [],
                book.Rules.Payees.Count(p => p.IsOn(a.Id, today)), forNew.Contains(a.Id.Value));
        }).OrderBy(a => a.Basis).ThenBy(a => a.Name, StringComparer.Ordinal).ToArray();
    }

    public AgreementView? Find(string id)
    {
        var book = cache.Get(db);
        var agreement = book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == id);
        if (agreement is null) return null;
        var naming = book.Naming();
        var records = db.AgreementVersions.AsNoTracking().Where(v => v.AgreementId == id).OrderBy(v => v.From).ThenBy(v => v.Id).ToArray();
        var withdrawn = db.WithdrawnVersions.AsNoTracking().ToDictionary(w => w.VersionId, w => w.By);
        var ids = records.Select(v => v.Id).ToArray();
        var acceptances = db.Acceptances.AsNoTracking().Where(a => ids.Contains(a.VersionId)).OrderBy(a => a.AcceptedOn).AsEnumerable()
            .ToLookup(a => a.VersionId, a => new AcceptanceView(book.PayeeName(a.Payee), a.AcceptedOn, a.Note, a.RecordedBy));
        var versions = new List<VersionView>();
        foreach (var record in records)
        {
            var version = VersionDocuments.Read(record.Document);
            var (terms, switches) = (version.Terms.Select(t => TermWords.Term(t, agreement.Currency, naming)).ToArray(), TermWords.Switches(version, agreement.Basis).ToArray());
            var before = versions.Find(v => v.WithdrawnBy is null);
            var withdrawnBy = withdrawn.GetValueOrDefault(record.Id);
            versions.Insert(0, new VersionView(
                record.Id, record.From, record.PublishedBy, record.PublishedAt, terms, switches, before is null ? [] : Changes(before, terms, switches),
                record.Text, acceptances[record.Id].ToArray(), withdrawnBy, withdrawnBy is null && record.From > clock.Today && agreement.Versions.Count > 1));
        }
        var members = db.Memberships.AsNoTracking().Where(m => m.AgreementId == id).OrderBy(m => m.From).AsEnumerable()
            .Select(m => new MemberView(m.Id, m.PayeeId, book.PayeeName(m.PayeeId), m.From, m.To, m.Products?.ConvertAll(book.ProductName))).ToArray();
        return new AgreementView(id, book.AgreementName(id), agreement.Basis, agreement.Currency, db.Agreements.Where(a => a.Id == id).Select(a => a.ForNewAffiliates).Single(), versions, members);
    }

    private static (bool IsNew, string Sentence)[] Changes(VersionView before, string[] terms, string[] switches)
    {
        string[] said = [.. before.Terms, .. before.Switches], says = [.. terms, .. switches];
        return [.. said.Except(says).Select(s => (false, s)), .. says.Except(said).Select(s => (true, s))];
    }

    /// <summary>The newest version as a draft to write the next one from.</summary>
    public AgreementDraft? Draft(string id)
    {
        var book = cache.Get(db);
        var agreement = book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == id);
        if (agreement is null || agreement.Versions.Count == 0) return null;
        var text = db.StandingVersions().Where(v => v.AgreementId == id).OrderByDescending(v => v.From).Select(v => v.Text).First();
        return AgreementDraft.Of(book.AgreementName(id), agreement, agreement.Versions[^1]) with { Text = text };
    }

    /// <summary>Publishes a draft: as a new agreement, or as the next version of one. A published version never changes.</summary>
    /// <param name="id">The agreement it is the next version of; null for a new one.</param>
    /// <returns>The agreement's id, or the fields that keep it from being published.</returns>
    public (string? Id, IReadOnlyList<FieldFault> Faults) Publish(string? id, AgreementDraft draft, string by)
    {
        var book = cache.Get(db);
        var reader = new DraftReader(book.Rules);
        var version = reader.Read(draft);
        var faults = reader.Faults.ToList();
        if (id is not null && db.StandingVersions().Any(v => v.AgreementId == id && v.From == version.From))
        {
            faults.Add(new FieldFault("From", $"There is a version from {version.From.InWords()} already, and a published one never changes; choose another day."));
        }
        if (faults.Count > 0) return (null, faults);
        using var change = rulesChange.Begin();
        id ??= Ids.Free(draft.Name, taken => db.Agreements.Any(a => a.Id == taken));
        Enter(new Agreement(new AgreementId(id), draft.Basis, Currency.Of(draft.Currency), [version]), version, by, draft.Name.Trim(), draft.Text.Trim());
        change.Commit();
        return (id, []);
    }

    /// <summary>Enters a version that is known to be sound, of a new agreement or of one there is; the caller saves.</summary>
    /// <param name="text">Null keeps the text of the version before.</param>
    internal void Enter(Agreement agreement, AgreementVersion version, string by, string? name = null, string? text = null)
    {
        var id = agreement.Id.Value;
        if (db.Agreements.Find(id) is null)
        {
            db.Agreements.Add(new AgreementRecord { Id = id, Name = name ?? id, Basis = agreement.Basis, Currency = agreement.Currency.Code });
        }
        db.AgreementVersions.Add(new AgreementVersionRecord
        {
            AgreementId = id,
            From = version.From,
            Document = VersionDocuments.Write(version),
            Text = text ?? db.StandingVersions().Where(v => v.AgreementId == id).OrderByDescending(v => v.From).Select(v => v.Text).FirstOrDefault() ?? "",
            PublishedAt = clock.GetUtcNow(),
            PublishedBy = by,
        });
        audit.Note(by, "publish", $"{name ?? id} from {version.From.InWords()}");
    }

    /// <exception cref="RefusedException">Unknown payee, or already on it or on another referral agreement at that time.</exception>
    /// <param name="products">The products they take part with; null for all.</param>
    public void PutOn(string id, string payeeId, DateOnly from, string by, IReadOnlyList<string>? products = null)
    {
        var book = cache.Get(db);
        if (!book.Rules.HasPayee(new PayeeId(payeeId))) throw new RefusedException("Choose a payee.", "Payee");
        var agreement = book.Rules.Agreement(new AgreementId(id));
        Free(book, payeeId, agreement, from, null, null);
        var approved = Known(book, products);
        using var change = rulesChange.Begin();
        Join(id, payeeId, from, by, approved);
        change.Commit();
    }

    /// <summary>Puts somebody on who is known to be free for it; the caller saves.</summary>
    internal void Join(string id, string payeeId, DateOnly from, string by, List<string>? products = null)
    {
        db.Memberships.Add(new MembershipRecord { PayeeId = payeeId, AgreementId = id, From = from, Products = products });
        audit.Note(by, $"put {payeeId} on{For(cache.Get(db), products)}", id);
    }

    /// <summary>Says for which products somebody on an agreement is approved, from a day on.</summary>
    /// <param name="products">Null for all, empty for none.</param>
    /// <exception cref="RefusedException">There is no such product, or their time on it ends before that day.</exception>
    public void ApproveFor(int membershipId, IReadOnlyList<string>? products, DateOnly from, string by)
    {
        var book = cache.Get(db);
        var membership = db.Memberships.Known(m => m.Id == membershipId);
        var approved = Known(book, products);
        if (Holding(membership, from) is { } holding && Same(holding.Products, approved)) return;
        if (membership.To <= from) throw new RefusedException($"Their time on it ends on {membership.To.Value.InWords()}; choose a day before.", "ApprovedFrom");
        using var change = rulesChange.Begin();
        if (from <= membership.From) membership.Products = approved;
        else
        {
            // What was approved until then stays as it was.
            db.Memberships.Add(new MembershipRecord { PayeeId = membership.PayeeId, AgreementId = membership.AgreementId, From = from, To = membership.To, Products = approved });
            membership.To = from;
        }
        audit.Note(by, $"approve {membership.PayeeId}{For(book, approved)} from {from.InWords()}", membership.AgreementId);
        change.Commit();
    }

    /// <summary>The membership that says what a payee takes part with from a day on, where one begins then: a form sent a second time finds it as it left it.</summary>
    private MembershipRecord? Holding(MembershipRecord membership, DateOnly from) => from <= membership.From
        ? membership
        : db.Memberships.FirstOrDefault(m => m.PayeeId == membership.PayeeId && m.AgreementId == membership.AgreementId && m.From == from && (m.To == null || m.To > from));

    private static bool Same(List<string>? held, List<string>? approved) => held is null || approved is null ? held == approved : held.SequenceEqual(approved);

    /// <exception cref="RefusedException">The payee is on the agreement, or on another referral agreement, at some time between.</exception>
    private void Free(OpenedBook book, string payee, Agreement agreement, DateOnly from, DateOnly? to, int? but)
    {
        foreach (var other in db.Memberships.AsNoTracking().Where(m => m.PayeeId == payee && m.Id != but && (m.To == null || m.To > from) && (m.To == null || m.To > m.From)).AsEnumerable().Where(m => to is null || m.From < to))
        {
            if (other.AgreementId == agreement.Id.Value) throw new RefusedException($"{book.PayeeName(payee)} is on this agreement already.", "Payee");
            if (agreement.Basis == Basis.Referral && book.Rules.Agreement(new AgreementId(other.AgreementId)).Basis == Basis.Referral)
            {
                throw new RefusedException($"{book.PayeeName(payee)} is on {book.AgreementName(other.AgreementId)} then, and only one referral agreement may be in force at a time; end that one first.", "Payee");
            }
        }
    }

    private static List<string>? Known(OpenedBook book, IReadOnlyList<string>? products) =>
        products?.FirstOrDefault(p => !book.Rules.HasProduct(new ProductId(p))) is { } unknown ? throw new RefusedException($"There is no product '{unknown}' in the catalogue.", "Products") : products?.Distinct().ToList();

    private static string For(OpenedBook book, List<string>? products) =>
        products is null ? "" : products.Count == 0 ? " for no product" : $" for {string.Join(", ", products.Select(book.ProductName))}";

    /// <summary>Ends a payee's time on an agreement at the start of a day.</summary>
    public void TakeOff(int membershipId, DateOnly to, string by)
    {
        var membership = db.Memberships.Known(m => m.Id == membershipId);
        if (to <= membership.From) throw new RefusedException($"They are on it from {membership.From.InWords()}; it can end the day after at the earliest.", "To");
        // Moved to a later day, it must not reach into what came after it.
        if (membership.To < to) Free(cache.Get(db), membership.PayeeId, cache.Get(db).Rules.Agreement(new AgreementId(membership.AgreementId)), membership.To.Value, to, membershipId);
        using var change = rulesChange.Begin();
        membership.To = to;
        audit.Note(by, $"take {membership.PayeeId} off", membership.AgreementId);
        change.Commit();
    }

    /// <summary>Says from when until when somebody is on an agreement, whatever was said before. Time that is left out is a gap; putting them on again begins a new one.</summary>
    /// <param name="to">The first day on which they are on it no more; null for no end.</param>
    /// <exception cref="RefusedException">It ends before it begins, or reaches into other time on it, or on another referral agreement.</exception>
    public void Redate(int membershipId, DateOnly? from, DateOnly? to, string by)
    {
        if (from is not { } first) throw new RefusedException("Say from which day.", "MemberFrom");
        if (to <= first) throw new RefusedException($"That is not after {first.InWords()}, when it begins.", "MemberTo");
        var membership = db.Memberships.Known(m => m.Id == membershipId);
        if ((membership.From, membership.To) == (first, to)) return;
        Free(cache.Get(db), membership.PayeeId, cache.Get(db).Rules.Agreement(new AgreementId(membership.AgreementId)), first, to, membershipId);
        using var change = rulesChange.Begin();
        (membership.From, membership.To) = (first, to);
        audit.Note(by, $"{membership.PayeeId} is on it from {first.InWords()}{(to is { } end ? $" until {end.InWords()}" : "")}", membership.AgreementId);
        change.Commit();
    }

    /// <summary>Says that somebody never was on an agreement in a time it was written down for.</summary>
    public void NeverOn(int membershipId, string by)
    {
        var membership = db.Memberships.Known(m => m.Id == membershipId);
        using var change = rulesChange.Begin();
        db.Memberships.Remove(membership);
        audit.Note(by, $"{membership.PayeeId} was never on it from {membership.From.InWords()}", membership.AgreementId);
        change.Commit();
    }

    /// <exception cref="RefusedException">No name, or another agreement has it.</exception>
    public void Rename(string id, string name, string by)
    {
        var agreement = db.Agreements.Known(a => a.Id == id);
        var said = name.Trim();
        if (said.Length == 0) throw new RefusedException("Give it a name.", "NewName");
        if (said == agreement.Name) return;
        if (db.Agreements.Any(a => a.Name == said)) throw new RefusedException("Another agreement has that name.", "NewName");
        using var change = rulesChange.Begin();
        audit.Note(by, $"rename {agreement.Name} to {said}", id);
        agreement.Name = said;
        change.Commit();
    }

    /// <summary>Takes an agreement away that nobody was ever on; what it said stays in the record.</summary>
    /// <exception cref="RefusedException">Somebody is or was on it, or a target or a term of somebody's own names it.</exception>
    public void TakeAway(string id, string by)
    {
        var agreement = db.Agreements.Include(a => a.Versions).Known(a => a.Id == id);
        if (db.Memberships.Any(m => m.AgreementId == id) || db.Entries.Any(e => e.Agreement == id)) throw new RefusedException("Somebody is or was on it: end it instead.");
        if (db.Targets.Any(t => t.AgreementId == id || t.MoveTo == id)) throw new RefusedException("A target names it: take that away first.");
        if (db.Payees.Any(p => p.PersonalTerms.Any(t => t.AgreementId == id))) throw new RefusedException("A payee has a term of their own under it.");
        using var change = rulesChange.Begin();
        foreach (var version in agreement.Versions) audit.Note(by, $"take away {agreement.Name} from {version.From.InWords()}: {string.Join(" ", VersionDocuments.Read(version.Document).Terms.Select(t => TermWords.Term(t, Currency.Of(agreement.Currency), cache.Get(db).Naming())))}", id);
        var versions = agreement.Versions.Select(v => v.Id).ToArray();
        db.WithdrawnVersions.Where(w => versions.Contains(w.VersionId)).ExecuteDelete();
        db.AgreementDrafts.Where(d => d.AgreementId == id).ExecuteDelete();
        db.Remove(agreement);
        change.Commit();
    }

    /// <summary>Ends the agreement at the start of a day: for everybody who is on it then.</summary>
    /// <returns>How many that was.</returns>
    /// <exception cref="RefusedException">Somebody comes onto it that day or later.</exception>
    public int End(string id, DateOnly to, string by)
    {
        using var change = rulesChange.Begin();
        var open = db.Memberships.Where(m => m.AgreementId == id && (m.To == null || m.To > to)).ToArray();
        foreach (var membership in open) TakeOff(membership.Id, to, by);
        audit.Note(by, "end", id);
        change.Commit();
        return open.Length;
    }

    /// <summary>Takes a published version back before the day on which it comes into force. It stays to be seen.</summary>
    /// <exception cref="RefusedException">It is in force already, or the agreement says nothing without it.</exception>
    public void Withdraw(int versionId, string by)
    {
        var version = db.AgreementVersions.AsNoTracking().Known(v => v.Id == versionId);
        if (version.From <= clock.Today) throw new RefusedException($"It has been in force since {version.From.InWords()} and never changes; write the next version.");
        if (db.WithdrawnVersions.Any(w => w.VersionId == versionId)) throw new RefusedException("It is withdrawn already.");
        if (cache.Get(db).Rules.Agreement(new AgreementId(version.AgreementId)).Versions.Count == 1) throw new RefusedException("It is the only version there is; end the agreement instead.");
        using var change = rulesChange.Begin();
        db.WithdrawnVersions.Add(new WithdrawnVersionRecord { VersionId = versionId, By = by, At = clock.GetUtcNow() });
        audit.Note(by, "withdraw version", $"{version.AgreementId} from {version.From.InWords()}");
        change.Commit();
    }

    /// <summary>Says whether affiliates who are added from now on are put on it.</summary>
    /// <exception cref="RefusedException">It is not earned on orders brought.</exception>
    public void PutNewAffiliatesOn(string id, bool doSo, string by)
    {
        var record = db.Agreements.Known(a => a.Id == id);
        if (record.Basis != Basis.Referral) throw new RefusedException("New affiliates are put on an agreement that is earned on the orders they bring.");
        record.ForNewAffiliates = doSo;
        audit.Note(by, doSo ? "put new affiliates on" : "put new affiliates no longer on", id);
        db.SaveChanges();
    }

    /// <summary>Notes that a payee accepts a version.</summary>
    /// <exception cref="RefusedException">Nobody named, a day still to come, or noted already.</exception>
    public void Accept(int versionId, string payee, DateOnly? on, string note, string by)
    {
        var book = cache.Get(db);
        if (book.Rules.FindPayee(new PayeeId(payee)) is null) throw new RefusedException("Choose who accepted.", "Accepting");
        if (on is not { } day || day > clock.Today) throw new RefusedException("Say on which day; it cannot be one to come.", "AcceptedOn");
        if (db.Acceptances.Any(a => a.VersionId == versionId && a.Payee == payee)) throw new RefusedException($"That {book.PayeeName(payee)} accepted this version is noted already.", "Accepting");
        db.Acceptances.Add(new AcceptanceRecord { VersionId = versionId, Payee = payee, AcceptedOn = day, Note = note.Trim(), RecordedBy = by, RecordedAt = clock.GetUtcNow() });
        audit.Note(by, "note acceptance", $"{payee} of version {versionId}");
        db.SaveChanges();
    }
}
