using System.Text.RegularExpressions;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Mail;

/// <summary>The mails that the application writes by itself: as they come with it, or in the lead's own words.</summary>
public sealed partial class MailTemplates(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    private const int LongestSubject = 200, LongestText = 20_000;

    /// <summary>What may stand in braces in each, and what it stands for.</summary>
    public static IReadOnlyList<(string Field, string Meaning)> FieldsOf(MailKind kind) => kind switch
    {
        MailKind.Confirm => [Name, Book, Agreement, ("link", "where they show that the address is theirs")],
        MailKind.Welcome => [Name, Book, Agreement, ("code", "their coupon code"), ("link", "their link to the shop"), ("hold", "how long what they earn is held at first"), ("gift", "what they get as they join")],
        MailKind.Declined => [Name, Book, Agreement, ("reason", "what whoever decided wrote")],
        MailKind.Advice => [Name, Book, ("asof", "the day the statement is of"), ("payment", "what it says of the payment")],
        MailKind.DetailsChanged => [Name, Book, ("change", "what is to change, and from when")],
        MailKind.NewVersion => [Name, Book, Agreement, ("from", "the day from which it holds"), ("link", "where they read and accept it")],
        MailKind.AskedBack => [Name, Book, Agreement, ("question", "what is asked"), ("link", "where they answer")],
        _ => [Name, Book, Agreement, ("link", "where they accept")],
    };

    private static readonly (string, string) Name = ("name", "their name"), Book = ("book", "the name of the book"), Agreement = ("agreement", "the agreement's name");

    private static (string Subject, string Text) Own(MailKind kind) => kind switch
    {
        MailKind.Confirm => ("{book}: confirm your address", "Dear {name},\n\nsomebody, we think you, asked to take part in {agreement}. Open this within two days to show that the address is yours:\n\n{link}\n\nIf it was not you, do nothing: nothing is kept.\n\n{book}\n"),
        MailKind.Welcome => ("{book}: welcome to {agreement}", "Dear {name},\n\nyou take part in {agreement}.\n\nYour code: {code}\nYour link: {link}\n\n{hold}\n{gift}\n\n{book}\n"),
        MailKind.Declined => ("{book}: about your request", "Dear {name},\n\nwe cannot take you into {agreement}: {reason}\n\nYou may ask again for something else.\n\n{book}\n"),
        MailKind.AskedBack => ("{book}: a question about your request", "Dear {name},\n\nbefore we decide on {agreement}, please tell us: {question}\n\nAnswer here:\n{link}\n\n{book}\n"),
        MailKind.Advice => ("{book}: your statement as of {asof}", "Dear {name},\n\n{payment} The statement is attached; every entry on it names the order it comes from.\n\n{book}\n"),
        MailKind.DetailsChanged => ("{book}: your details", "Dear {name},\n\n{change}\n\nIf this was not you, answer this mail at once: until then nothing is lost.\n\n{book}\n"),
        MailKind.NewVersion => ("{book}: {agreement} is to be accepted", "Dear {name},\n\n{agreement} has a new text, which holds from {from}. Read it and accept it here:\n\n{link}\n\n{book}\n"),
        _ => ("{book}: take part in {agreement}", "Dear {name},\n\nwe would like you to take part in {agreement}. Everything is ready; open this, read what is agreed, and accept:\n\n{link}\n\n{book}\n"),
    };

    /// <summary>As it is written today, with its fields in braces.</summary>
    public (string Subject, string Text) Of(MailKind kind) => db.MailTemplates.AsNoTracking().FirstOrDefault(t => t.Kind == kind) is { } own ? (own.Subject, own.Text) : Own(kind);

    /// <summary>The mail with its fields filled in; the book's name is put in by itself.</summary>
    public (string Subject, string Text) Filled(MailKind kind, params (string Field, string Value)[] values)
    {
        var (subject, text) = Of(kind);
        var all = values.Append(("book", cache.Get(db).Record.Name)).ToDictionary(v => v.Item1, v => v.Item2);
        return (Fill(subject, all), Fill(text, all));
    }

    /// <summary>Puts values in the place of fields, once: a value that looks like a field stays as it is.</summary>
    public static string Fill(string text, IReadOnlyDictionary<string, string> values) => Field().Replace(text, field => values.GetValueOrDefault(field.Groups[1].Value, field.Value));

    /// <summary>Writes a mail anew.</summary>
    /// <returns>The fields at fault; none where it is kept.</returns>
    public IReadOnlyList<FieldFault> Save(MailKind kind, string subject, string text, string by)
    {
        var fields = new FieldReader();
        if (fields.Required("Subject", subject, "Give the mail a subject.").Length > LongestSubject || subject.Any(char.IsControl)) fields.Refuse("Subject", $"Write at most {LongestSubject} characters on one line.");
        if (fields.Required("Text", text, "Write what the mail says.").Length > LongestText) fields.Refuse("Text", $"Write at most {LongestText} characters.");
        foreach (var (field, of) in new[] { ("Subject", subject), ("Text", text) })
        {
            if (Field().Matches(of).Select(m => m.Groups[1].Value).FirstOrDefault(f => FieldsOf(kind).All(k => k.Field != f)) is { } unknown) fields.Refuse(field, $"Nothing is put in the place of {{{unknown}}}; there is {string.Join(", ", FieldsOf(kind).Select(f => $"{{{f.Field}}}"))}.");
        }
        if (FieldsOf(kind).Any(f => f.Field == "link") && !text.Contains("{link}", StringComparison.Ordinal)) fields.Refuse("Text", "Without {link} they have nothing to open.");
        if (fields.Faults.Count > 0) return fields.Faults;
        if (db.MailTemplates.FirstOrDefault(t => t.Kind == kind) is { } own) (own.Subject, own.Text) = (subject.Trim(), text);
        else db.MailTemplates.Add(new MailTemplateRecord { Kind = kind, Subject = subject.Trim(), Text = text });
        audit.Note(by, "write a mail", kind.ToString().ToLowerInvariant());
        db.SaveChanges();
        return [];
    }

    /// <summary>As it came with the application.</summary>
    public void PutBack(MailKind kind, string by)
    {
        db.MailTemplates.Where(t => t.Kind == kind).ExecuteDelete();
        audit.NoteAlone(by, "put a mail back to its first words", kind.ToString().ToLowerInvariant());
    }

    [GeneratedRegex(@"\{([a-z]+)\}")]
    private static partial Regex Field();
}
