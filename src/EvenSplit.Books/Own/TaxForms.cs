using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>A tax form as it is listed.</summary>
public sealed record TaxFormRow(int Id, string Payee, string Name, string FileName, DateTimeOffset At, string? CheckedBy, string Refusal);

/// <summary>Tax forms that payees send and the lead checks. Their files are kept encrypted.</summary>
public sealed class TaxForms(BookDbContext db, BookCache cache, BookClock clock, Sealed @sealed, DetailMails mails, AuditLog audit) : IUseCase
{
    public const int MostBytes = 4 * 1024 * 1024;

    private const int MostWaiting = 3, LongestName = 120;

    private static readonly (string Ending, string Type, byte[] Begins)[] Kinds = [(".pdf", "application/pdf", "%PDF-"u8.ToArray()), (".png", "image/png", [0x89, 0x50, 0x4E, 0x47]), (".jpg", "image/jpeg", [0xFF, 0xD8, 0xFF]), (".jpeg", "image/jpeg", [0xFF, 0xD8, 0xFF])];

    /// <exception cref="RefusedException">It is no PDF and no picture, too large, or others wait to be checked.</exception>
    public void Send(string payee, string fileName, byte[] content)
    {
        var name = Path.GetFileName(fileName.Replace('\\', '/'));
        if (name.Length is 0 or > LongestName || name.Any(char.IsControl)) throw new RefusedException($"Give the file a name of at most {LongestName} characters.", "File");
        if (content.Length > MostBytes) throw new RefusedException($"Send a file of at most {MostBytes / 1024 / 1024} MB.", "File");
        if (KindOf(name, content) is null) throw new RefusedException("Send a PDF, or a picture as PNG or JPEG.", "File");
        if (db.TaxForms.Count(f => f.Payee == payee && f.CheckedAt == null) >= MostWaiting) throw new RefusedException("The forms you sent have still to be checked.", "File");
        db.TaxForms.Add(new TaxFormRecord { Payee = payee, FileName = name, Content = @sealed.CloseFile(content), At = clock.GetUtcNow() });
        audit.Note(cache.Get(db).PayeeName(payee), "send a tax form", payee);
        db.SaveChanges();
    }

    /// <summary>A payee's, the latest first.</summary>
    public IReadOnlyList<TaxFormRow> Of(string payee) => Rows(db.TaxForms.Where(f => f.Payee == payee).OrderByDescending(f => f.Id));

    /// <summary>Those that nobody has checked, the oldest first; then the last checked.</summary>
    public IReadOnlyList<TaxFormRow> All() => [.. Rows(db.TaxForms.Where(f => f.CheckedAt == null).OrderBy(f => f.Id)), .. Rows(db.TaxForms.Where(f => f.CheckedAt != null).OrderByDescending(f => f.Id).Take(50))];

    /// <param name="payee">Whose it has to be; null for anybody's.</param>
    /// <returns>Null where there is none.</returns>
    public (string FileName, string Type, byte[] Content)? File(int id, string? payee)
    {
        if (db.TaxForms.AsNoTracking().FirstOrDefault(f => f.Id == id && (payee == null || f.Payee == payee)) is not { } form) return null;
        var content = @sealed.OpenFile(form.Content);
        return (form.FileName, KindOf(form.FileName, content)!, content);
    }

    /// <summary>Takes it: what is on file says so from then on.</summary>
    /// <param name="kind">Which form of which year, as it stands on the payee's page.</param>
    /// <exception cref="RefusedException">It is checked already, or nothing is said.</exception>
    public void Take(int id, string kind, string by)
    {
        if (kind.Trim().Length == 0) throw new RefusedException("Say which form of which year it is.", "Kind");
        using var transaction = db.Database.BeginTransaction();
        var form = Unchecked(id);
        (form.CheckedBy, form.CheckedAt) = (by, clock.GetUtcNow());
        db.Payees.Known(p => p.Id == form.Payee).TaxForm = kind.Trim();
        audit.Note(by, "take a tax form", form.Payee);
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Does not take it; the payee reads why, here and by mail.</summary>
    /// <exception cref="RefusedException">It is checked already, or no reason is given.</exception>
    public void Refuse(int id, string why, string by)
    {
        if (why.Trim().Length == 0) throw new RefusedException("Say why; they read it.", "Why");
        using var transaction = db.Database.BeginTransaction();
        var form = Unchecked(id);
        (form.CheckedBy, form.CheckedAt, form.Refusal) = (by, clock.GetUtcNow(), why.Trim());
        audit.Note(by, "refuse a tax form", form.Payee);
        db.SaveChanges();
        transaction.Commit();
        mails.Tell(form.Payee, $"tax-form-{id}", $"the tax form {form.FileName} was not taken: {form.Refusal} Send another on your pages.");
    }

    private TaxFormRecord Unchecked(int id)
    {
        var form = db.TaxForms.Known(f => f.Id == id);
        return form.CheckedAt is null ? form : throw new RefusedException($"{form.CheckedBy} has checked it already.");
    }

    private TaxFormRow[] Rows(IQueryable<TaxFormRecord> forms)
    {
        var book = cache.Get(db);
        return [.. forms.Select(f => new { f.Id, f.Payee, f.FileName, f.At, f.CheckedBy, f.Refusal }).AsEnumerable().Select(f => new TaxFormRow(f.Id, f.Payee, book.PayeeName(f.Payee), f.FileName, f.At, f.CheckedBy, f.Refusal))];
    }

    private static string? KindOf(string name, byte[] content) => Kinds.Where(k => name.EndsWith(k.Ending, StringComparison.OrdinalIgnoreCase) && content.AsSpan().StartsWith(k.Begins)).Select(k => k.Type).FirstOrDefault();
}
