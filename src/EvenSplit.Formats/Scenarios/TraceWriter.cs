using System.Globalization;
using System.Text.Json;
using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Writes how every amount of an order came about, as data and as sentences; docs/formats.md describes it.</summary>
public static class TraceWriter
{
    /// <summary>The traces of some orders, as a section of a result.</summary>
    internal static void WriteAll(Stream output, Rulebook rules, IReadOnlyList<OrderLedger> ledgers)
    {
        var teller = new TraceTeller(rules, new Naming(p => p.Value, a => a.Value, p => p.Value));
        output.Write("\"traces\": "u8);
        using var json = new Utf8JsonWriter(output);
        json.WriteStartArray();
        foreach (var ledger in ledgers)
        {
            Write(json, rules, ledger, teller);
            json.Flush();
            output.Write("\n"u8);
        }
        json.WriteEndArray();
        json.Flush();
    }

    /// <param name="teller">Puts the same into sentences.</param>
    public static void Write(Utf8JsonWriter json, Rulebook rules, OrderLedger ledger, TraceTeller teller)
    {
        var sale = ledger.SaleAmounts.ToDictionary(a => a.Key);
        var amounts = ledger.SaleAmounts.Concat(ledger.CurrentAmounts.Where(a => !sale.ContainsKey(a.Key))).ToArray();
        foreach (var (amount, trace) in amounts.Zip(teller.Tell(ledger, amounts)))
        {
            json.WriteStartObject();
            var key = amount.Key;
            json.WriteString("order", ledger.Order.Id.Value);
            json.WriteString("line", ledger.Order.Lines[key.LineIndex].Id.Value);
            json.WriteString("payee", key.Payee.Value);
            json.WriteString("agreement", key.Agreement.Value);
            json.WriteString("part", Words.Write(key.Part));
            if (amount.Share.Agreement.Basis == Basis.Referral) WriteAttribution(json, ledger.Attribution);
            WriteTerm(json, ledger, rules, amount);
            WriteBase(json, amount);
            WriteAmounts(json, ledger, amount, sale.ContainsKey(key));
            json.WriteStartArray("sentences");
            foreach (var sentence in trace.Sentences) json.WriteStringValue(sentence);
            json.WriteEndArray();
            json.WriteEndObject();
        }
    }

    private static void WriteAttribution(Utf8JsonWriter json, AttributionDecision attribution)
    {
        json.WriteStartArray("candidates");
        foreach (var candidate in attribution.Candidates)
        {
            json.WriteStartObject();
            json.WriteString("payee", candidate.Payee?.Value);
            json.WriteString("via", Words.Write(candidate.Via));
            if (candidate.Evidence is { } evidence) json.WriteString("evidence", evidence);
            if (candidate.ClickedAt is { } at) json.WriteString("at", at);
            json.WriteString("verdict", Words.WriteHyphenated(candidate.Verdict));
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void WriteTerm(Utf8JsonWriter json, OrderLedger ledger, Rulebook rules, ShareAmount amount)
    {
        var (share, line) = (amount.Share, amount.Line);
        json.WriteString("version", Date(share.Version.From));
        json.WriteStartObject("term");
        json.WriteNumber("number", line.Term.Number);
        json.WriteBoolean("personal", line.Term.IsPersonal);
        json.WriteNumber("case", line.CaseNumber);
        json.WriteEndObject();
        json.WriteStartArray("passedOverTerms");
        var sold = ledger.Figures.Lines[line.LineIndex];
        foreach (var (term, why) in TermChoice.PassedOver(line.Term, share.Payee, share.Agreement, share.Version, sold.Product, sold.Line.Variant, rules.Policy.Time.DateOf(ledger.Order.PlacedAt)))
        {
            json.WriteStartObject();
            json.WriteNumber("number", term.Number);
            json.WriteBoolean("personal", term.IsPersonal);
            json.WriteString("why", Words.WriteHyphenated(why));
            json.WriteEndObject();
        }
        json.WriteEndArray();
        json.WriteStartArray("passedOverCases");
        foreach (var passed in line.PassedOver)
        {
            json.WriteStartObject();
            json.WriteNumber("number", passed.Number);
            json.WriteString("failed", Words.WriteHyphenated(passed.Failed));
            if (passed.OrderValue is { } value) json.WriteNumber("orderValue", value);
            if (passed.Reached is { } reached)
            {
                json.WriteNumber("sales", reached.Sales);
                json.WriteNumber("orders", reached.Orders);
                json.WriteNumber("earned", reached.Earned);
            }
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void WriteBase(Utf8JsonWriter json, ShareAmount amount)
    {
        if (amount.Trace is { } trace)
        {
            json.WriteStartArray("base");
            foreach (var step in trace.BaseSteps)
            {
                json.WriteStartObject();
                json.WriteString("step", Words.WriteHyphenated(step.Kind));
                json.WriteString("amount", step.Amount.ToExactText());
                json.WriteEndObject();
            }
            json.WriteEndArray();
            json.WriteString("shareBase", trace.Base.ToExactText());
            if (trace.Rounding is { } rounding) WriteRounding(json, rounding);
        }
        if (amount.PassedOn.Count == 0) return;
        json.WriteStartArray("passed");
        foreach (var passed in amount.PassedOn)
        {
            json.WriteStartObject();
            json.WriteString("kind", Words.WriteHyphenated(passed.Kind));
            json.WriteNumber("whole", passed.Whole);
            json.WriteNumber("among", passed.Among);
            json.WriteNumber("amount", passed.Amount);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void WriteRounding(Utf8JsonWriter json, RoundingTrace rounding)
    {
        json.WriteString("exact", rounding.Exact.ToExactText());
        json.WriteNumber("rounded", rounding.Rounded);
        json.WriteNumber("roundedWith", rounding.Others);
        json.WriteString("exactSum", rounding.ExactSum.ToExactText());
        json.WriteStartArray("oddUnitsTo");
        foreach (var payee in rounding.OddUnitsTo) json.WriteStringValue(payee.Value);
        json.WriteEndArray();
    }

    private static void WriteAmounts(Utf8JsonWriter json, OrderLedger ledger, ShareAmount amount, bool atSale)
    {
        var key = amount.Key;
        var line = ledger.Order.Lines[key.LineIndex].Id;
        var left = atSale ? amount.Amount.Minor : 0;
        json.WriteString("currency", amount.Amount.Currency.Code);
        json.WriteNumber("atSale", left);
        json.WriteStartArray("refunds");
        foreach (var reversal in ledger.Reversals.Where(r => r.Line == line && r.Payee == key.Payee && r.Agreement == key.Agreement && r.Part == key.Part))
        {
            left += reversal.Amount.Minor;
            json.WriteStartObject();
            json.WriteString("refund", reversal.Refund?.Value);
            json.WriteString("postedOn", Date(reversal.PostedOn));
            json.WriteNumber("amount", reversal.Amount.Minor);
            json.WriteEndObject();
        }
        json.WriteEndArray();
        json.WriteNumber("left", left);
    }

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
