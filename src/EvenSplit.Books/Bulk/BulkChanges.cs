using System.Text;
using System.Text.Json;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Bulk;

/// <summary>A file of changes with what it would change today.</summary>
public sealed record BulkView(BulkChangeRecord Record, BulkDifferences Differences);

/// <summary>Takes files of changes to the catalogue, to terms and to payees: shows each as a difference, applies it whole or not at all, and undoes it.</summary>
public sealed class BulkChanges(
    BookDbContext db, BookCache cache, BookClock clock, AuditLog audit, ProductDesk products, ProductsFile productsFile, TermsFile termsFile, PayeesChange payees, Sealed @sealed, AgreementDesk agreements, PersonalTerms personal, ThingsInUse inUse, RulesChange rulesChange) : IUseCase
{
    public const int MaxBytes = 8 * 1024 * 1024;

    /// <summary>What a file of terms has made: versions, personal terms, and personal terms that it ended with the day they would have ended on.</summary>
    private sealed record TermsMade(IReadOnlyList<int> Versions, IReadOnlyList<int> Personal, IReadOnlyDictionary<int, DateOnly?> Ended);

    private sealed record ProductsBefore(IReadOnlyList<ProductDraft> Changed, IReadOnlyList<string> Added);

    public IReadOnlyList<BulkChangeRecord> Latest(BulkKind kind) => db.BulkChanges.AsNoTracking().Where(c => c.Kind == kind).OrderByDescending(c => c.Id).Take(10).ToArray();

    /// <summary>Keeps a file whose every row is sound, to be looked at.</summary>
    /// <param name="isWhole">For products: whether those the file does not have are to go.</param>
    /// <param name="from">For terms: the day from which they hold.</param>
    /// <returns>Its id, or every fault of the file, and then nothing is kept.</returns>
    /// <exception cref="RefusedException">No such file at all.</exception>
    public (int? Id, IReadOnlyList<RowFault> Faults) Propose(BulkKind kind, string fileName, string content, bool isWhole, DateOnly? from, string by)
    {
        if (kind == BulkKind.Terms && (from is null || from <= clock.Today))
        {
            throw new RefusedException("Say from which day the terms hold, tomorrow at the earliest; for a day in the past write the agreement's next version, which is rehearsed first.", "From");
        }
        var record = new BulkChangeRecord { Kind = kind, FileName = Path.GetFileName(fileName), Content = kind == BulkKind.Payees ? Convert.ToBase64String(@sealed.CloseText(content)) : content, IsWhole = isWhole, From = kind == BulkKind.Terms ? from : null, By = by, At = clock.GetUtcNow() };
        BulkDifferences differences;
        try
        {
            differences = Compare(record);
        }
        catch (CsvFileException unreadable)
        {
            throw new RefusedException(unreadable.Message, "File");
        }
        if (differences.Faults.Count > 0) return (null, differences.Faults);
        db.BulkChanges.Add(record);
        db.SaveChanges();
        return (record.Id, []);
    }

    public BulkView? Find(int id) => db.BulkChanges.AsNoTracking().FirstOrDefault(c => c.Id == id) is { } record
        ? new BulkView(record, record.State == BulkState.Shown ? Compare(record) : new BulkDifferences([], 0, [], []))
        : null;

    /// <exception cref="RefusedException">It has been applied or discarded, or no longer fits the book.</exception>
    public void Apply(int id, string by)
    {
        using var change = rulesChange.Begin();
        var record = db.BulkChanges.Known(c => c.Id == id);
        if (record.State != BulkState.Shown) throw new RefusedException("This file has been dealt with already.");
        var differences = Compare(record);
        if (differences.Faults is [var fault, ..]) throw new RefusedException($"The book has changed since the file was shown; row {fault.Row}, {fault}.");
        switch (record.Kind)
        {
            case BulkKind.Products: ApplyProducts(record, by); break;
            case BulkKind.Payees: record.Before = payees.Apply(Text(record), by); break;
            default: ApplyTerms(record, by); break;
        }
        record.State = BulkState.Applied;
        if (record.Kind == BulkKind.Payees) record.Content = "";
        audit.Note(by, "apply", record.FileName);
        change.Commit();
    }

    /// <summary>Puts products and payees back as they were; withdraws terms that are not in force yet.</summary>
    /// <exception cref="RefusedException">It is not applied, a product it added has been sold, or the terms have come into force.</exception>
    public void Undo(int id, string by)
    {
        using var change = rulesChange.Begin();
        var record = db.BulkChanges.Known(c => c.Id == id);
        if (record is not { State: BulkState.Applied, Before: { } text }) throw new RefusedException("Only a file that is applied can be undone.");
        if (record.Kind == BulkKind.Terms)
        {
            UndoTerms(record, JsonSerializer.Deserialize<TermsMade>(text)!, by);
            change.Commit();
            return;
        }
        if (record.Kind == BulkKind.Payees) payees.Undo(text, by);
        else UndoProducts(JsonSerializer.Deserialize<ProductsBefore>(text)!, by);
        record.State = BulkState.Undone;
        audit.Note(by, "undo", record.FileName);
        change.Commit();
    }

    private void UndoProducts(ProductsBefore before, string by)
    {
        foreach (var added in before.Added) Remove(added);
        foreach (var changed in before.Changed) Put(changed, by);
    }

    private void UndoTerms(BulkChangeRecord record, TermsMade made, string by)
    {
        if (record.From <= clock.Today) throw new RefusedException($"These terms have been in force since {record.From.Value.InWords()}; publish the versions before them anew.");
        foreach (var version in made.Versions.Where(v => !db.WithdrawnVersions.Any(w => w.VersionId == v))) agreements.Withdraw(version, by);
        db.PersonalTerms.RemoveRange(db.PersonalTerms.Where(t => made.Personal.Contains(t.Id)));
        var ended = made.Ended.Keys.ToArray();
        foreach (var term in db.PersonalTerms.Where(t => ended.Contains(t.Id))) term.To = made.Ended[term.Id];
        record.State = BulkState.Undone;
        audit.Note(by, "undo", record.FileName);
    }

    public void Discard(int id, string by)
    {
        var record = db.BulkChanges.Known(c => c.Id == id);
        if (record.State != BulkState.Shown) return;
        record.State = BulkState.Discarded;
        if (record.Kind == BulkKind.Payees) record.Content = "";
        audit.Note(by, "discard", record.FileName);
        db.SaveChanges();
    }

    private MemoryStream Text(BulkChangeRecord record) => new(Encoding.UTF8.GetBytes(record.Kind == BulkKind.Payees ? @sealed.OpenText(Convert.FromBase64String(record.Content)) : record.Content));

    private BulkDifferences Compare(BulkChangeRecord record)
    {
        using var file = Text(record);
        return record.Kind switch { BulkKind.Products => CompareProducts(record, file), BulkKind.Payees => payees.Compare(file), _ => CompareTerms(record, file) };
    }

    private BulkDifferences CompareProducts(BulkChangeRecord record, Stream file)
    {
        var (read, faults, extra) = productsFile.Read(file);
        var gone = Gone(record, read);
        var differences = read.Select(r => new BulkDifference(r.Was is null ? DifferenceKind.Added : DifferenceKind.Changed, r.Becomes.Id, productsFile.Parts(r.Was, r.Becomes)))
            .Where(d => d.Parts.Count > 0).Concat(gone.Select(g => new BulkDifference(DifferenceKind.Gone, g.Id, productsFile.Parts(g, null)))).ToArray();
        var sold = gone.Where(g => products.Orders(g.Id) > 0).Select(g => new RowFault(0, "product", g.Id, "a row, since it has orders and cannot go"));
        return new BulkDifferences(differences, read.Count + gone.Length - differences.Length, [.. faults, .. sold], extra);
    }

    private ProductDraft[] Gone(BulkChangeRecord record, IReadOnlyList<(ProductDraft? Was, ProductDraft Becomes)> read)
    {
        if (!record.IsWhole) return [];
        var kept = read.Select(r => r.Becomes.Id).ToHashSet();
        return db.Products.AsNoTracking().Select(p => p.Id).ToArray().Where(id => !kept.Contains(id)).Order(StringComparer.Ordinal).Select(id => products.Draft(id)!).ToArray();
    }

    private void ApplyProducts(BulkChangeRecord record, string by)
    {
        using var file = Text(record);
        var (read, _, _) = productsFile.Read(file);
        var changed = read.Where(r => productsFile.Parts(r.Was, r.Becomes).Count > 0).ToArray();
        var gone = Gone(record, read);
        record.Before = JsonSerializer.Serialize(new ProductsBefore([.. changed.Select(c => c.Was).OfType<ProductDraft>(), .. gone], [.. changed.Where(c => c.Was is null).Select(c => c.Becomes.Id)]));
        foreach (var product in gone) Remove(product.Id);
        foreach (var difference in changed) Put(difference.Becomes, by);
    }

    private void Put(ProductDraft draft, string by)
    {
        var known = db.Products.Any(p => p.Id == draft.Id);
        var (product, name, plan, faults) = products.Read(known ? draft.Id : null, draft);
        if (faults is [var fault, ..]) throw new RefusedException($"{draft.Id}: {fault.Message}");
        products.Put(product!, name, plan!, by);
    }

    private void Remove(string id)
    {
        if (inUse.Of(new ProductId(id)) is { } use) throw new RefusedException($"{id} cannot be taken out of the catalogue: {use}.");
        db.Products.Remove(db.Products.Include(p => p.Variants).Include(p => p.Collections).AsSplitQuery().Single(p => p.Id == id));
    }

    private BulkDifferences CompareTerms(BulkChangeRecord record, Stream file)
    {
        var (read, faults, extra) = termsFile.Read(file);
        var book = cache.Get(db);
        var naming = book.Naming();
        var differences = new List<BulkDifference>();
        var clashes = new List<RowFault>();
        var same = 0;
        foreach (var terms in read)
        {
            var was = TermsOf(terms, record.From!.Value).ToDictionary(t => t.Scope, t => TermWords.Term(t, terms.Agreement.Currency, naming));
            var becomes = terms.Terms.ToDictionary(t => t.Scope, t => TermWords.Term(t, terms.Agreement.Currency, naming));
            // Only an agreement's own terms are a whole that something can be missing from.
            var scopes = terms.Payee is null ? was.Keys.Union(becomes.Keys) : becomes.Keys;
            var parts = scopes.Select(s => (What: TermWords.Scope(s, naming), From: was.GetValueOrDefault(s, ""), To: becomes.GetValueOrDefault(s, ""))).Where(p => p.From != p.To).ToArray();
            var subject = book.AgreementName(terms.Agreement.Id.Value) + (terms.Payee is { } payee ? ", " + book.PayeeName(payee.Id.Value) : "");
            if (parts.Length == 0) same++;
            else differences.Add(new BulkDifference(was.Count == 0 ? DifferenceKind.Added : DifferenceKind.Changed, subject, parts));
            if (parts.Length > 0 && terms.Payee is null && terms.Agreement.Versions.Any(v => v.From == record.From))
            {
                clashes.Add(new RowFault(0, "agreement", terms.Agreement.Id.Value, $"another day: there is a version from {record.From.Value.InWords()} already"));
            }
        }
        return new BulkDifferences(differences, same, [.. faults, .. clashes], extra);
    }

    private static IEnumerable<Term> TermsOf(TermsRead read, DateOnly on) => read.Payee is { } payee
        ? payee.PersonalTerms.Where(t => t.Agreement == read.Agreement.Id && t.InForceOn(on)).Select(t => t.Term).DistinctBy(t => t.Scope)
        : read.Agreement.VersionOn(on)?.Terms.DistinctBy(t => t.Scope) ?? [];

    private void ApplyTerms(BulkChangeRecord record, string by)
    {
        using var file = Text(record);
        var (book, from) = (cache.Get(db), record.From!.Value);
        var (lastVersion, lastPersonal) = (db.AgreementVersions.Max(v => (int?)v.Id) ?? 0, db.PersonalTerms.Max(t => (int?)t.Id) ?? 0);
        var ends = db.PersonalTerms.AsNoTracking().ToDictionary(t => t.Id, t => t.To);
        foreach (var terms in termsFile.Read(file).Terms)
        {
            var was = TermsOf(terms, from).ToArray();
            if (terms.Payee is { } payee)
            {
                foreach (var term in terms.Terms.Where(t => !was.Any(w => TermsEqual(w, t)))) personal.Enter(payee.Id.Value, terms.Agreement.Id.Value, term, from);
            }
            else if (was.Length != terms.Terms.Count || !was.Zip(terms.Terms).All(t => TermsEqual(t.First, t.Second)))
            {
                var version = (terms.Agreement.VersionOn(from) ?? new AgreementVersion { From = from, Terms = [] }) with { From = from, Terms = terms.Terms };
                agreements.Enter(terms.Agreement, version, by, book.AgreementName(terms.Agreement.Id.Value));
            }
        }
        db.SaveChanges();
        record.Before = JsonSerializer.Serialize(new TermsMade(
            [.. db.AgreementVersions.Where(v => v.Id > lastVersion).Select(v => v.Id)], [.. db.PersonalTerms.Where(t => t.Id > lastPersonal).Select(t => t.Id)],
            db.PersonalTerms.AsNoTracking().AsEnumerable().Where(t => ends.TryGetValue(t.Id, out var to) && to != t.To).ToDictionary(t => t.Id, t => ends[t.Id])));
    }

    private static bool TermsEqual(Term one, Term other) => one.Scope == other.Scope && one.Cases.SequenceEqual(other.Cases);
}
