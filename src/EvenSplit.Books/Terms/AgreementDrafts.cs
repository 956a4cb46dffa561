using System.Text.Json;
using System.Text.Json.Serialization;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>A draft in the list.</summary>
/// <param name="AgreementId">The agreement it is the next version of; null for a new one.</param>
public sealed record DraftSummary(int Id, string? AgreementId, string Name, DateTimeOffset SavedAt, string SavedBy);

/// <summary>Keeps agreements that are still being written. A draft may be faulty; publishing it looks at that.</summary>
public sealed class AgreementDrafts(BookDbContext db, BookClock clock, AuditLog audit) : IUseCase
{
    internal static readonly JsonSerializerOptions Json = new() { Converters = { new JsonStringEnumConverter() } };

    public IReadOnlyList<DraftSummary> List() => db.AgreementDrafts.AsNoTracking().OrderByDescending(d => d.SavedAt)
        .Select(d => new DraftSummary(d.Id, d.AgreementId, d.Name, d.SavedAt, d.SavedBy)).ToArray();

    public AgreementDraft? Find(int id) => db.AgreementDrafts.AsNoTracking().FirstOrDefault(d => d.Id == id) is { } record ? Read(record.Document) : null;

    /// <param name="id">The draft it takes the place of; null for a new one, or where that one is gone.</param>
    /// <param name="agreementId">The agreement it is the next version of.</param>
    public int Save(int? id, string? agreementId, AgreementDraft draft, string by)
    {
        var name = draft.Name.Trim().Length > 0 ? draft.Name.Trim() : "No name yet";
        var record = id is null ? null : db.AgreementDrafts.FirstOrDefault(d => d.Id == id);
        if (record is null) db.AgreementDrafts.Add(record = new AgreementDraftRecord { AgreementId = agreementId, Name = name, Document = "", SavedBy = by });
        (record.Name, record.Document, record.SavedAt, record.SavedBy) = (name, Write(draft), clock.GetUtcNow(), by);
        audit.Note(by, "save draft", name);
        db.SaveChanges();
        return record.Id;
    }

    public void Discard(int id, string by)
    {
        if (db.AgreementDrafts.FirstOrDefault(d => d.Id == id) is not { } record) return;
        db.AgreementDrafts.Remove(record);
        audit.Note(by, "discard draft", record.Name);
        db.SaveChanges();
    }

    internal static string Write(AgreementDraft draft) => JsonSerializer.Serialize(draft, Json);

    internal static AgreementDraft Read(string document) => JsonSerializer.Deserialize<AgreementDraft>(document, Json)!;
}
