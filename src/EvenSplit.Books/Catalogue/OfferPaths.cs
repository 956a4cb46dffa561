using EvenSplit.Books.Forms;
using EvenSplit.Books.Joining;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Catalogue;

/// <summary>A path as typed. A step that names no product is left out.</summary>
public sealed record PathDraft
{
    public string Name { get; init; } = "";
    public List<StepDraft> Steps { get; init; } = [];
}

/// <summary>A step as typed.</summary>
public sealed record StepDraft
{
    public string Product { get; init; } = "";
    /// <summary>The number of the step that follows, from 1; null ends the path.</summary>
    public int? OnAccept { get; init; }
    public int? OnDecline { get; init; }
}

/// <summary>Lists, shows and changes offer paths.</summary>
public sealed class OfferPaths(BookDbContext db, BookCache cache, PathApprovals approvals, AuditLog audit) : IUseCase
{
    public IReadOnlyList<OfferPath> List() => db.OfferPaths.AsNoTracking().Include(p => p.Steps).OrderBy(p => p.Name).AsEnumerable().Select(Read).ToArray();

    public OfferPath? Find(string id) => db.OfferPaths.AsNoTracking().Include(p => p.Steps).FirstOrDefault(p => p.Id == id) is { } record ? Read(record) : null;

    public static PathDraft Draft(OfferPath path) => new()
    {
        Name = path.Name,
        Steps = [.. path.Steps.Select(s => new StepDraft { Product = s.Product.Value, OnAccept = s.OnAccept + 1, OnDecline = s.OnDecline + 1 })],
    };

    /// <summary>What was typed as a path, to draw, with what is wrong with it and what is merely unusual.</summary>
    public (OfferPath Path, IReadOnlyList<FieldFault> Faults, IReadOnlyList<string> Unusual) Review(PathDraft draft)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        fields.Required("Name", draft.Name, "Give the path a name.");
        if (draft.Steps.Count == 0 || draft.Steps.All(s => s.Product.Length == 0)) fields.Refuse("Steps[0].Product", "Choose the first offer.");
        for (var i = 0; i < draft.Steps.Count; i++)
        {
            var step = draft.Steps[i];
            if (step.Product.Length == 0 && i < draft.Steps.Count - 1) fields.Refuse($"Steps[{i}].Product", "Choose what is offered, or take the step out.");
            else if (step.Product.Length > 0 && book.Rules.FindProduct(new ProductId(step.Product)) is null) fields.Refuse($"Steps[{i}].Product", $"There is no product '{step.Product}'.");
        }
        var kept = draft.Steps.Where(s => s.Product.Length > 0).ToArray();
        int? Known(int? number) => number is { } n && n >= 1 && n <= kept.Length ? n - 1 : null;
        var path = new OfferPath("", draft.Name.Trim(), [.. kept.Select(s => new OfferStep(new ProductId(s.Product), Known(s.OnAccept), Known(s.OnDecline)))]);
        if (path.Loop() is { } loop)
        {
            fields.Refuse($"Steps[{loop}].OnAccept", "From this step the answers lead back to it; a buyer would never come to the end.");
            return (path with { Steps = [.. path.Steps.Select(s => s with { OnAccept = null, OnDecline = null })] }, fields.Faults, []);
        }
        return (path, fields.Faults, [.. Unusual(book, path)]);
    }

    /// <param name="id">The path to change; null adds one.</param>
    /// <returns>Its id, or the fields at fault.</returns>
    public (string? Id, IReadOnlyList<FieldFault> Faults) Save(string? id, PathDraft draft, string by)
    {
        var (path, faults, _) = Review(draft);
        if (faults.Count > 0) return (null, faults);
        using var transaction = db.Database.BeginTransaction();
        var record = id is null ? null : db.OfferPaths.Include(p => p.Steps).Known(p => p.Id == id);
        if (record is null)
        {
            record = new OfferPathRecord { Id = Ids.Free(path.Name, taken => db.OfferPaths.Any(p => p.Id == taken)), Name = "" };
            db.OfferPaths.Add(record);
        }
        record.Name = path.Name;
        record.Steps.Clear();
        db.SaveChanges();
        record.Steps.AddRange(path.Steps.Select((s, i) => new OfferStepRecord { Position = i, Product = s.Product.Value, OnAccept = s.OnAccept, OnDecline = s.OnDecline }));
        audit.Note(by, "save offer path", path.Name);
        db.SaveChanges();
        approvals.Follow(record.Id, [.. path.Steps.Select(s => s.Product.Value).Distinct()], by);
        transaction.Commit();
        return (record.Id, []);
    }

    public void Remove(string id, string by)
    {
        var record = db.OfferPaths.Include(p => p.Steps).Known(p => p.Id == id);
        db.OfferPaths.Remove(record);
        audit.Note(by, "remove offer path", record.Name);
        db.SaveChanges();
    }

    private static IEnumerable<string> Unusual(OpenedBook book, OfferPath path)
    {
        var depths = path.Depths();
        for (var i = 0; i < path.Steps.Count; i++)
        {
            var name = book.ProductName(path.Steps[i].Product.Value);
            if (depths[i] is null) yield return $"No answer leads to step {i + 1}, {name}; nobody will ever see it.";
            if (path.Steps[i].OnAccept is { } next && path.Steps[i].OnAccept == path.Steps[i].OnDecline) yield return $"After step {i + 1}, {name}, both answers lead to step {next + 1}.";
            if (path.Steps.Take(i).Any(s => s.Product == path.Steps[i].Product)) yield return $"{name} is offered more than once.";
        }
    }

    private static OfferPath Read(OfferPathRecord record) =>
        new(record.Id, record.Name, [.. record.Steps.OrderBy(s => s.Position).Select(s => new OfferStep(new ProductId(s.Product), s.OnAccept, s.OnDecline))]);
}
