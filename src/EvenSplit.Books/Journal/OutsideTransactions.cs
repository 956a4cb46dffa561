using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>A difference at a processor that somebody let stand: a line of a settlement, or what none has shown.</summary>
internal sealed record AcceptedDifference(SettlingRecord Settling, OutsideLineRecord? Line, string Processor, AwaitedRecord? Awaited);

/// <summary>What settlements, accepted differences and lines of banks put into the journal (reconcile contract, section 5).</summary>
internal sealed class OutsideTransactions(BookDbContext db, OpenedBook book)
{
    private const int AtOnce = 1_000;

    private readonly Dictionary<string, string> _processors = [];

    private readonly Dictionary<string, RemittanceRecord[]> _payments = [];

    private Dictionary<(string Settlement, string Currency), long>? _payouts;

    /// <summary>By settlement and currency: what it pays out goes from clearing to being on its way, and its own fees are costs. What does not add up stays in clearing.</summary>
    public IEnumerable<JournalTransaction> Settlements(DateOnly from, DateOnly to)
    {
        var sums = Dated(Bench.Processors, from, to).Where(l => l.Kind >= MovementKind.Fee)
            .GroupBy(l => new { l.Source, l.Currency, On = l.JournalOn ?? l.On })
            .Select(g => new
            {
                g.Key.On,
                g.Key.Source,
                g.Key.Currency,
                Paid = g.Sum(l => l.Kind == MovementKind.Payout ? l.Fee - l.Gross : 0),
                Fees = g.Sum(l => l.Kind == MovementKind.Fee ? l.Fee - l.Gross : 0),
            })
            .OrderBy(s => s.On).ThenBy(s => s.Source).ToArray();
        foreach (var s in sums)
        {
            var (processor, currency) = (ProcessorOf(s.Source), Currency.Of(s.Currency));
            var postings = Postings(currency, (JournalAccount.InTransit(processor), s.Paid), (JournalAccount.ProcessingFees, s.Fees), (JournalAccount.Clearing(processor), -s.Paid - s.Fees));
            if (postings.Count > 0) yield return new(s.On, $"Settlement {JournalAccount.Part(s.Source)}", JournalSource.Settlement, JournalAccount.Part(s.Source), "", postings);
        }
    }

    /// <summary>Differences that somebody let stand on the bench of processors, on the day they did.</summary>
    public IEnumerable<JournalTransaction> AcceptedAtProcessors(DateOnly from, DateOnly to)
    {
        foreach (var (s, line, processor, awaited) in Accepted())
        {
            var on = book.Time.DateOf(s.At);
            if (on < from || on > to) continue;
            if (line is not null)
            {
                foreach (var (currency, difference) in StandingOf(line))
                {
                    if (difference == 0) continue;
                    yield return new(
                        on, $"Difference accepted: {JournalAccount.Part(s.Reason)}", JournalSource.Settlement, JournalAccount.Part(line.Source), $"line:{JournalAccount.Part(line.LineId)}",
                        Postings(currency, (JournalAccount.Differences, difference), (JournalAccount.Clearing(processor), -difference)));
                }
            }
            else if (awaited is not null && awaited.Gross != awaited.Fee)
            {
                var net = awaited.Gross - awaited.Fee;
                yield return new(
                    on, $"Difference accepted: {JournalAccount.Part(s.Reason)}", JournalSource.Order, JournalAccount.Part(awaited.Order), JournalAccount.Part(awaited.Ours).Replace(' ', ':'),
                    Postings(Currency.Of(awaited.Currency), (JournalAccount.Differences, net), (JournalAccount.Clearing(awaited.Source), -net)));
            }
        }
    }

    /// <summary>Every difference at processors that somebody let stand, the first first.</summary>
    internal IReadOnlyList<AcceptedDifference> Accepted()
    {
        var accepted = db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Processors && s.Way == SettlingWay.Accept && s.UndoneBy == null);
        var lines = WithProcessors(db.OutsideLines.Where(l => accepted.Select(s => s.LineId).Contains(l.Id))).ToDictionary(l => l.Line.Id);
        var awaited = db.Awaited.AsNoTracking().Where(a => a.Bench == Bench.Processors && accepted.Where(s => s.LineId == null).Select(s => s.Ours).Contains(a.Ours)).ToDictionary(a => a.Ours);
        return [.. accepted.AsEnumerable().OrderBy(s => s.At).ThenBy(s => s.Id).Select(s => s.LineId is { } id
            ? new AcceptedDifference(s, lines[id].Line, lines[id].Processor, null)
            : new AcceptedDifference(s, null, "", s.Ours is null ? null : awaited.GetValueOrDefault(s.Ours)))];
    }

    /// <summary>Lines of settlements, each with the processor of its order; where it names none of the book, of its settlement.</summary>
    internal IEnumerable<(OutsideLineRecord Line, string Processor)> WithProcessors(IQueryable<OutsideLineRecord> lines) =>
        lines.AsNoTracking().Select(l => new { Line = l, Processor = db.Orders.Where(o => o.OrderId == l.Order).Select(o => o.Processor).FirstOrDefault() }).ToArray()
            .Select(l => (l.Line, l.Processor ?? ProcessorOf(l.Line.Source)));

    /// <summary>
    /// What lines of settlements that differ from ours leave in clearing, by processor and currency. Those with nothing but other amounts are added up by the
    /// database, each as <see cref="StandingOf"/> has it.
    /// </summary>
    internal IEnumerable<(string Processor, string Currency, long Amount)> Standing()
    {
        const Finding notByAmounts = Finding.CurrencyDiffers | Finding.SettledTwice;
        var differing = db.OutsideLines.AsNoTracking().Where(l => l.Bench == Bench.Processors && l.State != MatchState.Matched && l.Kind != MovementKind.Fee && l.Kind != MovementKind.Payout
            && (l.GrossOurs == null || l.FeeOurs == null || l.GrossOurs != l.Gross || l.FeeOurs != l.Fee || (l.Findings & notByAmounts) != 0));
        var sums = differing.Where(l => (l.Findings & notByAmounts) == 0)
            .LeftJoin(db.Orders, l => l.Order, o => o.OrderId, (l, o) => new
            {
                l.Currency,
                o!.Processor,
                Source = o.Processor == null ? l.Source : null,
                Amount = (l.GrossOurs ?? 0) - (l.FeeOurs ?? 0) - (l.Gross - l.Fee),
            })
            .GroupBy(l => new { l.Processor, l.Source, l.Currency }).Select(g => new { g.Key.Processor, g.Key.Source, g.Key.Currency, Sum = g.Sum(l => l.Amount) });
        foreach (var s in sums) yield return (s.Processor ?? ProcessorOf(s.Source!), s.Currency, s.Sum);
        foreach (var (line, processor) in WithProcessors(differing.Where(l => (l.Findings & notByAmounts) != 0)))
        {
            foreach (var (currency, amount) in StandingOf(line)) yield return (processor, currency.Code, amount);
        }
    }

    /// <summary>What of a line stands in clearing once its settlement is posted: ours less theirs; of a payout what it should have been less what it is.</summary>
    internal IEnumerable<(Currency Currency, long Amount)> StandingOf(OutsideLineRecord line)
    {
        var theirs = line.Gross - line.Fee;
        var currency = Currency.Of(line.Currency);
        if (line.Kind == MovementKind.Payout) return [(currency, theirs - ((line.GrossOurs ?? theirs) - (line.FeeOurs ?? 0)))];
        if (line.Kind == MovementKind.Fee) return [];
        // In two currencies nothing is compared, and both stand.
        if (line.Findings.HasFlag(Finding.CurrencyDiffers) && line.Ours is { } ours && BookedOf(ours) is { } booked) return [(currency, -theirs), booked];
        // What is settled a second time was expected once.
        if (line.Findings.HasFlag(Finding.SettledTwice)) return [(currency, -theirs)];
        return [(currency, (line.GrossOurs ?? 0) - (line.FeeOurs ?? 0) - theirs)];
    }

    /// <summary>What of ours went into clearing.</summary>
    private (Currency, long)? BookedOf(string ours)
    {
        var id = NameOf(ours);
        var bookings = ours.StartsWith("sale:", StringComparison.Ordinal)
            ? db.Bookings.Where(b => b.Refund == null && db.Orders.Any(o => o.OrderId == id && o.Id == b.OrderId))
            : db.Bookings.Where(b => b.Refund == id && db.AllRefunds.Any(r => r.RefundId == id && r.OrderId == b.OrderId));
        var sums = bookings.GroupBy(b => b.Currency).Select(g => new { g.Key, Net = g.Sum(b => b.Goods + b.Shipping + b.Tax - b.ProcessingFee) }).ToArray();
        return sums.Length == 0 ? null : (Currency.Of(sums[0].Key), sums[0].Net);
    }

    /// <summary>Lines of banks: what they are held against or booked to. What left under a payment of ours is told by its run.</summary>
    public IEnumerable<JournalTransaction> Bank(DateOnly from, DateOnly to)
    {
        foreach (var (opening, _) in Balances().Where(o => !o.IsOpen && o.Transaction.On >= from && o.Transaction.On <= to && o.Transaction.Postings.Count > 0)) yield return opening;
        var lines = Dated(Bench.Bank, from, to).Where(l => l.State != MatchState.Open).OrderBy(l => l.JournalOn ?? l.On).ThenBy(l => l.Id).ToArray();
        var booked = BookedTo();
        ReadPayments(lines);
        foreach (var line in lines)
        {
            var currency = Currency.Of(line.Currency);
            var postings = Postings(currency, [(JournalAccount.Bank(line.Currency), line.Gross - PostedByRuns(line)), .. Against(line, booked)]);
            if (postings.Count == 0) continue;
            yield return new(
                line.JournalOn ?? line.On, JournalAccount.Part($"{line.Name} {line.Note} {line.Reference}"), JournalSource.Bank,
                $"{JournalAccount.Part(line.Source)}/{JournalAccount.Part(line.LineId)}", "", postings);
        }
    }

    /// <summary>What of balances nobody has settled: gaps between statements, and statements that do not add up.</summary>
    internal IEnumerable<JournalPosting> OpenGaps() => Balances().Where(b => b.IsOpen).SelectMany(b => b.Transaction.Postings).Where(p => p.Account == JournalAccount.Bank(p.Amount.Currency.Code));

    /// <summary>What each account began with, gaps between statements, and statements that do not add up; only what somebody let stand is posted.</summary>
    private IEnumerable<(JournalTransaction Transaction, bool IsOpen)> Balances()
    {
        foreach (var account in db.BankStatements.AsNoTracking().AsEnumerable().GroupBy(s => (s.Account, s.Currency)).OrderBy(g => g.Key))
        {
            long? closing = null;
            foreach (var statement in account.Where(s => s.Opening is not null).OrderBy(s => s.First).ThenBy(s => s.Last).ThenBy(s => s.Id))
            {
                var opening = statement.Opening!.Value;
                if (closing is null) yield return (Made(statement, statement.First, "Opening balance", opening, JournalAccount.OpeningBalances), false);
                else if (opening != closing)
                {
                    yield return (Made(statement, statement.First, "Gap between statements, accepted", opening - closing.Value, JournalAccount.Differences), !IsSettled(statement.FirstLine));
                }
                if (statement.Closing is { } end && opening + statement.Sum != end)
                {
                    var lacking = Made(statement, statement.Last, "A statement that does not add up, accepted", end - opening - statement.Sum, JournalAccount.Differences);
                    yield return (lacking, !IsSettled(statement.LastLine));
                }
                closing = statement.Closing ?? closing;
            }
        }

        bool IsSettled(long? line) => line is { } id && db.OutsideLines.Any(l => l.Id == id && l.State == MatchState.Settled);

        static JournalTransaction Made(StatementRecord statement, DateOnly on, string words, long amount, string against) => new(
            on, $"{words}, {JournalAccount.Part(statement.Account)}", JournalSource.Bank, JournalAccount.Part(statement.Account), "",
            Postings(Currency.Of(statement.Currency), (JournalAccount.Bank(statement.Currency), amount), (against, -amount)));
    }

    private Dictionary<long, string> BookedTo() => db.Settlings.AsNoTracking().Where(s => s.Bench == Bench.Bank && s.Way == SettlingWay.BookTo && s.UndoneBy == null && s.LineId != null)
        .OrderBy(s => s.Id).Select(s => new { Line = s.LineId!.Value, s.Account }).AsEnumerable().GroupBy(s => s.Line).ToDictionary(g => g.Key, g => g.Last().Account);

    private IEnumerable<(string Account, long Minor)> Against(OutsideLineRecord line, Dictionary<long, string> booked)
    {
        if (booked.TryGetValue(line.Id, out var account))
        {
            yield return (account, -line.Gross);
            yield break;
        }
        var left = line.Gross - PostedByRuns(line);
        foreach (var ours in OnceOf(line))
        {
            var name = NameOf(ours);
            if (ours.StartsWith("payout:", StringComparison.Ordinal))
            {
                var payout = PayoutOf(name, line.Currency);
                left -= payout;
                yield return (JournalAccount.InTransit(ProcessorOf(name)), -payout);
                continue;
            }
            // A payment that left and that nobody confirmed otherwise.
            foreach (var unconfirmed in Payments(name).Where(r => !IsPostedByRun(r, line.Gross < 0) && r.Currency == line.Currency))
            {
                var paid = line.Gross < 0 ? -unconfirmed.Paid : unconfirmed.Paid;
                left -= paid;
                yield return (JournalAccount.ToBePaid(unconfirmed.Payee), -paid);
            }
        }
        if (left != 0) yield return (JournalAccount.Differences, -left);
    }

    /// <summary>What of a line its payments' runs have posted.</summary>
    private long PostedByRuns(OutsideLineRecord line) => OnceOf(line).Where(o => o.StartsWith("remittance:", StringComparison.Ordinal))
        .SelectMany(o => Payments(o["remittance:".Length..])).Where(r => r.Currency == line.Currency && IsPostedByRun(r, line.Gross < 0)).Sum(r => line.Gross < 0 ? -r.Paid : r.Paid);

    private static bool IsPostedByRun(RemittanceRecord r, bool isDebit) =>
        r is { PaidOn: not null, Method: not PayoutMethod.StoreCredit } && (r.State == RemittanceState.Returned || (isDebit && r.State == RemittanceState.Confirmed));

    internal static string[] Ours(OutsideLineRecord line) => line.Ours?.Split('+') ?? [];

    /// <summary>What of ours a line stands for; a line that comes a second time stands for nothing of it.</summary>
    private static string[] OnceOf(OutsideLineRecord line) => line.Findings.HasFlag(Finding.Twice) ? [] : Ours(line);

    private RemittanceRecord[] Payments(string reference) => _payments.GetValueOrDefault(reference) ?? [];

    /// <summary>Reads the payments that lines are held against, so that none is looked up by itself.</summary>
    private void ReadPayments(IEnumerable<OutsideLineRecord> lines)
    {
        var references = lines.SelectMany(OnceOf).Select(NameOf).Where(r => !_payments.ContainsKey(r)).Distinct();
        foreach (var some in references.Chunk(AtOnce))
        {
            var found = db.Remittances.AsNoTracking().Where(r => some.Contains(r.EndToEnd))
                .Concat(db.Remittances.AsNoTracking().Where(r => r.EndToEnd == null && some.Contains(r.Reference))).ToLookup(r => r.EndToEnd ?? r.Reference);
            foreach (var reference in some) _payments[reference] = [.. found[reference]];
        }
    }

    /// <summary>What stands behind the kind of what is ours.</summary>
    private static string NameOf(string ours) => ours[(ours.IndexOf(':', StringComparison.Ordinal) + 1)..];

    private long PayoutOf(string settlement, string currency)
    {
        // An index has the payouts of all settlements: few beside their lines.
        _payouts ??= db.OutsideLines.Where(l => l.Bench == Bench.Processors && l.Kind >= MovementKind.Fee && l.Kind == MovementKind.Payout).GroupBy(l => new { l.Source, l.Currency })
            .Select(g => new { g.Key, Sum = g.Sum(l => l.Fee - l.Gross) }).ToDictionary(p => (p.Key.Source, p.Key.Currency), p => p.Sum);
        return _payouts.GetValueOrDefault((settlement, currency));
    }

    /// <summary>Lines by their day in the journal.</summary>
    private IQueryable<OutsideLineRecord> Dated(Bench bench, DateOnly from, DateOnly to) =>
        db.OutsideLines.AsNoTracking().Where(l => l.Bench == bench && ((l.On >= from && l.On <= to && l.JournalOn == null) || (l.JournalOn >= from && l.JournalOn <= to)));

    /// <summary>The processor of a settlement, told by the orders in it; where none is of the book, the settlement itself.</summary>
    internal string ProcessorOf(string settlement)
    {
        if (!_processors.ContainsKey(settlement)) ReadProcessors(settlement);
        return _processors.GetValueOrDefault(settlement, settlement);
    }

    /// <param name="settlement">Of one; null for all, so that none is looked up by itself.</param>
    internal void ReadProcessors(string? settlement = null)
    {
        var settlements = db.ProcessorSums.Where(s => s.Kind != ProcessorSumKind.Sold && (settlement == null || s.Of == settlement)).Select(s => s.Of).Distinct();
        var told = settlements.Select(of => new
        {
            Of = of,
            Processor = db.OutsideLines.Where(l => l.Bench == Bench.Processors && l.Source == of && l.Order != null).OrderBy(l => l.Id)
                .Join(db.Orders, l => l.Order, o => o.OrderId, (l, o) => o.Processor).FirstOrDefault(p => p != null),
        });
        foreach (var s in told) _processors[s.Of] = s.Processor ?? s.Of;
    }

    private static List<JournalPosting> Postings(Currency currency, params (string Account, long Minor)[] postings) =>
        [.. postings.Where(p => p.Minor != 0).Select(p => new JournalPosting(p.Account, new Money(p.Minor, currency)))];
}
