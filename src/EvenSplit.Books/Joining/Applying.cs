using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>An agreement that takes new people, as the public sees it.</summary>
/// <param name="Text">What is agreed, as Markdown; empty where there is none.</param>
/// <param name="VersionId">Whose text it is.</param>
public sealed record OpenAgreement(string Id, string Name, string Intro, string Text, int? VersionId, IReadOnlyList<JoiningQuestion> Questions);

/// <summary>What somebody says who asks to take part.</summary>
public sealed record ApplicationDraft
{
    public string Name { get; init; } = "";
    public string Email { get; init; } = "";
    public string Country { get; init; } = "";
    public string Sites { get; init; } = "";
    public string Note { get; init; } = "";
    public List<string> Answers { get; init; } = [];
    /// <summary>Whether they accept what is agreed; needed where the agreement has a text.</summary>
    public bool Accepts { get; init; }
}

/// <summary>A question and what was answered.</summary>
public sealed record Answered(string Question, string Answer);

/// <summary>Asking to take part, by anybody. Nothing tells whether an address is known.</summary>
public sealed class Applying(BookDbContext db, BookCache cache, BookClock clock, JoiningMails mails, ApplicationDecisions decisions, AuditLog audit) : IUseCase
{
    /// <summary>So many ask at one time without having shown that their address is theirs; so many of one address.</summary>
    private const int MostUnconfirmed = 5000, MostOfOneAddress = 3;

    private const int LongestName = 100, LongestAddress = 254, LongestText = 4000, LongestShort = 300, MostSites = 10;

    /// <summary>How long the mailed link opens.</summary>
    private static readonly TimeSpan LinkLasts = TimeSpan.FromDays(2);

    /// <summary>Those that take new people today, by name.</summary>
    public IReadOnlyList<OpenAgreement> Open()
    {
        var (book, today) = (cache.Get(db), clock.Today);
        var withdrawn = db.WithdrawnVersions.Select(w => w.VersionId).ToHashSet();
        return [.. db.Joinings.AsNoTracking().Where(j => j.Way != JoiningWay.Nobody && j.PausedOn == null).AsEnumerable()
            .Select(j =>
            {
                var version = db.AgreementVersions.AsNoTracking().Where(v => v.AgreementId == j.AgreementId && v.From <= today).OrderByDescending(v => v.From).AsEnumerable().FirstOrDefault(v => !withdrawn.Contains(v.Id));
                return version is null ? null : new OpenAgreement(j.AgreementId, book.AgreementName(j.AgreementId), j.Intro, version.Text, version.Text.Length > 0 ? version.Id : null, JoiningDesk.QuestionsOf(j));
            })
            .OfType<OpenAgreement>().OrderBy(a => a.Name, StringComparer.OrdinalIgnoreCase)];
    }

    /// <summary>Notes that somebody asks, and mails them a link that shows the address to be theirs.</summary>
    /// <param name="from">The network address.</param>
    /// <param name="site">Where this application is reached, such as https://pay.shop.example.</param>
    /// <returns>The fields at fault; none where it is taken, or where more of it would flood somebody's mail, which is not told.</returns>
    /// <exception cref="RefusedException">The agreement takes nobody, or too many ask at this time.</exception>
    public IReadOnlyList<FieldFault> Ask(string agreement, ApplicationDraft draft, string from, string site)
    {
        var open = Open().FirstOrDefault(a => a.Id == agreement) ?? throw new RefusedException("This agreement takes nobody new at this time.");
        var token = NewToken();
        var (application, faults) = Prepared(open, draft, from, clock.GetUtcNow(), token);
        if (application is null) return faults;
        var email = application.Email;
        using var transaction = db.Database.BeginTransaction();
        var since = clock.GetUtcNow() - LinkLasts;
        db.Applications.Where(a => a.State == ApplicationState.Unconfirmed && a.AskedAt < since).ExecuteDelete();
        if (db.Applications.Count(a => a.State == ApplicationState.Unconfirmed) >= MostUnconfirmed) throw new RefusedException("Too many people ask at this time. Try again tomorrow.");
        if (db.Applications.Count(a => a.Email == email && (a.State == ApplicationState.Unconfirmed || (a.AgreementId == agreement && (a.State == ApplicationState.Waiting || a.State == ApplicationState.AskedBack)))) >= MostOfOneAddress) return [];
        db.Applications.Add(application);
        db.SaveChanges();
        mails.Confirm(application, open.Name, $"{site}/apply/confirm?token={token}");
        transaction.Commit();
        return [];
    }

    /// <summary>A payee who is signed in asks for another agreement: their address is known to be theirs.</summary>
    /// <param name="draft">Name and address are the payee's own, whatever it says.</param>
    /// <param name="from">The network address.</param>
    /// <returns>Whether they are in at once, and the fields at fault; none where it is taken.</returns>
    /// <exception cref="RefusedException">The agreement takes nobody, they are on it, or have asked already.</exception>
    public (bool IsIn, IReadOnlyList<FieldFault> Faults) AskAs(string payee, string agreement, ApplicationDraft draft, string from, string site)
    {
        var open = Open().FirstOrDefault(a => a.Id == agreement) ?? throw new RefusedException("This agreement takes nobody new at this time.");
        var known = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        if (known.Email is not { Length: > 0 } address) throw new RefusedException("The book has no address of yours.");
        var (application, faults) = Prepared(open, draft with { Name = known.Name, Email = address }, from, clock.GetUtcNow());
        if (application is null) return (false, faults);
        using (var transaction = db.Database.BeginTransaction())
        {
            if (db.Memberships.Any(m => m.PayeeId == payee && m.AgreementId == agreement && m.To == null)) throw new RefusedException("You take part in it already.");
            if (db.Applications.Any(a => a.Email == application.Email && a.AgreementId == agreement && (a.State == ApplicationState.Waiting || a.State == ApplicationState.AskedBack))) throw new RefusedException("You have asked already.");
            (application.State, application.ConfirmedAt) = (ApplicationState.Waiting, clock.GetUtcNow());
            db.Applications.Add(application);
            audit.Note(known.Name, "ask to take part", agreement);
            db.SaveChanges();
            transaction.Commit();
        }
        return (decisions.AtOnce(application.Id, site), []);
    }

    /// <summary>The address is shown to be theirs. A link used again changes nothing.</summary>
    /// <returns>Whether the link was known, and whether they are in already.</returns>
    public (bool IsKnown, bool IsIn) Confirm(string token, string site)
    {
        using var transaction = db.Database.BeginTransaction();
        if (Find(token) is not { } application) return (false, false);
        if (application.State != ApplicationState.Unconfirmed) return (true, application.State == ApplicationState.Approved);
        if (application.AskedAt < clock.GetUtcNow() - LinkLasts) return (false, false);
        (application.State, application.ConfirmedAt) = (ApplicationState.Waiting, clock.GetUtcNow());
        audit.Note(application.Name, "ask to take part", application.AgreementId);
        db.SaveChanges();
        transaction.Commit();
        return (true, decisions.AtOnce(application.Id, site));
    }

    /// <summary>What is asked back of whoever has the link; null where nothing is.</summary>
    public (string Name, string Question)? Asked(string token) => Find(token) is { State: ApplicationState.AskedBack } asked ? (asked.Name, asked.Reason) : null;

    /// <summary>Takes the answer to what was asked back; the application waits again.</summary>
    /// <exception cref="RefusedException">Nothing is asked, or the answer is empty or too long.</exception>
    public void Answer(string token, string answer)
    {
        var application = Find(token) is { State: ApplicationState.AskedBack } asked ? asked : throw new RefusedException("Nothing is asked here any more.");
        if (answer.Trim().Length is 0 or > LongestText) throw new RefusedException(answer.Trim().Length == 0 ? "Write an answer." : $"Write at most {LongestText} characters.", "Answer");
        application.Answers = JsonSerializer.Serialize(JsonSerializer.Deserialize<Answered[]>(application.Answers)!.Append(new Answered(application.Reason, answer.Trim())));
        (application.State, application.Reason) = (ApplicationState.Waiting, "");
        audit.Note(application.Name, "answer", application.AgreementId);
        db.SaveChanges();
    }

    /// <summary>What somebody says, as it is kept; null with the fields at fault.</summary>
    internal static (ApplicationRecord? Application, IReadOnlyList<FieldFault> Faults) Prepared(OpenAgreement open, ApplicationDraft draft, string from, DateTimeOffset now, string? token = null)
    {
        var (answers, email, faults) = Read(open, draft);
        return faults.Count > 0 ? (null, faults) : (new ApplicationRecord
        {
            AgreementId = open.Id,
            Name = draft.Name.Trim(),
            Email = email,
            Country = draft.Country,
            Sites = draft.Sites.Trim(),
            Note = draft.Note.Trim(),
            Answers = JsonSerializer.Serialize(answers),
            VersionId = open.VersionId,
            TokenHash = HashOf(token ?? NewToken()),
            From = from,
            AskedAt = now,
            State = ApplicationState.Unconfirmed,
        }, []);
    }

    internal static string NewToken() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));

    internal static string HashOf(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    private ApplicationRecord? Find(string token)
    {
        if (token.Length != 64) return null;
        var hash = HashOf(token);
        return db.Applications.SingleOrDefault(a => a.TokenHash == hash);
    }

    private static (Answered[] Answers, string Email, IReadOnlyList<FieldFault> Faults) Read(OpenAgreement open, ApplicationDraft draft)
    {
        var fields = new FieldReader();
        var name = fields.Required("Name", draft.Name, "Give your name, or what you are known by.");
        if (name.Length > LongestName || name.Any(char.IsControl)) fields.Refuse("Name", $"Give a name of at most {LongestName} characters.");
        var email = draft.Email.Trim().ToLowerInvariant();
        if (email.Length > LongestAddress || email.Any(c => char.IsControl(c) || !char.IsAscii(c)) || !Outbox.IsAddress(email, out _)) fields.Refuse("Email", "Give an e-mail address, such as name@shop.example.");
        if (!Countries.Codes.Contains(draft.Country)) fields.Refuse("Country", "Choose the country you are paid in.");
        var sites = draft.Sites.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (sites.Length > MostSites || sites.Any(s => !IsLink(s))) fields.Refuse("Sites", $"Give up to {MostSites} addresses, one a line, such as https://name.example.");
        if (draft.Note.Length > LongestText) fields.Refuse("Note", $"Write at most {LongestText} characters.");
        if (open.VersionId is not null && !draft.Accepts) fields.Refuse("Accepts", "Say that you accept what is agreed, or do not send this.");
        var answers = open.Questions.Select((q, i) => new Answered(q.Words, Answer(q, i < draft.Answers.Count ? draft.Answers[i] : "", $"Answers[{i}]", fields))).ToArray();
        return (answers, email, fields.Faults);
    }

    private static string Answer(JoiningQuestion question, string typed, string field, FieldReader fields)
    {
        var answer = typed.Trim();
        if (answer.Length == 0)
        {
            if (question.IsNeeded) fields.Refuse(field, "An answer is needed.");
            return "";
        }
        var longest = question.Kind == QuestionKind.Long ? LongestText : LongestShort;
        if (answer.Length > longest) fields.Refuse(field, $"Write at most {longest} characters.");
        else if (question.Kind == QuestionKind.OneOf && !question.Choices.Contains(answer)) fields.Refuse(field, "Choose one of the answers.");
        else if (question.Kind == QuestionKind.YesNo && answer is not ("yes" or "no")) fields.Refuse(field, "Choose yes or no.");
        else if (question.Kind == QuestionKind.Link && !IsLink(answer)) fields.Refuse(field, "Give an address, such as https://name.example.");
        return answer;
    }

    private static bool IsLink(string text) => text.Length <= LongestShort && Uri.TryCreate(text, UriKind.Absolute, out var link) && link.Scheme is "http" or "https";
}
