using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Rewards;

/// <summary>A scheme of rewards as typed; amounts in major units of the book's currency.</summary>
public sealed record SchemeDraft
{
    public string Name { get; init; } = "";
    public DateOnly? From { get; init; }
    public DateOnly? To { get; init; }
    public bool NewCustomersOnly { get; init; } = true;
    public string CreditPercent { get; init; } = "";
    public string CreditFixed { get; init; } = "";
    public int? HoldDays { get; init; } = 30;
    public List<FriendDiscountDraft> Discounts { get; init; } = [];
}

/// <summary>What is taken off for a friend; a row that says nothing is left out.</summary>
public sealed record FriendDiscountDraft
{
    /// <summary>Empty for all other products.</summary>
    public string Collection { get; init; } = "";
    public string Percent { get; init; } = "";
    public string PerUnit { get; init; } = "";
}

/// <summary>A scheme in words.</summary>
public sealed record SchemeView(int Id, string Name, DateOnly From, DateOnly? To, string Friend, string Referrer);

/// <summary>Sets what customers get who bring a friend, and keeps their codes.</summary>
public sealed class RewardSchemes(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    public IReadOnlyList<SchemeView> List()
    {
        var currency = cache.Get(db).Currency;
        return db.RewardSchemes.AsNoTracking().Include(s => s.Discounts).OrderByDescending(s => s.From).AsEnumerable()
            .Select(s => new SchemeView(s.Id, s.Name, s.From, s.To, Friend(s, currency), Referrer(s, currency))).ToArray();
    }

    public IReadOnlyList<CustomerCodeRecord> Codes() => db.CustomerCodes.AsNoTracking().OrderBy(c => c.Name).ThenBy(c => c.Code).ToArray();

    /// <returns>The fields at fault; none where it was saved.</returns>
    public IReadOnlyList<FieldFault> Add(SchemeDraft draft, string by)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        var name = fields.Required("Name", draft.Name, "Give the scheme a name.");
        if (draft.From is null) fields.Refuse("From", "Say from which day.");
        if (draft.To <= draft.From) fields.Refuse("To", "That is before it begins.");
        var percent = fields.Percent("CreditPercent", draft.CreditPercent) ?? Rate.Zero;
        var fixedCredit = fields.Amount("CreditFixed", draft.CreditFixed, book.Currency) ?? 0;
        var hold = fields.Days("HoldDays", draft.HoldDays);
        var discounts = new List<FriendDiscountRecord>();
        for (var i = 0; i < draft.Discounts.Count; i++)
        {
            var row = draft.Discounts[i];
            var off = fields.Percent($"Discounts[{i}].Percent", row.Percent) ?? Rate.Zero;
            var unit = fields.Amount($"Discounts[{i}].PerUnit", row.PerUnit, book.Currency) ?? 0;
            if (off == Rate.Zero && unit == 0) continue;
            if (off != Rate.Zero && unit != 0) fields.Refuse($"Discounts[{i}].PerUnit", "Give a percentage or an amount, not both.");
            if (discounts.Exists(d => d.Collection == row.Collection)) fields.Refuse($"Discounts[{i}].Collection", "There is a row for these products already.");
            discounts.Add(new FriendDiscountRecord { Collection = row.Collection, Percent = off, PerUnit = unit });
        }
        if (percent == Rate.Zero && fixedCredit == 0 && discounts.Count == 0) fields.Refuse("CreditPercent", "Give the friend a discount, the referrer store credit, or both.");
        if (draft.From is { } from && db.RewardSchemes.AsNoTracking().AsEnumerable().FirstOrDefault(s => (s.To is null || s.To > from) && (draft.To is null || s.From < draft.To)) is { } other)
        {
            fields.Refuse("From", $"{other.Name} holds then; end it first, since only one scheme may hold at a time.");
        }
        if (fields.Faults.Count > 0) return fields.Faults;
        db.RewardSchemes.Add(new RewardSchemeRecord
        {
            Name = name,
            From = draft.From!.Value,
            To = draft.To,
            NewCustomersOnly = draft.NewCustomersOnly,
            CreditPercent = percent,
            CreditFixed = fixedCredit,
            HoldDays = hold,
            Discounts = discounts,
        });
        audit.Note(by, "set reward scheme", name);
        db.SaveChanges();
        return [];
    }

    /// <summary>Ends a scheme at the start of a day; orders placed before keep what it gives.</summary>
    public void End(int id, DateOnly to, string by)
    {
        var scheme = db.RewardSchemes.Known(s => s.Id == id);
        if (to < scheme.From) throw new RefusedException($"It begins on {scheme.From.InWords()}.", "To");
        scheme.To = to;
        audit.Note(by, "end reward scheme", scheme.Name);
        db.SaveChanges();
    }

    /// <exception cref="RefusedException">Something is missing, or the code is somebody's already.</exception>
    public void AddCode(string code, string customerKey, string name, string by)
    {
        var trimmed = code.Trim();
        if (trimmed.Length == 0 || trimmed.Contains(' ', StringComparison.Ordinal)) throw new RefusedException("Give a code without a space.", "Code");
        if (customerKey.Trim().Length == 0) throw new RefusedException("Give the key the shop knows the customer by.", "CustomerKey");
        if (name.Trim().Length == 0) throw new RefusedException("Say who it is.", "CustomerName");
        if (cache.Get(db).Rules.OwnersOfCode(trimmed).FirstOrDefault() is { } payee) throw new RefusedException($"{trimmed} is a coupon code of {cache.Get(db).PayeeName(payee.Id.Value)}.", "Code");
        if (db.CustomerCodes.FirstOrDefault(c => c.Code == trimmed) is { } taken) throw new RefusedException($"{trimmed} is the code of {taken.Name}.", "Code");
        db.CustomerCodes.Add(new CustomerCodeRecord { Code = trimmed, CustomerKey = customerKey.Trim(), Name = name.Trim() });
        audit.Note(by, "add customer code", $"{trimmed}, {name.Trim()}");
        db.SaveChanges();
    }

    private static string Friend(RewardSchemeRecord scheme, Currency currency)
    {
        var parts = scheme.Discounts.OrderBy(d => d.Collection.Length == 0).ThenBy(d => d.Collection, StringComparer.Ordinal).Select(d =>
            $"{(d.PerUnit > 0 ? new Money(d.PerUnit, currency).InWords() + " a unit" : d.Percent.ToPercentText())} off {(d.Collection.Length > 0 ? $"the collection {d.Collection}" : "everything else")}").ToArray();
        return parts.Length == 0 ? "nothing" : string.Join("; ", parts);
    }

    private static string Referrer(RewardSchemeRecord scheme, Currency currency)
    {
        var parts = new List<string>();
        if (scheme.CreditPercent != Rate.Zero) parts.Add($"{scheme.CreditPercent.ToPercentText()} of the goods that stay sold");
        if (scheme.CreditFixed > 0) parts.Add($"{new Money(scheme.CreditFixed, currency).InWords()} an order");
        return parts.Count == 0 ? "nothing" : $"{string.Join(" and ", parts)} as store credit, {MoneyWords.Count(scheme.HoldDays, "day")} after payment{(scheme.NewCustomersOnly ? ", for new customers" : "")}";
    }
}
