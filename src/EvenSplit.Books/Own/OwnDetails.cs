using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.People;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>How a payee is reached, as they set it themselves.</summary>
public sealed record ReachDraft
{
    public string Language { get; init; } = "";
    [StringLength(OwnDetails.LongestAddress)]
    public string PostalAddress { get; init; } = "";
    public string TaxNumber { get; init; } = "";
    public bool IsUnsubscribed { get; init; }
    public bool WithoutAdvices { get; init; }
}

/// <summary>What a payee changes of their own: how they are reached, and, seen by a second person, where their money goes.</summary>
public sealed class OwnDetails(BookDbContext db, BookCache cache, PayoutDetails payouts, AuditLog audit) : IUseCase
{
    internal const int LongestAddress = 1000, LongestNumber = 60;

    public ReachDraft Reach(string payee)
    {
        var record = db.Payees.AsNoTracking().Known(p => p.Id == payee);
        return new ReachDraft { Language = record.Language, PostalAddress = record.PostalAddress, TaxNumber = record.TaxNumber, IsUnsubscribed = record.IsUnsubscribed, WithoutAdvices = record.WithoutAdvices };
    }

    /// <summary>Empty where the book has none.</summary>
    public string Email(string payee) => db.Payees.AsNoTracking().Where(p => p.Id == payee).Select(p => p.Email).FirstOrDefault() ?? "";

    /// <summary>
    /// Keeps what the payee changed. What only the house changed since the form was shown stays as the house left it; where both changed
    /// the same field, nothing is kept and the field says what it is now.
    /// </summary>
    /// <param name="shown">What the form was shown with.</param>
    /// <returns>The fields at fault; none where it is kept.</returns>
    public IReadOnlyList<FieldFault> SetReach(string payee, ReachDraft draft, ReachDraft shown)
    {
        var fields = new FieldReader();
        if (draft.Language.Length > 0 && !Languages.IsKnown(draft.Language)) fields.Refuse("Language", "Write the language as en, de or pt-BR.");
        if (draft.PostalAddress.Length > LongestAddress) fields.Refuse("PostalAddress", $"Write at most {LongestAddress} characters.");
        if (draft.TaxNumber.Length > LongestNumber) fields.Refuse("TaxNumber", $"Write at most {LongestNumber} characters.");
        if (fields.Faults.Count > 0) return fields.Faults;
        var record = db.Payees.Known(p => p.Id == payee);
        string Merge(string field, string mine, string was, string now) => Merged(fields, field, mine, was, now, text => text.Length == 0 ? "nothing" : text);
        bool MergeTick(string field, bool mine, bool was, bool now) => Merged(fields, field, mine, was, now, on => on ? "ticked" : "not ticked");
        draft = new ReachDraft
        {
            Language = Merge("Language", draft.Language, shown.Language, record.Language),
            PostalAddress = Merge("PostalAddress", OneLineEnd(draft.PostalAddress), OneLineEnd(shown.PostalAddress), OneLineEnd(record.PostalAddress)),
            TaxNumber = Merge("TaxNumber", draft.TaxNumber.Trim(), shown.TaxNumber, record.TaxNumber),
            IsUnsubscribed = MergeTick("IsUnsubscribed", draft.IsUnsubscribed, shown.IsUnsubscribed, record.IsUnsubscribed),
            WithoutAdvices = MergeTick("WithoutAdvices", draft.WithoutAdvices, shown.WithoutAdvices, record.WithoutAdvices),
        };
        if (fields.Faults.Count > 0) return fields.Faults;
        (record.Language, record.PostalAddress, record.TaxNumber, record.IsUnsubscribed, record.WithoutAdvices) = (draft.Language, draft.PostalAddress, draft.TaxNumber, draft.IsUnsubscribed, draft.WithoutAdvices);
        audit.Note(record.Name, "change how they are reached", record.Name);
        db.SaveChanges();
        return [];
    }

    // Browsers send line ends as CR LF; what is kept may have either.
    private static string OneLineEnd(string text) => text.ReplaceLineEndings("\n").Trim();

    private static T Merged<T>(FieldReader fields, string field, T mine, T was, T now, Func<T, string> told) where T : IEquatable<T>
    {
        if (mine.Equals(was)) return now;
        if (!now.Equals(was) && !now.Equals(mine)) fields.Refuse(field, $"Changed since you opened this page: it is now {told(now)}. Save again to put yours in its place.");
        return mine;
    }

    /// <summary>Proposes where their money is to go: somebody of the house confirms it, and two days pass.</summary>
    /// <returns>The fields at fault; none where it is proposed.</returns>
    /// <exception cref="RefusedException">It is a way that only the house may propose.</exception>
    public IReadOnlyList<FieldFault> Propose(string payee, PayoutDetailsDraft draft)
    {
        if (draft.Method is not (PayoutMethod.Bank or PayoutMethod.Wallet)) throw new RefusedException("Give a bank account or a wallet.", "Method");
        return payouts.Propose(payee, draft, cache.Get(db).PayeeName(payee));
    }
}
