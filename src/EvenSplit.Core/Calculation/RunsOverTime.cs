using System.Runtime.InteropServices;

namespace EvenSplit.Core;

/// <summary>Makes the runs of a book one after another, in the order of their as-of dates, then ids (contract, sections 9 and 10).</summary>
internal sealed class RunsOverTime
{
    private sealed class Account(Payee payee)
    {
        public Payee Payee { get; } = payee;
        public long Carried { get; set; }
        /// <summary>What entries come to by the date they clear. Wider than an amount: what goes beyond on the way may come back.</summary>
        public Dictionary<(DateOnly On, Currency Currency), Int128> Clearing { get; } = [];
        /// <summary>The same by date, once all is added. Runs take it from the front.</summary>
        public (DateOnly On, Currency Currency, Int128 Sum)[] InOrder { get; set; } = [];
        public int Taken { get; set; }
        public List<Adjustment> Adjustments { get; set; } = [];
        public Dictionary<string, long> Recouped { get; } = [];
        public Dictionary<int, int> PaymentsByYear { get; } = [];
    }

    private readonly Facts _facts;
    private readonly Dictionary<string, Account> _accounts;

    public RunsOverTime(Facts facts)
    {
        _facts = facts;
        _accounts = facts.Rules.Payees.ToDictionary(p => p.Id.Value, p => new Account(p));
        foreach (var adjustment in facts.Adjustments) _accounts[adjustment.Payee.Value].Adjustments.Add(adjustment);
    }

    /// <summary>Adds entries, of which those count that will ever clear. All must be added before runs are made.</summary>
    public void Add(IReadOnlyList<Entry> entries)
    {
        for (var i = 0; i < entries.Count; i++)
        {
            var entry = entries[i];
            if (entry.ClearsOn is not { } on) continue;
            var (clearing, amount) = (_accounts[entry.Payee.Value].Clearing, entry.Amount);
            CollectionsMarshal.GetValueRefOrAddDefault(clearing, (on, amount.Currency), out _) += amount.Minor;
        }
    }

    public IReadOnlyList<RunResult> WorkOut(ICollection<CalculationException> exceptions)
    {
        var runs = _facts.Runs.OrderBy(r => r.AsOf).ThenBy(r => r.Id).Select(r => (r.Id, r.AsOf, Payees: r.Payees?.ToHashSet())).ToArray();
        var accounts = _accounts.Values.ToArray();
        var remittances = new Remittance?[runs.Length, accounts.Length];
        // What one payee is paid is no business of another's.
        SideBySide.For(accounts.Length, a =>
        {
            accounts[a].InOrder = [.. accounts[a].Clearing.Select(c => (c.Key.On, c.Key.Currency, c.Value)).OrderBy(c => c.On).ThenBy(c => c.Currency.Number)];
            for (var r = 0; r < runs.Length; r++)
            {
                if (runs[r].Payees is not { } served || served.Contains(accounts[a].Payee.Id)) remittances[r, a] = Taken(accounts[a], runs[r].Id, runs[r].AsOf);
            }
        });
        var results = new List<RunResult>();
        for (var r = 0; r < runs.Length; r++)
        {
            var made = Enumerable.Range(0, accounts.Length).Select(a => remittances[r, a]).OfType<Remittance>().ToArray();
            foreach (var waiting in made.Where(m => m.Reason == RemittanceReason.RateMissing))
            {
                exceptions.Add(new CalculationException(ExceptionCode.RateMissing, null, null, waiting.Payee));
            }
            results.Add(new RunResult(runs[r].Id, runs[r].AsOf, made));
        }
        return results;
    }

    private Remittance Taken(Account account, RunId run, DateOnly asOf)
    {
        try
        {
            return Take(account, asOf);
        }
        catch (OverflowException beyond)
        {
            throw new BeyondLargestAmountException(run, beyond);
        }
    }

    private Remittance Take(Account account, DateOnly asOf)
    {
        var cleared = new Dictionary<Currency, Int128>();
        var next = account.Taken;
        for (; next < account.InOrder.Length && account.InOrder[next].On <= asOf; next++)
        {
            var (_, currency, sum) = account.InOrder[next];
            cleared[currency] = cleared.GetValueOrDefault(currency) + sum;
        }
        var adjustments = account.Adjustments.ToLookup(a => a.On <= asOf);
        var remittance = PayRun.WorkOut(_facts.Rules.Rates, asOf, new PayeeStanding
        {
            Payee = account.Payee,
            Opening = account.Carried,
            Cleared = cleared.Select(c => new Money(checked((long)c.Value), c.Key)).ToArray(),
            Adjustments = adjustments[true].Select(a => a.Amount).ToArray(),
            RecoupedBefore = account.Recouped,
            PaymentsThisYear = account.PaymentsByYear.GetValueOrDefault(asOf.Year),
        });
        if (!remittance.TakesEntries) return remittance;
        account.Taken = next;
        account.Adjustments = adjustments[false].ToList();
        account.Carried = remittance.Carried;
        foreach (var (advance, amount) in remittance.RecoupedFrom) account.Recouped[advance] = account.Recouped.GetValueOrDefault(advance) + amount;
        if (remittance.Paid > 0) account.PaymentsByYear[asOf.Year] = account.PaymentsByYear.GetValueOrDefault(asOf.Year) + 1;
        return remittance;
    }
}
