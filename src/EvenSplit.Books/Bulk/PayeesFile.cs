using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.People;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Bulk;

/// <summary>What a row says of a payee, beside what the book says.</summary>
/// <param name="Id">Null for somebody new.</param>
/// <param name="Wanted">The id that the file gives somebody new; empty where one is made of the name.</param>
/// <param name="Joins">Agreements they are to be put on.</param>
/// <param name="Details">A bank account or wallet that is to be proposed for them; null for none.</param>
internal sealed record PayeeRow(long Line, string? Id, string Wanted, PayeeDraft? Was, PayeeDraft Becomes, IReadOnlyList<string> Joins, PayoutDetailsDraft? Details);

/// <summary>
/// payees.csv: a row is a payee, known by the id, else by the e-mail address, else by the name. Cells that are empty and columns the file does not have leave things as
/// they are; codes and agreements come to those a payee has.
/// </summary>
public sealed class PayeesFile(BookDbContext db, BookCache cache, BookClock clock, PayeeDesk desk, PayoutDetails details) : IUseCase
{
    public static CsvColumns Columns { get; } = new(
        "payees", ["name"],
        ["payee", "role", "email", "payout_currency", "payout_method", "account", "active_from", "active_to", "codes", "minimum", "schedule", "hold_days", "recruited_by", "agreements", "withholding_percent", "tax_form"]);

    private static readonly Dictionary<string, string> FieldColumns = new()
    {
        [nameof(PayeeDraft.Name)] = "name",
        [nameof(PayeeDraft.Email)] = "email",
        [nameof(PayeeDraft.PayoutCurrency)] = "payout_currency",
        [nameof(PayeeDraft.ActiveFrom)] = "active_from",
        [nameof(PayeeDraft.ActiveTo)] = "active_to",
        [nameof(PayeeDraft.Codes)] = "codes",
        [nameof(PayeeDraft.Minimum)] = "minimum",
        [nameof(PayeeDraft.Schedule)] = "schedule",
        [nameof(PayeeDraft.HoldDays)] = "hold_days",
        [nameof(PayeeDraft.RecruitedBy)] = "recruited_by",
        [nameof(PayeeDraft.WithholdingPercent)] = "withholding_percent",
        [nameof(PayeeDraft.TaxForm)] = "tax_form",
        [nameof(PayoutDetailsDraft.Iban)] = "account",
        [nameof(PayoutDetailsDraft.Bic)] = "account",
        [nameof(PayoutDetailsDraft.Recipient)] = "account",
    };

    /// <summary>Everybody as such a file. Accounts are not written: they are never shown again.</summary>
    public (IReadOnlyList<string> Header, IEnumerable<IReadOnlyList<string>> Rows) Write()
    {
        string Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";
        string[] header = [.. Columns.All.Where(c => c != "account")];
        var memberships = db.Memberships.AsNoTracking().Where(m => m.To == null || m.To > clock.Today).OrderBy(m => m.From).AsEnumerable().ToLookup(m => m.PayeeId, m => m.AgreementId);
        return (header, db.Payees.AsNoTracking().OrderBy(p => p.Position).Select(p => p.Id).ToArray().Select(id => (Id: id, Draft: desk.Draft(id)!)).Select(IReadOnlyList<string> (p) =>
        [
            p.Draft.Name, p.Id, p.Draft.Role.ToString().ToLowerInvariant(), p.Draft.Email, p.Draft.PayoutCurrency, Words(p.Draft.Method), Day(p.Draft.ActiveFrom), Day(p.Draft.ActiveTo), p.Draft.Codes, p.Draft.Minimum,
            p.Draft.Schedule, p.Draft.HoldDays?.ToString(CultureInfo.InvariantCulture) ?? "", p.Draft.RecruitedBy, string.Join(' ', memberships[p.Id].Distinct()), p.Draft.WithholdingPercent, p.Draft.TaxForm,
        ]));
    }

    /// <exception cref="CsvFileException">No such file.</exception>
    internal (IReadOnlyList<PayeeRow> Rows, IReadOnlyList<RowFault> Faults, IReadOnlyList<string> ExtraColumns) Read(Stream file)
    {
        using var table = new CsvTable(file, Columns);
        var known = db.Payees.AsNoTracking().Select(p => new KnownPayee(p.Id, p.Name, p.Email)).ToArray();
        var (read, faults) = (new List<PayeeRow>(), new List<RowFault>());
        var (codes, people) = (new Dictionary<string, long>(), new Dictionary<string, long>(StringComparer.OrdinalIgnoreCase));
        foreach (var row in table.Rows())
        {
            if (row.Damage is { } damage)
            {
                faults.Add(new RowFault(row.Line, "", "", damage));
                continue;
            }
            var payee = ReadRow(row, known, faults);
            read.Add(payee);
            var person = payee.Id ?? (payee.Wanted.Length > 0 ? payee.Wanted : payee.Becomes.Name);
            if (!people.TryAdd(person, row.Line)) faults.Add(new RowFault(row.Line, row["payee"].Length > 0 ? "payee" : "name", person, $"each payee once; row {people[person]} is of the same"));
            foreach (var code in Words(row["codes"]).Select(CouponCode.Normal).Distinct().Where(c => !codes.TryAdd(c, row.Line))) faults.Add(new RowFault(row.Line, "codes", code, $"a code of one payee; row {codes[code]} has it too"));
        }
        return (read, faults, table.ExtraColumns);
    }

    private sealed record KnownPayee(string Id, string Name, string? Email);

    private static KnownPayee? Whose(CsvRow row, KnownPayee[] known) =>
        row["payee"].Length > 0 ? Array.Find(known, k => k.Id == row["payee"])
        : (row["email"].Length > 0 ? Array.Find(known, k => string.Equals(k.Email, row["email"], StringComparison.OrdinalIgnoreCase)) : null) ?? Array.Find(known, k => string.Equals(k.Name, row["name"], StringComparison.OrdinalIgnoreCase));

    private PayeeRow ReadRow(CsvRow row, KnownPayee[] known, List<RowFault> faults)
    {
        var id = Whose(row, known)?.Id;
        var was = id is null ? null : desk.Draft(id);
        var before = was ?? new PayeeDraft { Role = PayeeRole.Affiliate, PayoutCurrency = cache.Get(db).Currency.Code, ActiveFrom = FirstUse(Words(row["codes"])) };
        string Cell(string column, string otherwise) => row[column].Length > 0 ? row[column] : otherwise;
        void Fault(string column, string expected) => faults.Add(new RowFault(row.Line, column, row[column], expected));
        DateOnly? Day(string column, DateOnly? otherwise)
        {
            if (row[column].Length == 0) return otherwise;
            if (DateOnly.TryParseExact(row[column], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)) return day;
            Fault(column, "a date such as 2026-10-31");
            return otherwise;
        }
        var hold = before.HoldDays;
        if (row["hold_days"].Length > 0)
        {
            if (int.TryParse(row["hold_days"], NumberStyles.None, CultureInfo.InvariantCulture, out var days)) hold = days;
            else Fault("hold_days", "a whole number of days");
        }
        if (row["role"].Length > 0 && RoleOf(row["role"]) is null) Fault("role", "affiliate, collaborator or vendor");
        if (id is null && row["payee"].Any(c => !char.IsAsciiLetterOrDigit(c) && c is not ('-' or '_' or '.'))) Fault("payee", "an id of letters, digits, and - _ . only");
        var (method, account) = Account(row, before.Method, Fault);
        var becomes = before with
        {
            Name = Cell("name", before.Name),
            Role = RoleOf(row["role"]) ?? before.Role,
            Email = Cell("email", before.Email),
            PayoutCurrency = Cell("payout_currency", before.PayoutCurrency).ToUpperInvariant(),
            // Where the money goes is proposed for a second person; until then they are paid as they were.
            Method = account is null ? method : before.Method,
            ActiveFrom = Day("active_from", before.ActiveFrom),
            ActiveTo = Day("active_to", before.ActiveTo),
            Codes = string.Join(' ', Words(before.Codes).Concat(Words(row["codes"])).DistinctBy(CouponCode.Normal)),
            Minimum = Cell("minimum", before.Minimum),
            Schedule = Cell("schedule", before.Schedule),
            HoldDays = hold,
            RecruitedBy = row["recruited_by"].Length == 0 ? before.RecruitedBy : Array.Find(known, k => k.Id == row["recruited_by"] || string.Equals(k.Name, row["recruited_by"], StringComparison.OrdinalIgnoreCase))?.Id ?? row["recruited_by"],
            WithholdingPercent = Cell("withholding_percent", before.WithholdingPercent),
            TaxForm = Cell("tax_form", before.TaxForm),
        };
        foreach (var fault in desk.Faults(id, becomes)) faults.Add(Worded(row, fault.Field, fault.Message));
        if (account is not null)
        {
            foreach (var fault in details.Faults(id, account, becomes.PayoutCurrency)) faults.Add(Worded(row, fault.Field, fault.Message));
            if (id is not null && details.IsHeld(id, account, becomes.PayoutCurrency)) account = null;
        }
        return new PayeeRow(row.Line, id, id is null ? row["payee"] : "", was, becomes, Agreements(row, id, becomes, Fault), account);
    }

    private static RowFault Worded(CsvRow row, string field, string message)
    {
        var column = FieldColumns.GetValueOrDefault(field, "name");
        return new RowFault(row.Line, column, row[column], message) { IsSentence = true };
    }

    private static (PayoutMethod Method, PayoutDetailsDraft? Account) Account(CsvRow row, PayoutMethod held, Action<string, string> fault)
    {
        var said = row["payout_method"].ToLowerInvariant();
        var method = said switch
        {
            "" => row["account"].Length == 0 ? held : LooksLikeIban(row["account"]) ? PayoutMethod.Bank : PayoutMethod.Wallet,
            "bank" or "bank transfer" or "transfer" or "iban" => PayoutMethod.Bank,
            "wallet" => PayoutMethod.Wallet,
            "store credit" or "credit" => PayoutMethod.StoreCredit,
            "by hand" or "hand" or "manual" => PayoutMethod.ByHand,
            _ => (PayoutMethod?)null,
        };
        if (method is null) fault("payout_method", "bank, wallet, store credit or by hand");
        if (method is PayoutMethod.Bank or PayoutMethod.Wallet && row["account"].Length == 0 && method != held) fault("account", "the account, since payments are to go to one");
        if (method is not (PayoutMethod.Bank or PayoutMethod.Wallet) || row["account"].Length == 0) return (method ?? held, null);
        return (held, method == PayoutMethod.Bank
            ? new PayoutDetailsDraft { Method = PayoutMethod.Bank, Holder = row["name"], Iban = row["account"] }
            : new PayoutDetailsDraft { Method = PayoutMethod.Wallet, Recipient = row["account"] });
    }

    private static bool LooksLikeIban(string account) => account.Length > 14 && char.IsAsciiLetter(account[0]) && char.IsAsciiLetter(account[1]) && char.IsAsciiDigit(account[2]) && char.IsAsciiDigit(account[3]);

    /// <summary>Those of the row that the payee is not on yet, as ids.</summary>
    private string[] Agreements(CsvRow row, string? id, PayeeDraft draft, Action<string, string> fault)
    {
        if (row["agreements"].Length == 0) return [];
        var book = cache.Get(db);
        var held = id is null ? [] : db.Memberships.Where(m => m.PayeeId == id && (m.To == null || m.To > clock.Today)).Select(m => m.AgreementId).ToArray();
        string? Named(string text) => book.Rules.Agreements.Select(a => a.Id.Value).FirstOrDefault(a => a == text || string.Equals(book.AgreementName(a), text.Trim(), StringComparison.OrdinalIgnoreCase));
        var texts = Named(row["agreements"]) is not null ? [row["agreements"]] : row["agreements"].Split([',', ';', '|'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        var joins = texts.SelectMany(t => Named(t) is { } one ? [(t, one)] : t.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(w => (w, Named(w)))).ToArray();
        foreach (var (text, _) in joins.Where(j => j.Item2 is null)) fault("agreements", $"the name or id of an agreement; there is none called {text}");
        string[] joined = [.. joins.Select(j => j.Item2).OfType<string>().Distinct().Except(held)];
        var referral = held.Concat(joined).Where(a => book.Rules.Agreement(new AgreementId(a)).Basis == Basis.Referral).ToArray();
        if (joined.Length > 0 && referral.Length > 1) fault("agreements", $"one referral agreement at a time, not {string.Join(" and ", referral.Select(book.AgreementName))}");
        return joined;
    }

    /// <summary>Who brought an order was there when it was placed.</summary>
    private DateOnly FirstUse(string[] codes) => codes.Select(c => db.FirstUse(c)).Min() is { } first ? cache.Get(db).Time.DateOf(first) : clock.Today;

    /// <summary>What is said otherwise, in the columns' words.</summary>
    internal IReadOnlyList<(string What, string From, string To)> Parts(PayeeRow row)
    {
        var (from, to) = (Said(row.Was), Said(row.Becomes));
        var book = cache.Get(db);
        return
        [
            .. from.Keys.Where(c => from[c] != to[c]).Select(c => (c, from[c], to[c])),
            .. row.Joins.Select(a => ("agreement", "", $"{book.AgreementName(a)} from {JoinsOn(row).InWords()}")),
            .. row.Details is null ? [] : new[] { ("account", "", $"{details.Masked(row.Details, row.Becomes.PayoutCurrency)}, once a second person confirms it") },
        ];
    }

    /// <summary>Somebody new from the day they are active; somebody known from today, so that nothing sold before is worked out anew.</summary>
    internal DateOnly JoinsOn(PayeeRow row) => row.Was is null ? row.Becomes.ActiveFrom!.Value : clock.Today;

    private static Dictionary<string, string> Said(PayeeDraft? draft) => new()
    {
        ["name"] = draft?.Name ?? "",
        ["role"] = draft?.Role.ToString().ToLowerInvariant() ?? "",
        ["email"] = draft?.Email ?? "",
        ["payout_currency"] = draft?.PayoutCurrency ?? "",
        ["payout_method"] = draft is null ? "" : Words(draft.Method),
        ["active_from"] = draft?.ActiveFrom?.InWords() ?? "",
        ["active_to"] = draft?.ActiveTo?.InWords() ?? "",
        ["codes"] = draft?.Codes ?? "",
        ["minimum"] = draft?.Minimum ?? "",
        ["schedule"] = draft?.Schedule ?? "",
        ["hold_days"] = draft?.HoldDays?.ToString(CultureInfo.InvariantCulture) ?? "",
        ["recruited_by"] = draft?.RecruitedBy ?? "",
        ["withholding_percent"] = draft?.WithholdingPercent ?? "",
        ["tax_form"] = draft?.TaxForm ?? "",
    };

    private static PayeeRole? RoleOf(string text) => text.ToLowerInvariant() switch
    {
        "affiliate" or "influencer" or "ambassador" => PayeeRole.Affiliate,
        "collaborator" or "artist" or "author" or "creator" => PayeeRole.Collaborator,
        "vendor" or "supplier" => PayeeRole.Vendor,
        _ => null,
    };

    private static string Words(PayoutMethod method) => method switch { PayoutMethod.Bank => "bank", PayoutMethod.Wallet => "wallet", PayoutMethod.StoreCredit => "store credit", PayoutMethod.Through => "through another", _ => "by hand" };

    private static string[] Words(string codes) => codes.Split([' ', ','], StringSplitOptions.RemoveEmptyEntries);
}
