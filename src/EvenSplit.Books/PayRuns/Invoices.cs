using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.PayRuns;

/// <summary>An invoice that stands on a remittance.</summary>
/// <param name="DueOn">Null where it names no day.</param>
public sealed record NotedInvoice(string Payee, string Number, DateOnly? DueOn)
{
    public string InWords => DueOn is { } due ? $"{Number}, due {due.InWords()}" : Number;
}

/// <summary>Notes invoices of payees that were agreed on the next remittance that pays them (reconcile contract, section 4).</summary>
public sealed class Invoices(BookDbContext db) : IUseCase
{
    /// <summary>By payee, the invoices that stand on a run's remittances.</summary>
    public ILookup<string, NotedInvoice> Of(int run) => db.NotedInvoices.AsNoTracking().Where(n => n.RunId == run)
        .Join(db.OutsideLines, n => n.LineId, l => l.Id, (n, l) => new { n.Payee, l.Reference, l.DueOn, l.Id }).OrderBy(n => n.Id).AsEnumerable()
        .GroupBy(n => (n.Payee, n.Reference)).Select(g => new NotedInvoice(g.Key.Payee, g.Key.Reference, g.Min(n => n.DueOn))).ToLookup(n => n.Payee);

    /// <summary>Notes what was agreed on the remittances of a run that is being locked; one that is due later than now waits until then. The caller saves.</summary>
    internal void Note(PayRunRecord run)
    {
        var paid = run.Remittances.Where(r => r.Paid > 0).ToDictionary(r => r.Payee);
        var payees = paid.Keys.ToArray();
        foreach (var invoice in Agreed(payees, run.AsOf).GroupBy(l => (l.Source, l.Name, l.Reference)))
        {
            var remittance = paid[invoice.Key.Name];
            db.NotedInvoices.AddRange(invoice.Select(l => new NotedInvoiceRecord { LineId = l.Id, RunId = run.Id, Payee = l.Name }));
            if (invoice.Min(l => l.DueOn) is { } due && !(remittance.ExecuteOn < due)) remittance.ExecuteOn = due;
        }
    }

    /// <summary>Lines of invoices that agree whole, are of days the run is about, and stand on no payment yet that is made or under way.</summary>
    private List<OutsideLineRecord> Agreed(string[] payees, DateOnly asOf)
    {
        var lines = db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Partners && l.Reference != "" && l.On <= asOf && payees.Contains(l.Name)).OrderBy(l => l.Id).ToArray();
        var waiting = db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Partners && s.Way == SettlingWay.Wait && s.UndoneBy == null && s.LineId != null).Select(s => s.LineId!.Value).ToHashSet();
        var noted = db.NotedInvoices.AsNoTracking()
            .Where(n => db.Remittances.Any(r => r.RunId == n.RunId && r.Payee == n.Payee && r.State != RemittanceState.Refused && r.State != RemittanceState.Returned && r.State != RemittanceState.SetAside)).Select(n => n.LineId).ToHashSet();
        return [.. lines.GroupBy(l => (l.Source, l.Name, l.Reference)).Where(g => g.All(l => l.State != MatchState.Open && !waiting.Contains(l.Id) && !noted.Contains(l.Id))).SelectMany(g => g)];
    }
}
