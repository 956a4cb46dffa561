namespace EvenSplit.Core;

/// <summary>Makes the runs of a book one after another, in the order of their as-of dates, then ids (contract, sections 9 and 10).</summary>
internal sealed class RunsOverTime
{
    private sealed class Account(Payee payee)
    {
        public Payee Payee { get; } = payee;
        public long Carried { get; set; }
        /// <summary>Entries that will ever clear; once sorted, by clearing date. Runs take them from the front.</summary>
        public List<Entry> Clearing { get; } = [];
        public List<Adjustment> Adjustments { get; set; } = [];
        public int Taken { get; set; }
        public Dictionary<string, long> Recouped { get; } = [];
        public Dictionary<int, int> PaymentsByYear { get; } = [];
    }

    private readonly Facts _facts;
    private readonly Dictionary<string, Account> _accounts;

    public RunsOverTime(Facts facts, IEnumerable<Entry> entries)
    {
        _facts = facts;
        _accounts = facts.Rules.Payees.ToDictionary(p => p.Id.Value, p => new Account(p));
        foreach (var entry in entries)
        {
            if (entry.ClearsOn is not null) _accounts[entry.Payee.Value].Clearing.Add(entry);
        }
        foreach (var adjustment in facts.Adjustments) _accounts[adjustment.Payee.Value].Adjustments.Add(adjustment);
    }

    public IReadOnlyList<RunResult> WorkOut(ICollection<CalculationException> exceptions)
    {
        var runs = _facts.Runs.OrderBy(r => r.AsOf).ThenBy(r => r.Id).Select(r => (r.Id, r.AsOf, Payees: r.Payees?.ToHashSet())).ToArray();
        var accounts = _accounts.Values.ToArray();
        var remittances = new Remittance?[runs.Length, accounts.Length];
        // What one payee is paid is no business of another's.
        SideBySide.For(accounts.Length, a =>
        {
            accounts[a].Clearing.Sort((x, y) => x.ClearsOn!.Value.CompareTo(y.ClearsOn!.Value));
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
        var cleared = new Dictionary<Currency, long>();
        var next = account.Taken;
        for (; next < account.Clearing.Count && account.Clearing[next].ClearsOn <= asOf; next++)
        {
            var amount = account.Clearing[next].Amount;
            cleared[amount.Currency] = cleared.GetValueOrDefault(amount.Currency) + amount.Minor;
        }
        var adjustments = account.Adjustments.ToLookup(a => a.On <= asOf);
        var remittance = PayRun.WorkOut(_facts.Rules.Rates, asOf, new PayeeStanding
        {
            Payee = account.Payee,
            Opening = account.Carried,
            Cleared = cleared.Select(c => new Money(c.Value, c.Key)).ToArray(),
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
