using System.Text.Json;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>A question as typed; left empty it is none.</summary>
public sealed record QuestionDraft
{
    public string Words { get; init; } = "";
    public QuestionKind Kind { get; init; }
    public bool IsNeeded { get; init; }
    /// <summary>With a comma between.</summary>
    public string Choices { get; init; } = "";
    /// <summary>Where it stands among the others.</summary>
    public int? Number { get; init; }
}

/// <summary>How people join an agreement, as typed; amounts in major units of the agreement's currency.</summary>
public sealed record JoiningDraft
{
    public JoiningWay Way { get; init; }
    public string Intro { get; init; } = "";
    public List<QuestionDraft> Questions { get; init; } = [];
    public int? HoldDays { get; init; }
    public int? RecordDays { get; init; }
    public int? RecordOrders { get; init; }
    public string RecordRefunds { get; init; } = "";
    public GiftKind Gift { get; init; }
    public string GiftAmount { get; init; } = "";
    public string GiftNote { get; init; } = "";
    public UnacceptedRule Unaccepted { get; init; }
}

/// <summary>Says who may join an agreement, what they are asked and what they get; and pauses it.</summary>
public sealed class JoiningDesk(BookDbContext db, BookCache cache, BookClock clock, AgreementDesk agreements, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    private const int MostQuestions = 20, LongestIntro = 20_000, LongestQuestion = 300, MostChoices = 30;

    /// <summary>How people join it; nobody does where nothing was said.</summary>
    public JoiningRecord Of(string agreement) => db.Joinings.AsNoTracking().FirstOrDefault(j => j.AgreementId == agreement) ?? new JoiningRecord { AgreementId = agreement };

    public static IReadOnlyList<JoiningQuestion> QuestionsOf(JoiningRecord joining) => JsonSerializer.Deserialize<JoiningQuestion[]>(joining.Questions)!;

    public JoiningDraft Draft(string agreement)
    {
        var joining = Of(agreement);
        var currency = cache.Get(db).Rules.Agreement(new AgreementId(agreement)).Currency;
        return new JoiningDraft
        {
            Way = joining.Way,
            Intro = joining.Intro,
            Questions = [.. QuestionsOf(joining).Select((q, i) => new QuestionDraft { Words = q.Words, Kind = q.Kind, IsNeeded = q.IsNeeded, Choices = string.Join(", ", q.Choices), Number = i + 1 })],
            HoldDays = joining.HoldDays,
            RecordDays = joining.RecordDays,
            RecordOrders = joining.RecordOrders,
            RecordRefunds = joining.RecordRefunds == Rate.Zero ? "" : joining.RecordRefunds.ToPercentText(),
            Gift = joining.Gift,
            GiftAmount = joining.GiftAmount == 0 ? "" : new Money(joining.GiftAmount, currency).ToMajorText(),
            GiftNote = joining.GiftNote,
            Unaccepted = joining.Unaccepted,
        };
    }

    /// <returns>The fields at fault; none where it is kept.</returns>
    public IReadOnlyList<FieldFault> Save(string agreement, JoiningDraft draft, string by)
    {
        var currency = cache.Get(db).Rules.Agreement(new AgreementId(agreement)).Currency;
        var fields = new FieldReader();
        if (draft.Intro.Length > LongestIntro) fields.Refuse("Intro", $"Write at most {LongestIntro} characters.");
        var questions = Questions(draft, fields);
        if (draft.HoldDays is not null) fields.Days("HoldDays", draft.HoldDays);
        var days = fields.Days("RecordDays", draft.RecordDays);
        if (draft.RecordOrders is < 0 or > 1_000_000) fields.Refuse("RecordOrders", "Give 0 or more orders.");
        var refunds = fields.Percent("RecordRefunds", draft.RecordRefunds) ?? Rate.Zero;
        var amount = fields.Amount("GiftAmount", draft.GiftAmount, currency) ?? 0;
        if (draft.Gift != GiftKind.None && amount == 0 && fields.Faults.All(f => f.Field != "GiftAmount")) fields.Refuse("GiftAmount", draft.Gift == GiftKind.Goods ? "Say what the goods cost the house." : "Give the amount.");
        if (draft.Gift != GiftKind.None && draft.GiftNote.Trim().Length == 0) fields.Refuse("GiftNote", "Say what it is for; they read it.");
        if (draft.Way == JoiningWay.AtOnce && draft.Gift is GiftKind.Advance or GiftKind.Bonus) fields.Refuse("Gift", "Whoever asks joins at once: money would go to anybody with an address. Give goods or nothing, or let somebody approve.");
        if (fields.Faults.Count > 0) return fields.Faults;
        var record = db.Joinings.FirstOrDefault(j => j.AgreementId == agreement);
        if (record is null) db.Joinings.Add(record = new JoiningRecord { AgreementId = agreement });
        (record.Way, record.Intro, record.Questions) = (draft.Way, draft.Intro.Trim(), JsonSerializer.Serialize(questions));
        (record.HoldDays, record.RecordDays, record.RecordOrders, record.RecordRefunds) = (draft.HoldDays, days, draft.RecordOrders ?? 0, refunds);
        (record.Gift, record.GiftAmount, record.GiftNote) = (draft.Gift, draft.Gift == GiftKind.None ? 0 : amount, draft.Gift == GiftKind.None ? "" : draft.GiftNote.Trim());
        record.Unaccepted = draft.Unaccepted;
        audit.Note(by, "say how people join", agreement);
        db.SaveChanges();
        return [];
    }

    private static JoiningQuestion[] Questions(JoiningDraft draft, FieldReader fields)
    {
        var asked = draft.Questions.Select((q, i) => (Draft: q, Field: $"Questions[{i}].Words", ChoicesField: $"Questions[{i}].Choices")).Where(q => q.Draft.Words.Trim().Length > 0).ToArray();
        if (asked.Length > MostQuestions) fields.Refuse("Questions", $"Ask at most {MostQuestions} questions.");
        var questions = new List<(int Number, JoiningQuestion Question)>();
        foreach (var (q, field, choicesField) in asked)
        {
            if (q.Words.Trim().Length > LongestQuestion) fields.Refuse(field, $"Ask in at most {LongestQuestion} characters.");
            string[] choices = q.Kind == QuestionKind.OneOf ? [.. q.Choices.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Distinct()] : [];
            if (q.Kind == QuestionKind.OneOf && choices.Length is < 2 or > MostChoices) fields.Refuse(choicesField, $"Give 2 to {MostChoices} answers, with a comma between.");
            questions.Add((q.Number ?? int.MaxValue, new JoiningQuestion(q.Words.Trim(), q.Kind, q.IsNeeded, choices)));
        }
        return [.. questions.OrderBy(q => q.Number).Select(q => q.Question)];
    }

    /// <summary>Nobody brings anything by it from today on; what was earned stays. Who was on it then comes back to it when it runs again.</summary>
    /// <exception cref="RefusedException">It is paused already, or somebody comes onto it later.</exception>
    public void Pause(string agreement, string by)
    {
        var today = clock.Today;
        using var change = rulesChange.Begin();
        var record = Kept(agreement);
        if (record.PausedOn is not null) throw new RefusedException("It is paused already.");
        foreach (var on in db.Memberships.AsNoTracking().Where(m => m.AgreementId == agreement && m.From <= today && (m.To == null || m.To > today)).ToArray())
        {
            if (db.PausedMemberships.Local.Any(p => p.Payee == on.PayeeId)) continue;
            db.PausedMemberships.Add(new PausedMembershipRecord { AgreementId = agreement, Payee = on.PayeeId, Products = on.Products });
        }
        record.PausedOn = today;
        audit.Note(by, "pause", agreement);
        agreements.End(agreement, today, by);
        change.Commit();
    }

    /// <summary>Takes it up again: whoever a pause ended is on it from today.</summary>
    /// <returns>How many are on it again, and who has gone onto another referral agreement meanwhile and stays there.</returns>
    public (int Back, IReadOnlyList<string> Elsewhere) Resume(string agreement, string by)
    {
        var today = clock.Today;
        using var change = rulesChange.Begin();
        var record = Kept(agreement);
        if (record.PausedOn is null) throw new RefusedException("It is not paused.");
        var elsewhere = new List<string>();
        var paused = db.PausedMemberships.Where(p => p.AgreementId == agreement).ToArray();
        foreach (var was in paused)
        {
            try
            {
                agreements.PutOn(agreement, was.Payee, today, by, was.Products);
            }
            catch (RefusedException)
            {
                elsewhere.Add(cache.Get(db).PayeeName(was.Payee));
            }
            db.PausedMemberships.Remove(was);
        }
        record.PausedOn = null;
        audit.Note(by, "take up again", agreement);
        change.Commit();
        return (paused.Length - elsewhere.Count, elsewhere);
    }

    private JoiningRecord Kept(string agreement)
    {
        if (db.Joinings.FirstOrDefault(j => j.AgreementId == agreement) is { } kept) return kept;
        var record = new JoiningRecord { AgreementId = agreement };
        db.Joinings.Add(record);
        return record;
    }
}
