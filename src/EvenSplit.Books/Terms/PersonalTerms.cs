using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>A personal term in words.</summary>
public sealed record PersonalTermView(int Id, string PayeeId, string Payee, string AgreementId, string Agreement, string Says, DateOnly? From, DateOnly? To);

/// <summary>A share given to one payee on some products, in one step.</summary>
public sealed record ShareDraft
{
    public string Payee { get; init; } = "";
    public string Agreement { get; init; } = "";
    public List<string> Products { get; init; } = [];
    /// <summary>From which day; the payee is put on the agreement then where they are not on it.</summary>
    public DateOnly? From { get; init; }
    public CaseDraft Share { get; init; } = new();
}

/// <summary>A term of a payee's own as typed: all that a term can say, under one of their agreements, from a day and perhaps until one.</summary>
public sealed record PersonalTermDraft
{
    public string Agreement { get; init; } = "";
    public DateOnly? From { get; init; }
    /// <summary>The first day it holds no more.</summary>
    public DateOnly? To { get; init; }
    public TermDraft Term { get; init; } = new();
}

/// <summary>Terms for one payee that come before the agreement's own. They are never edited: a new one ends the one before.</summary>
public sealed class PersonalTerms(BookDbContext db, BookCache cache, AgreementDesk agreements, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    public IReadOnlyList<PersonalTermView> OfPayee(string payee) => View(t => t.PayeeId == payee);

    private PersonalTermView[] View(System.Linq.Expressions.Expression<Func<PersonalTermRecord, bool>> which)
    {
        var book = cache.Get(db);
        var naming = book.Naming();
        return db.PersonalTerms.AsNoTracking().Where(which).OrderBy(t => t.Id).AsEnumerable().Select(t => new PersonalTermView(
            t.Id, t.PayeeId, book.PayeeName(t.PayeeId), t.AgreementId, book.AgreementName(t.AgreementId),
            TermWords.Term(VersionDocuments.ReadTerm(t.Document), book.Rules.Agreement(new AgreementId(t.AgreementId)).Currency, naming), t.From, t.To)).ToArray();
    }

    /// <summary>Gives a payee a share of each of some products.</summary>
    /// <returns>The fields at fault; none where it was given.</returns>
    public IReadOnlyList<FieldFault> Give(ShareDraft draft, string by)
    {
        var book = cache.Get(db);
        var payee = book.Rules.FindPayee(new PayeeId(draft.Payee));
        var agreement = book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == draft.Agreement);
        var faults = new List<FieldFault>();
        if (payee is null) faults.Add(new FieldFault("Payee", "Choose a payee."));
        if (agreement is null) faults.Add(new FieldFault("Agreement", "Choose the agreement whose base and hold it has."));
        if (draft.From is null) faults.Add(new FieldFault("From", "Say from which day."));
        if (draft.Products.Count == 0) faults.Add(new FieldFault("Products", "Mark at least one product."));
        faults.AddRange(draft.Products.Where(p => book.Rules.FindProduct(new ProductId(p)) is null).Select(p => new FieldFault("Products", $"There is no product '{p}' in the catalogue.")));
        var reader = new DraftReader(book.Rules);
        var terms = agreement is null ? [] : draft.Products
            .Select(p => reader.Read(new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = p, Cases = [draft.Share] }, "Share", agreement.Currency)).ToArray();
        faults.AddRange(reader.Faults.Select(f => f with { Field = f.Field.Replace("Share.Cases[0].", "Share.", StringComparison.Ordinal) }).Distinct());
        if (faults.Count > 0) return faults;
        var from = draft.From!.Value;
        using var change = rulesChange.Begin();
        if (agreement!.Basis == Basis.Supply && Supply(book, payee!.Id.Value, draft.Products) is { } taken) return [taken];
        if (!payee!.IsOn(agreement.Id, from)) agreements.PutOn(agreement.Id.Value, payee.Id.Value, from, by);
        foreach (var term in terms) Enter(payee.Id.Value, agreement.Id.Value, term, from);
        audit.Note(by, "give share", $"{book.PayeeName(payee.Id.Value)} under {book.AgreementName(agreement.Id.Value)}: {string.Join(", ", draft.Products)} from {from.InWords()}");
        change.Commit();
        return [];
    }

    /// <summary>Writes a term of a payee's own, with whatever conditions.</summary>
    /// <returns>The fields at fault; none where it holds now.</returns>
    public IReadOnlyList<FieldFault> Write(string payee, PersonalTermDraft draft, string by)
    {
        var book = cache.Get(db);
        var faults = new List<FieldFault>();
        var who = book.Rules.Payee(new PayeeId(payee));
        var agreement = book.Rules.Agreements.FirstOrDefault(a => a.Id.Value == draft.Agreement);
        if (agreement is null) faults.Add(new FieldFault("Agreement", "Choose the agreement whose base and hold it has."));
        if (draft.From is null) faults.Add(new FieldFault("From", "Say from which day."));
        if (draft.To <= draft.From) faults.Add(new FieldFault("To", "It ends before it begins: choose a later day, or leave it empty."));
        if (agreement is not null && draft.From is { } first && !who.IsOn(agreement.Id, first))
        {
            faults.Add(new FieldFault("Agreement", $"{book.PayeeName(payee)} is not on {book.AgreementName(agreement.Id.Value)} on {first.InWords()}: put them on it first."));
        }
        var reader = new DraftReader(book.Rules);
        var term = agreement is null ? null : reader.Read(draft.Term, "Term", agreement.Currency);
        faults.AddRange(reader.Faults);
        if (faults.Count > 0) return faults;
        using var change = rulesChange.Begin();
        Enter(payee, agreement!.Id.Value, term!, draft.From!.Value, draft.To);
        audit.Note(by, "personal term", $"{book.PayeeName(payee)} under {book.AgreementName(agreement.Id.Value)}: {TermWords.Term(term!, agreement.Currency, book.Naming())} from {draft.From.Value.InWords()}");
        change.Commit();
        return [];
    }

    /// <summary>Ends a personal term at the start of a day; from then on the agreement's own terms hold.</summary>
    public void End(int id, DateOnly to, string by)
    {
        var record = db.PersonalTerms.Known(t => t.Id == id);
        if (record.From is { } from && to < from) throw new RefusedException($"It holds from {from.InWords()}; it cannot end before.", "To");
        using var change = rulesChange.Begin();
        record.To = to;
        audit.Note(by, "end personal term", $"{record.PayeeId} under {record.AgreementId}");
        change.Commit();
    }

    /// <summary>A new term follows the one for the same from its first day on.</summary>
    internal void Enter(string payee, string agreement, Term term, DateOnly from, DateOnly? to = null)
    {
        foreach (var before in db.PersonalTerms.Where(t => t.PayeeId == payee && t.AgreementId == agreement && (t.To == null || t.To > from)).ToArray())
        {
            if (VersionDocuments.ReadTerm(before.Document).Scope == term.Scope) before.To = before.From > from ? before.From : from;
        }
        db.PersonalTerms.Add(new PersonalTermRecord { PayeeId = payee, AgreementId = agreement, From = from, To = to, Document = VersionDocuments.Write(term) });
    }

    /// <summary>Only who supplies a product earns on it by supply.</summary>
    /// <returns>What keeps the payee from supplying them all; then none is changed.</returns>
    private FieldFault? Supply(OpenedBook book, string payee, IReadOnlyList<string> products)
    {
        var records = db.Products.Where(p => products.Contains(p.Id)).ToArray();
        if (Array.Find(records, p => p.Vendor is { } vendor && vendor != payee) is { } taken)
        {
            return new FieldFault("Payee", $"{taken.Name} is supplied by {book.PayeeName(taken.Vendor!)}; change its vendor first, on the product's own page.");
        }
        foreach (var product in records) product.Vendor = payee;
        db.SaveChanges();
        return null;
    }
}
