using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Books.Bulk;

/// <summary>Terms of one agreement, its own or one payee's, as a file says them.</summary>
/// <param name="Payee">Null for the agreement's own.</param>
internal sealed record TermsRead(Agreement Agreement, Payee? Payee, IReadOnlyList<Term> Terms);

/// <summary>terms.csv: a row is a case of a term; rows of one term follow each other, the case that is looked at first before the others.</summary>
public sealed class TermsFile(BookDbContext db, BookCache cache, BookClock clock) : IUseCase
{
    public static CsvColumns Columns { get; } = new(
        "terms",
        ["agreement", "scope_kind"],
        ["payee", "scope_id", "percent", "per_unit", "per_order", "of", "order_value_at_least", "payment_from", "payment_to", "customer", "sales_at_least", "orders_at_least", "earned_at_least", "window"]);

    private static readonly Dictionary<string, string> ColumnOfField = new()
    {
        ["ScopeId"] = "scope_id",
        ["Percent"] = "percent",
        ["PerUnit"] = "per_unit",
        ["PerOrder"] = "per_order",
        ["GoesTo"] = "of",
        ["OrderValue"] = "order_value_at_least",
        ["PaymentFrom"] = "payment_from",
        ["PaymentTo"] = "payment_to",
        ["Sales"] = "sales_at_least",
        ["Orders"] = "orders_at_least",
        ["Earned"] = "earned_at_least",
    };

    /// <summary>Every term in force today as such a file.</summary>
    public (IReadOnlyList<string> Header, IEnumerable<IReadOnlyList<string>> Rows) Write()
    {
        var (rules, today) = (cache.Get(db).Rules, clock.Today);
        var own = rules.Agreements.OrderBy(a => a.Id).SelectMany(a => a.VersionOn(today)?.Terms.SelectMany(t => Rows(a, null, t)) ?? []);
        var personal = rules.Payees.SelectMany(p => p.PersonalTerms.Where(t => t.InForceOn(today)).SelectMany(t => Rows(rules.Agreement(t.Agreement), p, t.Term)));
        return ([.. Columns.All], own.Concat(personal).Select(cells => (IReadOnlyList<string>)[.. Columns.All.Select(c => cells.GetValueOrDefault(c, ""))]));
    }

    /// <exception cref="CsvFileException">No such file.</exception>
    internal (IReadOnlyList<TermsRead> Terms, IReadOnlyList<RowFault> Faults, IReadOnlyList<string> ExtraColumns) Read(Stream file)
    {
        using var table = new CsvTable(file, Columns);
        var rules = cache.Get(db).Rules;
        var faults = new List<RowFault>();
        var read = new Dictionary<(AgreementId, PayeeId?), List<Term>>();
        foreach (var rows in Together(table.Rows()))
        {
            var (first, count) = (rows[0], faults.Count);
            faults.AddRange(rows.Where(r => r.Damage is not null).Select(r => new RowFault(r.Line, "", "", r.Damage!)));
            var agreement = rules.Agreements.FirstOrDefault(a => a.Id.Value == first["agreement"]);
            if (agreement is null) faults.Add(new RowFault(first.Line, "agreement", first["agreement"], "the id of an agreement"));
            var payee = first["payee"].Length == 0 ? null : rules.FindPayee(new PayeeId(first["payee"]));
            if (payee is null && first["payee"].Length > 0) faults.Add(new RowFault(first.Line, "payee", first["payee"], "the id of a payee, or nothing for the agreement's own term"));
            var reader = new DraftReader(rules);
            var term = reader.Read(Draft(rows, faults), "Term", agreement?.Currency ?? cache.Get(db).Currency);
            faults.AddRange(reader.Faults.Select(f => ToRow(f, rows)));
            if (faults.Count > count) continue;
            var key = (agreement!.Id, payee?.Id);
            if (!read.TryGetValue(key, out var terms)) read[key] = terms = [];
            if (terms.Exists(t => t.Scope == term.Scope)) faults.Add(new RowFault(first.Line, "scope_id", first["scope_id"], "each scope once; its cases follow each other"));
            terms.Add(term);
        }
        return (
            [.. read.Select(r => new TermsRead(rules.Agreement(r.Key.Item1), r.Key.Item2 is { } payee ? rules.Payee(payee) : null, r.Value))],
            [.. faults.DistinctBy(f => (f.Row, f.Column)).OrderBy(f => f.Row)], table.ExtraColumns);
    }

    private static IEnumerable<List<CsvRow>> Together(IEnumerable<CsvRow> rows)
    {
        List<CsvRow>? together = null;
        foreach (var row in rows)
        {
            if (together is not null && Of(together[0]) != Of(row))
            {
                yield return together;
                together = null;
            }
            (together ??= []).Add(row);
        }
        if (together is not null) yield return together;

        static (string, string, string, string) Of(CsvRow row) => (row["agreement"], row["payee"], row["scope_kind"], row["scope_id"]);
    }

    private static TermDraft Draft(List<CsvRow> rows, List<RowFault> faults)
    {
        var kind = Choice(rows[0], "scope_kind", "all", faults, ("all", ScopeKind.All), ("collection", ScopeKind.Collection), ("product", ScopeKind.Product), ("variant", ScopeKind.Variant));
        return new TermDraft { ScopeKind = kind, ScopeId = rows[0]["scope_id"], Cases = rows.ConvertAll(r => Case(r, faults)) };
    }

    private static CaseDraft Case(CsvRow row, List<RowFault> faults)
    {
        var draft = new CaseDraft
        {
            OrderValue = row["order_value_at_least"],
            PaymentFrom = (int?)Number(row, "payment_from", faults),
            PaymentTo = (int?)Number(row, "payment_to", faults),
            Customer = Choice<CustomerKind?>(row, "customer", "", faults, ("", null), ("new", CustomerKind.New), ("returning", CustomerKind.Returning)),
            Sales = row["sales_at_least"],
            Orders = Number(row, "orders_at_least", faults),
            Earned = row["earned_at_least"],
            Window = Choice(row, "window", "lifetime", faults, ("lifetime", ProgressWindow.Lifetime), ("month", ProgressWindow.Month), ("quarter", ProgressWindow.Quarter), ("year", ProgressWindow.Year)),
            Percent = row["percent"],
            PerUnit = row["per_unit"],
            PerOrder = row["per_order"],
            GoesTo = Choice(row, "of", "payee", faults, ("payee", RateGoesTo.Payee), ("house", RateGoesTo.House)),
        };
        // A row without an amount is an explicit nothing, as in a scenario.
        return draft.HasAmount ? draft : draft with { GoesTo = RateGoesTo.Nobody };
    }

    private static T Choice<T>(CsvRow row, string column, string otherwise, List<RowFault> faults, params (string Word, T Value)[] words)
    {
        var typed = row[column].Length == 0 ? otherwise : row[column].ToLowerInvariant();
        foreach (var (word, value) in words)
        {
            if (word == typed) return value;
        }
        faults.Add(new RowFault(row.Line, column, row[column], string.Join(", ", words.Select(w => w.Word).Where(w => w.Length > 0))));
        return words[0].Value;
    }

    private static long? Number(CsvRow row, string column, List<RowFault> faults)
    {
        if (row[column].Length == 0) return null;
        if (int.TryParse(row[column], NumberStyles.None, CultureInfo.InvariantCulture, out var number)) return number;
        faults.Add(new RowFault(row.Line, column, row[column], "a whole number of 0 or more"));
        return null;
    }

    /// <param name="fault">At a field such as Term.Cases[2].Percent.</param>
    private static RowFault ToRow(Forms.FieldFault fault, List<CsvRow> rows)
    {
        var column = ColumnOfField[fault.Field[(fault.Field.LastIndexOf('.') + 1)..]];
        var at = fault.Field.IndexOf('[', StringComparison.Ordinal);
        var row = at < 0 ? rows[0] : rows[int.Parse(fault.Field[(at + 1)..fault.Field.IndexOf(']', StringComparison.Ordinal)], CultureInfo.InvariantCulture)];
        return new RowFault(row.Line, column, row[column], fault.Message) { IsSentence = true };
    }

    private static IEnumerable<Dictionary<string, string>> Rows(Agreement agreement, Payee? payee, Term term) => TermDraft.Of(term, agreement.Currency).Cases.Select(c => new Dictionary<string, string>
    {
        ["agreement"] = agreement.Id.Value,
        ["payee"] = payee?.Id.Value ?? "",
        ["scope_kind"] = term.Scope.Kind.ToString().ToLowerInvariant(),
        ["scope_id"] = term.Scope.Id ?? "",
        ["percent"] = c.Percent,
        ["per_unit"] = c.PerUnit,
        ["per_order"] = c.PerOrder,
        ["of"] = c.GoesTo == RateGoesTo.House ? "house" : "payee",
        ["order_value_at_least"] = c.OrderValue,
        ["payment_from"] = c.PaymentFrom?.ToString(CultureInfo.InvariantCulture) ?? "",
        ["payment_to"] = c.PaymentTo?.ToString(CultureInfo.InvariantCulture) ?? "",
        ["customer"] = c.Customer?.ToString().ToLowerInvariant() ?? "",
        ["sales_at_least"] = c.Sales,
        ["orders_at_least"] = c.Orders?.ToString(CultureInfo.InvariantCulture) ?? "",
        ["earned_at_least"] = c.Earned,
        ["window"] = c.AsksProgress ? c.Window.ToString().ToLowerInvariant() : "",
    });
}
