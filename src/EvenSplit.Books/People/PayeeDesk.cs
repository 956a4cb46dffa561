using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.People;

/// <summary>A payee as typed in the form; amounts in major units of the payout currency.</summary>
public sealed record PayeeDraft
{
    public string Name { get; init; } = "";
    public PayeeRole Role { get; init; }
    public string Email { get; init; } = "";
    public string PayoutCurrency { get; init; } = "";
    public DateOnly? ActiveFrom { get; init; }
    /// <summary>Coupon codes with a space between; new ones count on all days, and those the payee has keep their days.</summary>
    [StringLength(4000)]
    public string Codes { get; init; } = "";
    public string Minimum { get; init; } = "";
    public int? HoldDays { get; init; }
    public string WithholdingPercent { get; init; } = "";
    /// <summary>Brings no orders from this day on; left empty, without end.</summary>
    public DateOnly? ActiveTo { get; init; }
    /// <summary>What the shop calls them as a buyer, with a space between.</summary>
    [StringLength(4000)]
    public string CustomerKeys { get; init; } = "";
    /// <summary>Who recruited them; empty where nobody did.</summary>
    public string RecruitedBy { get; init; } = "";
    /// <summary>Nothing is paid while this is set.</summary>
    public bool OnHold { get; init; }
    public string RecoupPercent { get; init; } = "";
    public string TransferFee { get; init; } = "";
    public int? FreeTransfers { get; init; }
    /// <summary>By hand or as store credit; a bank account or a wallet comes with details that a second person confirms.</summary>
    public PayoutMethod Method { get; init; }
    /// <summary>In the words of payees.csv.</summary>
    public string Schedule { get; init; } = "monthly";
    /// <summary>Which tax form is on file.</summary>
    public string TaxForm { get; init; } = "";
    /// <summary>As en or pt-BR; empty where it is not known.</summary>
    public string Language { get; init; } = "";
    [StringLength(1000)]
    public string PostalAddress { get; init; } = "";
    public string TaxNumber { get; init; } = "";
    public bool IsUnsubscribed { get; init; }
}

/// <summary>A payee's time on an agreement.</summary>
/// <param name="Id">Of the membership.</param>
/// <param name="Products">Ids of the products they take part with; null for all.</param>
public sealed record PayeeMembership(int Id, string AgreementId, string Name, DateOnly From, DateOnly? To, IReadOnlyList<string>? Products);

/// <summary>A payee opened.</summary>
public sealed record PayeeView(
    PayeeRecord Record, Currency PayoutCurrency, Balance Balance, IReadOnlyList<PayeeMembership> Agreements,
    IReadOnlyList<AdjustmentRecord> Adjustments, IReadOnlyList<(int RunId, DateOnly AsOf, Money Paid, Money Carried, RemittanceReason Reason, DateOnly? PaidOn)> Runs);

/// <summary>Opens, adds and changes payees.</summary>
public sealed class PayeeDesk(BookDbContext db, BookCache cache, PeopleList people, Adjustments adjustments, RulesChange rulesChange, DetailMails mails, AuditLog audit) : IUseCase
{
    public PayeeView? Find(string id)
    {
        var book = cache.Get(db);
        var record = db.Payees.AsNoTracking().Include(p => p.Codes).Include(p => p.Memberships).AsSplitQuery().FirstOrDefault(p => p.Id == id);
        if (record is null) return null;
        var payee = book.Rules.Payee(new PayeeId(id));
        var currency = payee.PayoutCurrency;
        var runs = db.Remittances.AsNoTracking().Where(r => r.Payee == id).Join(db.PayRuns, r => r.RunId, r => r.Id, (r, run) => new { r, run.AsOf })
            .OrderByDescending(r => r.r.Id).AsEnumerable()
            .Select(r => (r.r.RunId, r.AsOf, new Money(r.r.Paid, currency), new Money(r.r.Carried, currency), r.r.Reason, r.r.PaidOn)).ToArray();
        return new PayeeView(
            record, currency, people.BalanceOf(payee),
            record.Memberships.OrderBy(m => m.From).Select(m => new PayeeMembership(m.Id, m.AgreementId, book.AgreementName(m.AgreementId), m.From, m.To, m.Products)).ToArray(),
            adjustments.Of(id), runs);
    }

    public PayeeDraft? Draft(string id)
    {
        var record = db.Payees.AsNoTracking().Include(p => p.Codes).FirstOrDefault(p => p.Id == id);
        return record is null ? null : new PayeeDraft
        {
            Name = record.Name,
            Role = record.Role,
            Email = record.Email ?? "",
            PayoutCurrency = record.PayoutCurrency,
            ActiveFrom = record.ActiveFrom,
            Codes = string.Join(' ', record.Codes.OrderBy(c => c.Id).Select(c => c.Code).DistinctBy(CouponCode.Normal)),
            Minimum = record.Minimum == 0 ? "" : new Money(record.Minimum, Currency.Of(record.PayoutCurrency)).ToMajorText(),
            HoldDays = record.HoldDays,
            WithholdingPercent = Typed(record.WithholdingPercent),
            ActiveTo = record.ActiveTo,
            CustomerKeys = string.Join(' ', record.CustomerKeys),
            RecruitedBy = record.RecruitedBy ?? "",
            OnHold = record.OnHold,
            RecoupPercent = Typed(record.RecoupPercent),
            TransferFee = record.TransferFee == 0 ? "" : new Money(record.TransferFee, Currency.Of(record.PayoutCurrency)).ToMajorText(),
            FreeTransfers = record.FreeTransfers,
            Method = record.Method,
            Schedule = record.Schedule,
            TaxForm = record.TaxForm,
            Language = record.Language,
            PostalAddress = record.PostalAddress,
            TaxNumber = record.TaxNumber,
            IsUnsubscribed = record.IsUnsubscribed,
        };
    }

    /// <summary>With two such agreements, the one written first; the terms page says that there are two.</summary>
    private void PutOnDefault(PayeeRecord record)
    {
        if (db.Agreements.Where(a => a.ForNewAffiliates).Select(a => new { a.Id, First = a.Versions.Min(v => v.Id) }).OrderBy(a => a.First).FirstOrDefault() is { } agreement)
        {
            record.Memberships.Add(new MembershipRecord { AgreementId = agreement.Id, From = record.ActiveFrom });
        }
    }

    private static string Typed(Rate rate) => rate == Rate.Zero ? "" : rate.ToPercentText();

    /// <summary>Enters a payee that is known to be sound, with agreements, advances and personal terms; the caller saves.</summary>
    internal void Enter(Payee payee, string name, string by)
    {
        var id = payee.Id.Value;
        db.Payees.Add(new PayeeRecord
        {
            Id = id,
            Position = NextPosition(),
            Name = name,
            Role = payee.Role,
            PayoutCurrency = payee.PayoutCurrency.Code,
            ActiveFrom = payee.ActiveFrom,
            ActiveTo = payee.ActiveTo,
            HoldDays = payee.HoldDays,
            OnHold = payee.OnHold,
            Minimum = payee.Minimum,
            WithholdingPercent = payee.WithholdingPercent,
            TransferFee = payee.TransferFee,
            FreeTransfers = payee.FreeTransfers,
            RecoupPercent = payee.RecoupPercent,
            RecruitedBy = payee.RecruitedBy?.Value,
            CustomerKeys = payee.CustomerKeys.ToList(),
            Codes = payee.Codes.DistinctBy(c => (CouponCode.Normal(c.Text), c.From, c.To)).Select(c => new PayeeCodeRecord { Code = c.Text, From = c.From, To = c.To }).ToList(),
            Memberships = payee.Memberships.Select(m => new MembershipRecord { AgreementId = m.Agreement.Value, From = m.From, To = m.To, Products = m.Products?.Select(p => p.Value).ToList() }).ToList(),
            Advances = payee.Advances.Select(a => new AdvanceRecord { Reference = a.Id, On = a.On, Amount = a.Amount, Note = a.Id }).ToList(),
            PersonalTerms = payee.PersonalTerms.Select(t => new PersonalTermRecord
            {
                AgreementId = t.Agreement.Value,
                From = t.From,
                To = t.To,
                Document = VersionDocuments.Write(t.Term),
            }).ToList(),
        });
        audit.Note(by, "save payee", name);
    }

    private int NextPosition() => db.Payees.Count() + db.ChangeTracker.Entries<PayeeRecord>().Count(e => e.State == EntityState.Added);

    /// <summary>What of a payee as typed cannot be taken.</summary>
    /// <param name="id">The payee to change; null for somebody new.</param>
    internal IReadOnlyList<FieldFault> Faults(string? id, PayeeDraft draft) => Read(id, draft).Faults;

    private sealed record ReadPayee(string Name, Currency Currency, string[] Codes, long Minimum, Rate Withholding, Rate Recoup, long TransferFee, PayoutSchedule Schedule);

    private (ReadPayee Read, IReadOnlyList<FieldFault> Faults) Read(string? id, PayeeDraft draft)
    {
        var fields = new FieldReader();
        var codes = draft.Codes.Split([' ', ','], StringSplitOptions.RemoveEmptyEntries).DistinctBy(CouponCode.Normal).ToArray();
        var name = fields.Required("Name", draft.Name, "Give the payee's name.");
        var currency = fields.Currency("PayoutCurrency", draft.PayoutCurrency, "Choose the currency they are paid in.");
        if (draft.ActiveFrom is null) fields.Refuse("ActiveFrom", "Say from which day they are active.");
        fields.Days("HoldDays", draft.HoldDays);
        var minimum = fields.Amount("Minimum", draft.Minimum, currency) ?? 0;
        var withholding = fields.Percent("WithholdingPercent", draft.WithholdingPercent) ?? Rate.Zero;
        var recoup = fields.Percent("RecoupPercent", draft.RecoupPercent) ?? Rate.Zero;
        var transferFee = fields.Amount("TransferFee", draft.TransferFee, currency) ?? 0;
        if (draft.FreeTransfers is < 0 or > 1000) fields.Refuse("FreeTransfers", "Give 0 to 1000 payments.");
        if (!PayoutSchedule.TryParse(draft.Schedule.Trim().ToLowerInvariant(), out var schedule)) fields.Refuse("Schedule", "Write monthly, monthly-working, twice, weekly-1 to weekly-7, every-10-from-2026-01-05, or request.");
        if (draft.ActiveTo <= draft.ActiveFrom) fields.Refuse("ActiveTo", "That is before they become active.");
        if (draft.RecruitedBy.Length > 0 && (draft.RecruitedBy == id || cache.Get(db).Rules.FindPayee(new PayeeId(draft.RecruitedBy)) is null)) fields.Refuse("RecruitedBy", "Choose another payee.");
        var own = id is null ? [] : db.PayeeCodes.Where(c => c.PayeeId == id).Select(c => c.Code).AsEnumerable().Select(CouponCode.Normal).ToHashSet();
        string[] added = [.. codes.Where(c => !own.Contains(CouponCode.Normal(c)))];
        foreach (var taken in db.PayeeCodes.Where(c => added.Contains(c.Code) && c.PayeeId != (id ?? "")).ToArray())
        {
            fields.Refuse("Codes", $"The code {taken.Code} belongs to {cache.Get(db).PayeeName(taken.PayeeId)} already{(taken.From is null && taken.To is null ? "" : " on some days; give this one its days on the payee's page")}.");
        }
        if (draft.Language.Trim() is { Length: > 0 } language && !Languages.IsKnown(language)) fields.Refuse("Language", "Write the language as en, de or pt-BR.");
        if (draft.Email.Trim() is { Length: > 0 } email && !Outbox.IsAddress(email, out _)) fields.Refuse("Email", "This is no e-mail address; write it as name@shop.example.");
        var held = id is null ? null : db.Payees.AsNoTracking().Known(p => p.Id == id);
        if (held is not null && currency.Code is not null && held.PayoutCurrency != currency.Code)
        {
            if (db.Remittances.Any(r => r.Payee == id)) fields.Refuse("PayoutCurrency", $"They have been paid in {held.PayoutCurrency}, and balances carried in it cannot change currency.");
            else if (db.Advances.Any(a => a.PayeeId == id)) fields.Refuse("PayoutCurrency", $"They were paid ahead in {held.PayoutCurrency}, and an advance cannot change currency.");
        }
        return (new ReadPayee(name, currency, codes, minimum, withholding, recoup, transferFee, schedule), fields.Faults);
    }

    /// <param name="id">The payee to change; null adds one.</param>
    /// <param name="wanted">The id of somebody new; empty makes one of the name.</param>
    /// <param name="isPutOnDefault">Whether a new affiliate is put on the agreement for new affiliates.</param>
    /// <returns>The payee's id, or the fields at fault.</returns>
    public (string? Id, IReadOnlyList<FieldFault> Faults) Save(string? id, PayeeDraft draft, string by, string wanted = "", bool isPutOnDefault = true)
    {
        var (read, faults) = Read(id, draft);
        if (faults.Count > 0) return (null, faults);
        var record = id is null ? null : db.Payees.Include(p => p.Codes).Known(p => p.Id == id);
        using var change = rulesChange.Begin();
        var isNew = record is null;
        if (record is null)
        {
            id = Ids.Free(wanted.Length > 0 ? wanted : draft.Name, taken => db.Payees.Any(p => p.Id == taken));
            record = new PayeeRecord { Id = id, Position = NextPosition(), Name = "", PayoutCurrency = "" };
            db.Payees.Add(record);
        }
        var before = record.Email;
        var keys = draft.CustomerKeys.Split(' ', StringSplitOptions.RemoveEmptyEntries).Distinct().ToList();
        record.Name = read.Name;
        record.Role = draft.Role;
        record.Email = draft.Email.Trim().Length == 0 ? null : draft.Email.Trim();
        record.PayoutCurrency = read.Currency.Code;
        record.ActiveFrom = draft.ActiveFrom!.Value;
        record.HoldDays = draft.HoldDays;
        record.Minimum = read.Minimum;
        record.WithholdingPercent = read.Withholding;
        record.ActiveTo = draft.ActiveTo;
        record.CustomerKeys = keys;
        record.RecruitedBy = draft.RecruitedBy.Length == 0 ? null : draft.RecruitedBy;
        record.OnHold = draft.OnHold;
        record.RecoupPercent = read.Recoup;
        record.TransferFee = read.TransferFee;
        record.FreeTransfers = draft.FreeTransfers ?? 0;
        record.Method = draft.Method;
        record.Schedule = read.Schedule.ToString();
        record.TaxForm = draft.TaxForm.Trim();
        (record.Language, record.PostalAddress, record.TaxNumber, record.IsUnsubscribed) = (draft.Language.Trim(), draft.PostalAddress.Trim(), draft.TaxNumber.Trim(), draft.IsUnsubscribed);
        var normal = read.Codes.Select(CouponCode.Normal).ToHashSet();
        record.Codes.RemoveAll(c => !normal.Contains(CouponCode.Normal(c.Code)));
        normal.ExceptWith(record.Codes.Select(c => CouponCode.Normal(c.Code)));
        foreach (var code in read.Codes.Where(c => normal.Contains(CouponCode.Normal(c)))) record.Codes.Add(new PayeeCodeRecord { Code = code });
        if (isNew && isPutOnDefault && draft.Role == PayeeRole.Affiliate) PutOnDefault(record);
        audit.Note(by, "save payee", record.Name);
        change.Commit();
        TellOfAddress(record, before, by);
        return (record.Id, []);
    }

    /// <summary>Whoever takes somebody's address over takes their mail over: the old one is told too.</summary>
    private void TellOfAddress(PayeeRecord record, string? before, string by)
    {
        if (before is null || string.Equals(before, record.Email, StringComparison.OrdinalIgnoreCase)) return;
        var words = record.Email is { } now ? $"{by} has changed your e-mail address from {before} to {now}." : $"{by} has taken your e-mail address, {before}, out of the book.";
        foreach (var (address, which) in new[] { (before, "old"), (record.Email, "new") })
        {
            if (address is not null) mails.Tell(record.Id, $"address-{record.Id}-{which}-{Guid.NewGuid():N}", words, address);
        }
    }

    /// <summary>Takes out of the book somebody who never earned, was paid or was named in it; the caller saves.</summary>
    /// <exception cref="RefusedException">Something of the book is theirs.</exception>
    internal void Remove(string id, string by)
    {
        var record = db.Payees.Include(p => p.Codes).Include(p => p.Memberships).Include(p => p.PersonalTerms).Include(p => p.Advances).AsSplitQuery().FirstOrDefault(p => p.Id == id);
        if (record is null) return;
        if (InUse(id) is { } use) throw new RefusedException($"{record.Name} cannot be taken out of the book: {use}. End their time instead.");
        // Payout details are never deleted, so whose they were stays too.
        if (db.PayoutDetails.Any(d => d.Payee == id)) (record.Codes, record.Memberships, record.ActiveTo) = ([], [], record.ActiveFrom.AddDays(1));
        else db.Payees.Remove(record);
        audit.Note(by, "take payee away", record.Name);
    }

    private string? InUse(string id) =>
        db.Entries.Any(e => e.Payee == id) ? "they have earned"
        : db.Remittances.Any(r => r.Payee == id) ? "they stand in a run"
        : db.Adjustments.Any(a => a.Payee == id) ? "they have an adjustment"
        : db.Advances.Any(a => a.PayeeId == id) ? "they were paid ahead"
        : db.Orders.Any(o => o.ManualPayee == id) ? "an order is assigned to them"
        : db.Clicks.Any(c => c.Payee == id) || db.OrderClicks.Any(c => c.Payee == id) ? "clicks are theirs"
        : db.Payees.Any(p => p.RecruitedBy == id) ? "they recruited somebody"
        : db.Products.Any(p => p.Vendor == id) ? "they are the vendor of a product"
        : db.PayoutDetails.Any(d => d.Payee == id && d.ConfirmedBy != null) ? "their payout details are confirmed"
        : db.Acceptances.Any(a => a.Payee == id) ? "they have accepted an agreement"
        : null;
}
