using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Checking;

/// <summary>What is kept so that no screen adds up everything: progress and sums, held against what they are made of.</summary>
internal sealed class KeptChecks(BookDbContext db)
{
    /// <summary>What each event adds to the tracks, and the days of the tracks, from the whole book worked out.</summary>
    public CheckLine Progress(BookAnew anew)
    {
        var progress = new Comparison("Progress of payees");
        var expected = anew.Tracks.ToDictionary(t => t.Key, t => t.Value.ToDictionary(e => (e.Moment.UtcTicks, e.Moment.IsRefund, e.Moment.Id)));
        long kept = 0;
        var all = anew.Tracks.Sum(t => (long)t.Value.Count);
        foreach (var track in db.ProgressTracks.AsNoTracking().AsEnumerable().Where(t => !expected.ContainsKey((t.Payee, t.Agreement, t.Currency)))) progress.Differ(CheckSubject.Payee, track.Payee, Track(track.Payee, track.Agreement, track.Currency), "kept", "asked for by nothing");
        foreach (var held in db.ProgressEvents.AsNoTracking())
        {
            kept++;
            var what = $"{Track(held.Payee, held.Agreement, held.Currency)}, after {held.EventId}";
            if (!expected.TryGetValue((held.Payee, held.Agreement, held.Currency), out var events) || !events.Remove((held.At, held.IsRefund, held.EventId), out var right)) progress.Differ(CheckSubject.Payee, held.Payee, what, "counted", "no such event");
            else
            {
                progress.Compare(CheckSubject.Payee, held.Payee, what + ", what it adds", (held.OrderId, held.On, held.Sales, held.Orders, held.Earned), (right.OrderKey, right.On, right.Figures.Sales, right.Figures.Orders, right.Figures.Earned));
            }
        }
        foreach (var (track, events) in expected)
        {
            foreach (var missing in events.Values) progress.Differ(CheckSubject.Payee, track.Payee, $"{Track(track.Payee, track.Agreement, track.Currency)}, {missing.Moment.Id}", "not counted", "counted");
        }
        Days(progress, anew);
        return progress.Line(MoneyWords.Count(kept, "event"), MoneyWords.Count(all, "event"));

        static string Track(string payee, string agreement, string currency) => $"{payee}, {(agreement.Length == 0 ? "orders brought" : agreement)}, in {currency}";
    }

    private void Days(Comparison progress, BookAnew anew)
    {
        var expected = anew.Tracks.SelectMany(t => t.Value.GroupBy(e => e.On).Select(day => (
            Key: (t.Key.Payee, t.Key.Agreement, t.Key.Currency, On: day.Key), Span: day.Aggregate(default(ProgressSpan), (span, e) => span.Then(ProgressSpan.Of(e.Figures)))))).ToDictionary(d => d.Key, d => d.Span);
        foreach (var held in db.ProgressDays.AsNoTracking())
        {
            var what = $"{held.Payee}, {held.Agreement} in {held.Currency}, {Comparison.Text(held.On)}";
            if (expected.Remove((held.Payee, held.Agreement, held.Currency, held.On), out var right)) progress.Compare(CheckSubject.Payee, held.Payee, what, held.Span, right);
            else progress.Differ(CheckSubject.Payee, held.Payee, what, "a sum", "no event");
        }
        foreach (var missing in expected.Keys) progress.Differ(CheckSubject.Payee, missing.Payee, $"{missing.Payee}, {missing.Agreement} in {missing.Currency}, {Comparison.Text(missing.On)}", "no sum", "a sum");
    }

    /// <summary>The sums of each month, from the rows of its orders.</summary>
    public CheckLine Months()
    {
        var months = new Comparison("Sums of months");
        var expected = new Dictionary<(int, string), PeriodTotalsRecord>();
        var narrowed = new Dictionary<(int, string, string, string, bool, bool), SalesSumRecord>();
        foreach (var order in db.Orders.AsNoTracking())
        {
            if (TotalsChange.Of(order) is not { } counts) continue;
            var month = counts.Month;
            if (!expected.TryGetValue((month.Period, month.Currency), out var sum)) expected[(month.Period, month.Currency)] = sum = new PeriodTotalsRecord { Period = month.Period, Currency = month.Currency };
            TotalsChange.Add(sum, month, 1);
            var key = KeyOf(counts.Sales);
            if (!narrowed.TryAdd(key, counts.Sales)) TotalsChange.Add(narrowed[key], counts.Sales, 1);
        }
        var (kept, comes) = (new SumsByCurrency(), new SumsByCurrency());
        foreach (var sum in expected.Values) comes.Add(sum.Currency, sum.Charged);
        foreach (var held in db.PeriodTotals.AsNoTracking())
        {
            kept.Add(held.Currency, held.Charged);
            var right = expected.Remove((held.Period, held.Currency), out var found) ? found : new PeriodTotalsRecord { Period = held.Period, Currency = held.Currency };
            Columns(held, right, (what, was, now) => months.Compare(CheckSubject.Nothing, "", $"{new Period(held.Period).Name} in {held.Currency}, {what}", was, now));
        }
        foreach (var missing in expected.Values) months.Differ(CheckSubject.Nothing, "", $"{new Period(missing.Period).Name} in {missing.Currency}", "no sum", $"{missing.Orders} orders");
        foreach (var held in db.SalesSums.AsNoTracking())
        {
            var right = narrowed.Remove(KeyOf(held), out var found) ? found : null;
            months.Compare(
                CheckSubject.Nothing, "", $"{new Period(held.Period).Name} in {held.Currency}, {held.Channel}, brought by {held.BroughtBy}, exceptions {held.HasExceptions}, refunded {held.IsRefunded}",
                FiguresOf(held), right is null ? default : FiguresOf(right));
        }
        foreach (var missing in narrowed.Values) months.Differ(CheckSubject.Nothing, "", $"{new Period(missing.Period).Name} in {missing.Currency}, {missing.Channel}, brought by {missing.BroughtBy}", "no sum", $"{missing.Orders} orders");
        return months.Line($"charged {kept}", $"charged {comes}");

        static (int, string, string, string, bool, bool) KeyOf(SalesSumRecord s) => (s.Period, s.BroughtBy, s.Channel, s.Currency, s.HasExceptions, s.IsRefunded);

        static (long Orders, long Charged, long Tax, long Fees, long Affiliates, long Collaborators, long Vendors, long House) FiguresOf(SalesSumRecord s) =>
            (s.Orders, s.Charged, s.Tax, s.Fees, s.Affiliates, s.Collaborators, s.Vendors, s.House);
    }

    /// <summary>The sums of entries by month and payee, with their fingerprints, and of what is open by the day it clears.</summary>
    public IEnumerable<CheckLine> Entries()
    {
        var posted = new Dictionary<(int Period, string Payee, string Currency, bool IsReversal), (long Count, long Amount, long Fingerprint)>();
        var clearing = new Dictionary<(int Run, string Payee, string Currency, DateOnly ClearsOn), (long Amount, long Reversed, long Count, long Fingerprint)>();
        var months = new Comparison("Months of entries");
        foreach (var entry in db.Entries.AsNoTracking())
        {
            months.Compare(CheckSubject.Entries, entry.Payee, $"Entry {entry.Id}, its month", entry.Period, Period.Of(entry.PostedOn).Number);
            var key = (entry.Period, entry.Payee, entry.Currency, entry.RefundId is not null);
            var (count, amount, fingerprint) = posted.GetValueOrDefault(key);
            posted[key] = (count + 1, amount + entry.Amount, EntryFingerprint.Add(fingerprint, EntryFingerprint.Of(entry)));
            // A run has a number from 1.
            var day = (entry.RunId ?? 0, entry.Payee, entry.Currency, entry.ClearsOn ?? DateOnly.MaxValue);
            var sum = clearing.GetValueOrDefault(day);
            clearing[day] = (sum.Amount + entry.Amount, sum.Reversed + Math.Min(0, entry.Amount), sum.Count + 1, EntryFingerprint.Add(sum.Fingerprint, EntryFingerprint.Of(entry)));
        }
        yield return months.Line(MoneyWords.Count(posted.Values.Sum(p => p.Count), "entry", "entries"), "each in the month it was posted");
        yield return Posted(posted);
        yield return Clearing("Sums of what is open", db.OpenSums.AsNoTracking().AsEnumerable().Select(s => (0, (ClearingSum)s)), clearing.Where(c => c.Key.Run == 0));
        yield return Clearing("Sums of what runs took", db.TakenSums.AsNoTracking().AsEnumerable().Select(s => (s.RunId, (ClearingSum)s)), clearing.Where(c => c.Key.Run != 0));
    }

    /// <summary>The sums of what went through processors' accounts, from bookings and lines of settlements, and of what is not settled by its day.</summary>
    public CheckLine Processors()
    {
        var sums = new Comparison("Sums of processors");
        var expected = ProcessorSums().ToDictionary(s => (s.Kind, s.Of, s.Currency), s => s.Amount);
        var (kept, comes) = (new SumsByCurrency(), new SumsByCurrency());
        foreach (var ((_, _, currency), amount) in expected.Where(s => s.Key.Kind == ProcessorSumKind.Sold)) comes.Add(currency, amount);
        foreach (var held in db.ProcessorSums.AsNoTracking())
        {
            if (held.Kind == ProcessorSumKind.Sold) kept.Add(held.Currency, held.Amount);
            sums.Compare(CheckSubject.Nothing, "", What(held.Kind, held.Of, held.Currency), Words(held.Amount, held.Currency), Words(expected.Remove((held.Kind, held.Of, held.Currency), out var right) ? right : 0, held.Currency));
        }
        foreach (var ((kind, of, currency), amount) in expected) sums.Differ(CheckSubject.Nothing, "", What(kind, of, currency), "no sum", Words(amount, currency));
        var days = db.Awaited.Where(a => a.Bench == Bench.Processors).GroupBy(a => new { a.Source, a.On, a.Currency }).Select(g => new { g.Key, Rows = g.LongCount(), Net = g.Sum(a => a.Gross - a.Fee) })
            .ToDictionary(d => (d.Key.Source, d.Key.On, d.Key.Currency), d => (d.Rows, d.Net));
        foreach (var held in db.NotSettledDays.AsNoTracking())
        {
            days.Remove((held.Processor, held.On, held.Currency), out var right);
            sums.Compare(CheckSubject.Nothing, "", OfDay(held.Processor, held.On, held.Currency), (held.Rows, Words(held.Amount, held.Currency)), (right.Rows, Words(right.Net, held.Currency)));
        }
        foreach (var ((processor, on, currency), (_, net)) in days) sums.Differ(CheckSubject.Nothing, "", OfDay(processor, on, currency), "no sum", Words(net, currency));
        return sums.Line($"sold {kept}", $"sold {comes}");

        static string OfDay(string processor, DateOnly on, string currency) => $"{processor} in {currency}, not settled of {Comparison.Text(on)}";

        static string Words(long amount, string currency) => new Money(amount, Currency.Of(currency)).InWords();

        static string What(ProcessorSumKind kind, string of, string currency) => $"{of} in {currency}, " + kind switch
        {
            ProcessorSumKind.Sold => "what sales put in",
            ProcessorSumKind.TakenOut => "paid out and kept as fees",
            _ => "lines of sales",
        };
    }

    /// <summary>The sums of the journal's days, from the bookings and entries that are in them.</summary>
    public CheckLine JournalDays()
    {
        var sums = new Comparison("Days of the journal");
        var expected = JournalDaysAnew().Sums.ToDictionary(KeyOf);
        var (kept, comes) = (new SumsByCurrency(), new SumsByCurrency());
        foreach (var day in expected.Values) comes.Add(day.Currency, day.Debit);
        foreach (var held in db.JournalDays.AsNoTracking())
        {
            kept.Add(held.Currency, held.Debit);
            sums.Compare(CheckSubject.Nothing, "", What(held), FiguresOf(held), expected.Remove(KeyOf(held), out var right) ? FiguresOf(right) : default);
        }
        foreach (var missing in expected.Values) sums.Differ(CheckSubject.Nothing, "", What(missing), "no sum", MoneyWords.Count(missing.Postings, "posting"));
        return sums.Line($"debits {kept}", $"debits {comes}");

        static (DateOnly, SealedKind, string, string) KeyOf(JournalDayRecord d) => (d.On, d.Kind, d.Of, d.Currency);

        static (long Debit, long Credit, long Postings) FiguresOf(JournalDayRecord d) => (d.Debit, d.Credit, d.Postings);

        static string What(JournalDayRecord d) => $"{d.Of} in {d.Currency}, {Comparison.Text(d.On)}";
    }

    private KeptJournalDays JournalDaysAnew()
    {
        var days = new KeptJournalDays();
        foreach (var booking in db.Bookings.AsNoTracking()) days.AddBooking(booking);
        foreach (var entry in db.Entries.AsNoTracking().Select(e => new { e.PostedOn, e.Payee, e.Currency, e.Amount })) days.AddEntry(entry.PostedOn, entry.Payee, entry.Currency, entry.Amount);
        return days;
    }

    private IEnumerable<ProcessorSumRecord> ProcessorSums()
    {
        foreach (var s in db.Bookings.Where(b => b.Processor != "").GroupBy(b => new { b.Processor, b.Currency }).Select(g => new { g.Key.Processor, g.Key.Currency, Net = g.Sum(b => b.Goods + b.Shipping + b.Tax - b.ProcessingFee) }))
        {
            yield return new ProcessorSumRecord { Kind = ProcessorSumKind.Sold, Of = s.Processor, Currency = s.Currency, Amount = s.Net };
        }
        foreach (var s in db.OutsideLines.Where(l => l.Bench == Bench.Processors).GroupBy(l => new { l.Source, l.Currency, IsOfSales = l.Kind < MovementKind.Fee }).Select(g => new { g.Key, Net = g.Sum(l => l.Gross - l.Fee) }))
        {
            yield return new ProcessorSumRecord { Kind = s.Key.IsOfSales ? ProcessorSumKind.Settled : ProcessorSumKind.TakenOut, Of = s.Key.Source, Currency = s.Key.Currency, Amount = s.Key.IsOfSales ? s.Net : -s.Net };
        }
    }

    private CheckLine Posted(Dictionary<(int Period, string Payee, string Currency, bool IsReversal), (long Count, long Amount, long Fingerprint)> posted)
    {
        var sums = new Comparison("Sums of entries");
        var (kept, comes) = (new SumsByCurrency(), new SumsByCurrency());
        foreach (var (key, sum) in posted) comes.Add(key.Currency, sum.Amount);
        foreach (var held in db.EntrySums.AsNoTracking())
        {
            kept.Add(held.Currency, held.Amount);
            var right = posted.Remove((held.Period, held.Payee, held.Currency, held.IsReversal), out var found) ? found : default;
            var what = $"{held.Payee}, {new Period(held.Period).Name}, {(held.IsReversal ? "of refunds" : "of sales")} in {held.Currency}";
            sums.Compare(CheckSubject.Entries, held.Payee, what + ", how many", held.Entries, right.Count);
            sums.Compare(CheckSubject.Entries, held.Payee, what + ", amount", held.Amount, right.Amount);
            sums.Compare(CheckSubject.Entries, held.Payee, what + ", fingerprint of what was posted", held.Fingerprint, right.Fingerprint);
        }
        foreach (var (missing, sum) in posted) sums.Differ(CheckSubject.Entries, missing.Payee, $"{missing.Payee}, {new Period(missing.Period).Name} in {missing.Currency}", "no sum", new Money(sum.Amount, Currency.Of(missing.Currency)).InWords());
        return sums.Line(kept.ToString(), comes.ToString());
    }

    private static CheckLine Clearing(
        string name, IEnumerable<(int Run, ClearingSum Sum)> held, IEnumerable<KeyValuePair<(int Run, string Payee, string Currency, DateOnly ClearsOn), (long Amount, long Reversed, long Count, long Fingerprint)>> worked)
    {
        var sums = new Comparison(name);
        var expected = worked.ToDictionary();
        var (kept, comes) = (new SumsByCurrency(), new SumsByCurrency());
        foreach (var (key, sum) in expected) comes.Add(key.Currency, sum.Amount);
        foreach (var (run, sum) in held)
        {
            kept.Add(sum.Currency, sum.Amount);
            var right = expected.Remove((run, sum.Payee, sum.Currency, sum.ClearsOn), out var found) ? found : default;
            var what = $"{sum.Payee}, clearing on {Comparison.Text(sum.ClearsOn)} in {sum.Currency}{(run == 0 ? "" : $", run {run}")}";
            sums.Compare(CheckSubject.Payee, sum.Payee, what, sum.Amount, right.Amount);
            sums.Compare(CheckSubject.Payee, sum.Payee, what + ", taken back", sum.Reversed, right.Reversed);
            sums.Compare(CheckSubject.Payee, sum.Payee, what + ", how many, and their fingerprint", (sum.Entries, sum.Fingerprint), (right.Count, right.Fingerprint));
        }
        foreach (var (missing, sum) in expected) sums.Differ(CheckSubject.Payee, missing.Payee, $"{missing.Payee}, clearing on {Comparison.Text(missing.ClearsOn)} in {missing.Currency}", "no sum", Comparison.Text(sum.Amount));
        return sums.Line(kept.ToString(), comes.ToString());
    }

    private static void Columns(PeriodTotalsRecord was, PeriodTotalsRecord now, Action<string, long, long> compare)
    {
        compare("orders", was.Orders, now.Orders);
        compare("goods", was.GoodsNet, now.GoodsNet);
        compare("tax", was.Tax, now.Tax);
        compare("shipping", was.ShippingNet, now.ShippingNet);
        compare("charged", was.Charged, now.Charged);
        compare("processing fees", was.ProcessingFee, now.ProcessingFee);
        compare("channel fees", was.ChannelFee, now.ChannelFee);
        compare("rebates", was.Rebate, now.Rebate);
        compare("affiliates", was.Affiliates, now.Affiliates);
        compare("collaborators", was.Collaborators, now.Collaborators);
        compare("vendors", was.Vendors, now.Vendors);
        compare("house", was.House, now.House);
        compare("shipping kept", was.ShippingKept, now.ShippingKept);
        compare("orders with exceptions", was.WithExceptions, now.WithExceptions);
    }
}
