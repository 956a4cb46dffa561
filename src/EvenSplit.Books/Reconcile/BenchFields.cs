using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Reconcile;

/// <summary>Sets out both sides of a row field by field, for a reader.</summary>
internal sealed class BenchFields(BookDbContext db, OpenedBook book)
{
    public IReadOnlyList<(string Field, string Theirs, string Ours, bool Differs)> Of(OutsideLineRecord line)
    {
        var currency = Currency.Of(line.Currency);
        var (on, what, currencyOurs) = Ours(line.Ours);
        var isComparable = line.GrossOurs is not null;
        string OursMoney(long? minor) => minor is { } m ? new Money(m, currency).InWords() : currencyOurs is { } other && other.Code != line.Currency && line.Ours is not null ? $"in {other.Code}" : "–";
        var fields = new List<(string, string, string, bool)>
        {
            ("What", What(line), what, false),
            (line.Bench switch { Bench.Processors => "Settled, paid", Bench.Bank => "Booked, dated", _ => "Until" }, line.On.InWords(), on?.InWords() ?? "–", false),
            (line.Bench == Bench.Processors ? "Gross" : "Amount", new Money(line.Gross, currency).InWords(), OursMoney(line.GrossOurs), isComparable ? line.Gross != line.GrossOurs : line.Findings != Finding.None),
        };
        if (line.Bench == Bench.Processors)
        {
            fields.Add(("Fee", new Money(line.Fee, currency).InWords(), OursMoney(line.FeeOurs), isComparable && line.Fee != line.FeeOurs));
            fields.Add(("Net", new Money(line.Gross - line.Fee, currency).InWords(), OursMoney(isComparable ? line.GrossOurs - line.FeeOurs : null), isComparable && line.Gross - line.Fee != line.GrossOurs - line.FeeOurs));
        }
        fields.Add((line.Bench switch { Bench.Processors => "Settlement", Bench.Bank => "Account", _ => "Report" }, $"{line.Source}, {line.LineId}", "", false));
        if (line.Reference.Length > 0) fields.Add((line.Bench == Bench.Processors ? "Refund" : line.Bench == Bench.Bank ? "Reference" : "Invoice", line.Reference, "", false));
        if (line.Name.Length > 0) fields.Add(("Name", line.Bench == Bench.Partners ? book.PayeeName(line.Name) : line.Name, "", false));
        if (line.Note.Length > 0) fields.Add(("Note", line.Note, "", false));
        if (line.DueOn is { } due) fields.Add(("Due", due.InWords(), "", false));
        return fields;
    }

    public IReadOnlyList<(string Field, string Theirs, string Ours, bool Differs)> Of(AwaitedRecord ours)
    {
        var currency = Currency.Of(ours.Currency);
        var fields = new List<(string, string, string, bool)> { ("What", "–", Ours(ours.Ours).What, true), ("Dated", "–", ours.On.InWords(), false), ("Amount", "–", new Money(ours.Gross, currency).InWords(), true) };
        if (ours.Bench == Bench.Processors)
        {
            fields.Add(("Fee", "–", new Money(ours.Fee, currency).InWords(), true));
            fields.Add(("Processor", "–", ours.Source, false));
        }
        if (ours.Name.Length > 0) fields.Add(("Payee", "–", book.PayeeName(ours.Name), false));
        return fields;
    }

    private static string What(OutsideLineRecord line) => line.Bench switch
    {
        Bench.Processors => $"{line.Kind.ToString().ToLowerInvariant()}{(line.Order is { } order ? $" of {order}" : "")}",
        Bench.Bank => line.Gross < 0 ? "left the account" : "came in",
        _ => line.Order is { } order ? $"earned on {order}" : $"earned {line.From!.Value.InWords()} to {line.On.InWords()}",
    };

    /// <summary>When it was, what it is, and in which currency.</summary>
    private (DateOnly? On, string What, Currency? Currency) Ours(string? ours)
    {
        if (ours is null) return (null, "nothing", null);
        if (ours.Contains('+', StringComparison.Ordinal)) return (null, $"{ours.Split('+').Length} payments", null);
        var (kind, id) = (ours[..ours.IndexOf(':', StringComparison.Ordinal)], ours[(ours.IndexOf(':', StringComparison.Ordinal) + 1)..]);
        switch (kind)
        {
            case "sale":
                var order = db.Orders.AsNoTracking().Where(o => o.OrderId == id).Select(o => new { o.PaidAt, o.Currency }).FirstOrDefault();
                return (order?.PaidAt is { } paid ? book.Time.DateOf(paid) : null, $"sale of {id}", order is null ? null : Currency.Of(order.Currency));
            case "refund" or "chargeback":
                var refund = db.AllRefunds.AsNoTracking().Where(r => r.RefundId == id).Join(db.Orders, r => r.OrderId, o => o.Id, (r, o) => new { r.At, o.Currency, o.OrderId }).FirstOrDefault();
                return (refund is null ? null : book.Time.DateOf(refund.At), $"{kind} {id} of {refund?.OrderId}", refund is null ? null : Currency.Of(refund.Currency));
            case "remittance":
                var paidOut = db.Remittances.AsNoTracking().Where(r => r.EndToEnd == id || (r.EndToEnd == null && r.Reference == id)).Select(r => new { r.PaidOn, r.Currency, r.Payee, r.State }).FirstOrDefault();
                return (paidOut?.PaidOn, paidOut is null ? id : $"payment {id} to {book.PayeeName(paidOut.Payee)}, {paidOut.State.ToString().ToLowerInvariant()}", paidOut is null ? null : Currency.Of(paidOut.Currency));
            case "payout":
                var payout = db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Processors && l.Source == id && l.Kind == MovementKind.Payout).Select(l => new { l.On, l.Currency }).FirstOrDefault();
                return (payout?.On, $"payout of settlement {id}", payout is null ? null : Currency.Of(payout.Currency));
            default:
                return (null, "what was posted", null);
        }
    }
}
