using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.People;

/// <summary>Coupon codes of a payee with the days on which they count. A code may pass from one payee to another, never be of two on one day.</summary>
public sealed class PayeeCodes(BookDbContext db, BookCache cache, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    /// <param name="from">The first day on which it counts; null where it always did.</param>
    /// <param name="to">The first day on which it counts no more; null for no end.</param>
    /// <exception cref="RefusedException">No code, days the wrong way round, or somebody has it on one of these days.</exception>
    public void Add(string payee, string code, DateOnly? from, DateOnly? to, string by)
    {
        var text = code.Trim();
        if (!db.Payees.Any(p => p.Id == payee)) throw new RefusedException($"There is no payee {payee}.");
        if (text.Length == 0 || text.Any(char.IsWhiteSpace)) throw new RefusedException("Give one code, without a space.", "Code");
        Free(text, from, to, 0, payee);
        using var change = rulesChange.Begin();
        db.PayeeCodes.Add(new PayeeCodeRecord { PayeeId = payee, Code = text, From = from, To = to });
        audit.Note(by, $"add code {text}{Days(from, to)}", payee);
        change.Commit();
    }

    /// <summary>Says on which days a code counts, whatever was said before.</summary>
    /// <exception cref="RefusedException">As for adding.</exception>
    public void Redate(int id, DateOnly? from, DateOnly? to, string by)
    {
        var code = db.PayeeCodes.Known(c => c.Id == id);
        if ((code.From, code.To) == (from, to)) return;
        Free(code.Code, from, to, id, code.PayeeId);
        using var change = rulesChange.Begin();
        (code.From, code.To) = (from, to);
        audit.Note(by, $"code {code.Code} counts{Days(from, to)}", code.PayeeId);
        change.Commit();
    }

    /// <summary>Says that a code never was a payee's.</summary>
    public void TakeAway(int id, string by)
    {
        var code = db.PayeeCodes.Known(c => c.Id == id);
        using var change = rulesChange.Begin();
        db.PayeeCodes.Remove(code);
        audit.Note(by, $"take away code {code.Code}", code.PayeeId);
        change.Commit();
    }

    private void Free(string text, DateOnly? from, DateOnly? to, int but, string payee)
    {
        if (to <= from) throw new RefusedException($"That is not after {from!.Value.InWords()}, when it begins.", "CodeTo");
        var wanted = new PayeeCode(text, from, to);
        if (db.PayeeCodes.AsNoTracking().Where(c => c.Code == text && c.Id != but).AsEnumerable().FirstOrDefault(c => c.ToCode().Overlaps(wanted)) is not { } taken) return;
        var whose = taken.PayeeId == payee ? "theirs" : $"that of {cache.Get(db).PayeeName(taken.PayeeId)}";
        throw new RefusedException($"The code {taken.Code} is {whose} already{Days(taken.From, taken.To)}.", "Code");
    }

    private static string Days(DateOnly? from, DateOnly? to) => (from is { } first ? $" from {first.InWords()}" : "") + (to is { } end ? $" until {end.InWords()}" : "");
}
