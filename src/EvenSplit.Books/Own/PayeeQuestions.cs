using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>Payees ask about an entry or a statement; the house answers, and they have it by mail too.</summary>
public sealed class PayeeQuestions(BookDbContext db, BookCache cache, BookClock clock, Outbox outbox, AuditLog audit) : IUseCase
{
    private const int Longest = 2000, MostOpen = 20;

    /// <summary>Of one payee, the latest first.</summary>
    public IReadOnlyList<PayeeQuestionRecord> Of(string payee) => [.. db.PayeeQuestions.AsNoTracking().Where(q => q.Payee == payee).OrderByDescending(q => q.Id).Take(100)];

    /// <summary>Those that nobody has answered, the oldest first; then the last answered.</summary>
    public IReadOnlyList<PayeeQuestionRecord> All() =>
        [.. db.PayeeQuestions.AsNoTracking().Where(q => q.AnsweredAt == null).OrderBy(q => q.Id).Take(200), .. db.PayeeQuestions.AsNoTracking().Where(q => q.AnsweredAt != null).OrderByDescending(q => q.Id).Take(50)];

    /// <param name="entry">One of their own; null where it is about something else.</param>
    /// <param name="run">One they stand in; null where it is about something else.</param>
    /// <exception cref="RefusedException">Nothing is asked, it is too long, it is about somebody else's, or too much is open.</exception>
    public void Ask(string payee, long? entry, int? run, string question)
    {
        if (question.Trim().Length == 0) throw new RefusedException("Write what you would like to know.", "Question");
        if (question.Length > Longest) throw new RefusedException($"Write at most {Longest} characters.", "Question");
        if (entry is { } e && !db.Entries.Any(x => x.Id == e && x.Payee == payee)) throw new RefusedException("There is no such entry.", "Question");
        if (run is { } r && !db.Remittances.Any(x => x.RunId == r && x.Payee == payee)) throw new RefusedException("There is no such statement.", "Question");
        if (db.PayeeQuestions.Count(q => q.Payee == payee && q.AnsweredAt == null) >= MostOpen) throw new RefusedException("So much is open already; wait for an answer first.", "Question");
        db.PayeeQuestions.Add(new PayeeQuestionRecord { Payee = payee, EntryId = entry, RunId = run, Question = question.Trim(), AskedAt = clock.GetUtcNow() });
        audit.Note(cache.Get(db).PayeeName(payee), "ask", payee);
        db.SaveChanges();
    }

    /// <exception cref="RefusedException">It is answered already, or the answer is empty.</exception>
    public void Answer(int id, string answer, string by, string site)
    {
        if (answer.Trim().Length == 0) throw new RefusedException("Write an answer.", "Answer");
        var question = db.PayeeQuestions.Known(q => q.Id == id);
        if (question.AnsweredAt is not null) throw new RefusedException($"{question.AnsweredBy} has answered already.");
        (question.Answer, question.AnsweredBy, question.AnsweredAt) = (answer.Trim(), by, clock.GetUtcNow());
        audit.Note(by, "answer", question.Payee);
        db.SaveChanges();
        var record = db.Payees.AsNoTracking().Known(p => p.Id == question.Payee);
        var book = cache.Get(db).Record.Name;
        if (record.Email is { Length: > 0 } address)
        {
            outbox.Send($"answer-{id}", record.Name, address, $"{book}: an answer to your question", $"Dear {record.Name},\n\nyou asked: {question.Question}\n\n{question.Answer}\n\nIt stands under {site}/me/questions too.\n\n{book}\n");
        }
    }
}
