using EvenSplit.Books.Forms;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>A text or picture as typed.</summary>
public sealed record MaterialDraft
{
    /// <summary>For those on it; empty for all.</summary>
    public string Agreement { get; init; } = "";
    public string Name { get; init; } = "";
    public string Text { get; init; } = "";
    public DateOnly? From { get; init; }
    public DateOnly? To { get; init; }
}

/// <summary>A text with somebody's own link and code put in.</summary>
public sealed record OwnMaterial(int Id, string Name, string Text, bool HasPicture);

/// <summary>Texts and pictures that the lead offers and payees use, with their own link put in.</summary>
public sealed class Materials(BookDbContext db, BookClock clock, AuditLog audit) : IUseCase
{
    public const int MostBytes = 1024 * 1024;

    private const int LongestName = 100, LongestText = 5000, MostShown = 100;

    private static readonly (string Type, byte[] Begins)[] Kinds = [("image/png", [0x89, 0x50, 0x4E, 0x47]), ("image/jpeg", [0xFF, 0xD8, 0xFF])];

    /// <summary>All, those in use first; without their pictures.</summary>
    public IReadOnlyList<MaterialRecord> List()
    {
        var today = clock.Today;
        return [.. db.Materials.AsNoTracking().Select(m => new MaterialRecord { Id = m.Id, AgreementId = m.AgreementId, Name = m.Name, Text = m.Text, PictureType = m.PictureType, From = m.From, To = m.To }).AsEnumerable()
            .OrderBy(m => m.To < today).ThenBy(m => m.Name, StringComparer.OrdinalIgnoreCase)];
    }

    /// <param name="picture">Null for none.</param>
    /// <returns>The fields at fault; none where it is kept.</returns>
    public IReadOnlyList<FieldFault> Add(MaterialDraft draft, byte[]? picture, string by)
    {
        var fields = new FieldReader();
        if (fields.Required("Name", draft.Name, "Give it a name.").Length > LongestName) fields.Refuse("Name", $"Write at most {LongestName} characters.");
        if (draft.Text.Length > LongestText) fields.Refuse("Text", $"Write at most {LongestText} characters.");
        if (draft.Text.Trim().Length == 0 && picture is null) fields.Refuse("Text", "Write a text, or add a picture.");
        if (draft.To < draft.From) fields.Refuse("To", "That is before it begins.");
        if (draft.Agreement.Length > 0 && !db.Agreements.Any(a => a.Id == draft.Agreement)) fields.Refuse("Agreement", "Choose an agreement.");
        var type = picture is null ? null : Kinds.Where(k => picture.AsSpan().StartsWith(k.Begins)).Select(k => k.Type).FirstOrDefault();
        if (picture is { Length: > MostBytes }) fields.Refuse("Picture", "A picture has at most 1 MB.");
        else if (picture is not null && type is null) fields.Refuse("Picture", "Add a picture as PNG or JPEG.");
        if (fields.Faults.Count > 0) return fields.Faults;
        db.Materials.Add(new MaterialRecord { AgreementId = draft.Agreement.Length > 0 ? draft.Agreement : null, Name = draft.Name.Trim(), Text = draft.Text.Trim(), Picture = picture, PictureType = type, From = draft.From ?? clock.Today, To = draft.To });
        audit.Note(by, "add material", draft.Name.Trim());
        db.SaveChanges();
        return [];
    }

    /// <summary>From today on nobody is offered it.</summary>
    public void End(int id, string by)
    {
        var material = db.Materials.Known(m => m.Id == id);
        material.To = clock.Today.AddDays(-1);
        audit.Note(by, "end material", material.Name);
        db.SaveChanges();
    }

    /// <summary>What a payee is offered today.</summary>
    /// <param name="link">Their link.</param>
    /// <param name="code">Their code; empty where they have none.</param>
    public IReadOnlyList<OwnMaterial> Of(string payee, string link, string code)
    {
        var values = new Dictionary<string, string> { ["link"] = link, ["code"] = code };
        return [.. Offered(payee).OrderBy(m => m.Name).Take(MostShown).Select(m => new { m.Id, m.Name, m.Text, m.PictureType }).AsEnumerable().Select(m => new OwnMaterial(m.Id, m.Name, MailTemplates.Fill(m.Text, values), m.PictureType is not null))];
    }

    /// <returns>Null where they are offered none.</returns>
    public (byte[] Content, string Type)? Picture(string payee, int id) => Offered(payee).Where(m => m.Id == id && m.Picture != null).Select(m => new { m.Picture, m.PictureType }).FirstOrDefault() is { } found ? (found.Picture!, found.PictureType!) : null;

    private IQueryable<MaterialRecord> Offered(string payee)
    {
        var today = clock.Today;
        return db.Materials.AsNoTracking().Where(m => m.From <= today && (m.To == null || m.To >= today)
            && (m.AgreementId == null || db.Memberships.Any(x => x.PayeeId == payee && x.AgreementId == m.AgreementId && x.From <= today && (x.To == null || x.To > today))));
    }
}
