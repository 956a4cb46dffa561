using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Catalogue;

/// <summary>A fee schedule as typed; amounts in major units of its currency.</summary>
public sealed record ScheduleDraft
{
    public string Id { get; init; } = "";
    /// <summary>Of a channel only.</summary>
    public string Name { get; init; } = "";
    public string Percent { get; init; } = "";
    public string Fixed { get; init; } = "";
    public string Currency { get; init; } = "";
    /// <summary>Of a channel only.</summary>
    public string Rebate { get; init; } = "";
    /// <summary>Null changes what holds from the beginning; else the schedule holds for payments from that day on.</summary>
    public DateOnly? From { get; init; }
}

/// <summary>Keeps exchange rates and the fee schedules of processors and channels.</summary>
public sealed class RateDesk(BookDbContext db, BookCache cache, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    /// <summary>Adds published rates. Orders whose amounts are converted on a date that a rate serves are worked out again.</summary>
    /// <exception cref="RefusedException">There is a rate for the pair and date already.</exception>
    public void Add(IReadOnlyCollection<ExchangeRate> rates, string by)
    {
        if (rates.Count == 0) return;
        using var change = rulesChange.Begin();
        foreach (var rate in rates)
        {
            if (db.ExchangeRates.Find(rate.From.Code, rate.To.Code, rate.Date) is not null)
            {
                throw new RefusedException($"There is a rate from {rate.From} to {rate.To} on {rate.Date.InWords()} already.");
            }
            db.ExchangeRates.Add(new ExchangeRateRecord { Date = rate.Date, From = rate.From.Code, To = rate.To.Code, Rate = rate.Rate });
        }
        audit.Note(by, "add rates", $"{MoneyWords.Count(rates.Count, "exchange rate")}, from {rates.Min(r => r.Date).InWords()}");
        change.Commit();
    }

    /// <summary>Puts a rate in the place of the one there was for the pair and day, or adds it.</summary>
    public IReadOnlyList<FieldFault> Set(DateOnly? on, string from, string to, string rate, string by)
    {
        var fields = new FieldReader();
        if (on is null) fields.Refuse("RateOn", "Give the day the rate was published.");
        var (source, target) = (fields.Currency("RateFrom", from, "Choose the currency that is converted."), fields.Currency("RateTo", to, "Choose the currency it becomes."));
        if (!Rate.TryParse(rate.Trim(), out var read) || read.Millionths <= 0) fields.Refuse("RateText", "Give how much one unit becomes, such as 0.85, with at most six decimals.");
        if (source == target) fields.Refuse("RateTo", "Choose two currencies.");
        if (fields.Faults.Count > 0) return fields.Faults;
        using var change = rulesChange.Begin();
        var record = db.ExchangeRates.Find(source.Code, target.Code, on!.Value) ?? db.ExchangeRates.Add(new ExchangeRateRecord { Date = on.Value, From = source.Code, To = target.Code }).Entity;
        record.Rate = read;
        audit.Note(by, "set a rate", $"{source} to {target} on {on.Value.InWords()}: {read}");
        change.Commit();
        return [];
    }

    /// <summary>Takes a rate out; what was converted with it is converted with the one before it.</summary>
    /// <exception cref="RefusedException">It is gone already.</exception>
    public void Remove(DateOnly on, string from, string to, string by)
    {
        using var change = rulesChange.Begin();
        var record = db.ExchangeRates.Find(from, to, on) ?? throw new RefusedException("There is no such rate any more.");
        db.ExchangeRates.Remove(record);
        audit.Note(by, "take a rate out", $"{from} to {to} on {on.InWords()}: {record.Rate}");
        change.Commit();
    }

    /// <summary>Takes a schedule from a day on out, as if it had never been.</summary>
    /// <exception cref="RefusedException">It is gone already.</exception>
    public void RemoveProcessorSchedule(string id, DateOnly from, string by) => RemoveSchedule(db.ProcessorSchedules, db.ProcessorSchedules.Find(id, from), $"{id} from {from.InWords()}", by);

    /// <inheritdoc cref="RemoveProcessorSchedule"/>
    public void RemoveChannelSchedule(string id, DateOnly from, string by) => RemoveSchedule(db.ChannelSchedules, db.ChannelSchedules.Find(id, from), $"{id} from {from.InWords()}", by);

    private void RemoveSchedule<T>(DbSet<T> schedules, T? schedule, string words, string by) where T : class
    {
        if (schedule is null) throw new RefusedException("There is no such schedule any more.");
        using var change = rulesChange.Begin();
        schedules.Remove(schedule);
        audit.Note(by, "take fees out", words);
        change.Commit();
    }

    /// <summary>The rates of the last days, the latest first.</summary>
    /// <summary>Processors that orders name and that have no schedule, where the orders carry no fee either; with how many orders, the most first.</summary>
    public IReadOnlyList<(string Id, int Orders)> WithoutSchedule() => [.. db.OrderExceptions.Where(e => e.Code == ExceptionCode.FeeMissing && e.IsOpen && e.Subject != "").GroupBy(e => e.Subject)
        .Select(g => new { g.Key, Count = g.Count() }).OrderByDescending(g => g.Count).Take(50).AsEnumerable().Select(g => (g.Key, g.Count))];

    public IReadOnlyList<ExchangeRate> Latest(int count) => db.ExchangeRates.AsNoTracking().OrderByDescending(r => r.Date).ThenBy(r => r.To).Take(count).AsEnumerable()
        .Select(r => new ExchangeRate(r.Date, Currency.Of(r.From), Currency.Of(r.To), r.Rate)).ToArray();

    /// <summary>Takes a file of rates: whole, or with every fault and nothing of it. A rate that is there already is passed over; one that differs is a fault.</summary>
    /// <returns>How many rates were new.</returns>
    /// <exception cref="RefusedException">No such file at all.</exception>
    public (int Added, IReadOnlyList<RowFault> Faults) Import(Stream file, string by)
    {
        var book = cache.Get(db);
        try
        {
            using var table = new CsvTable(file, RatesCsv.Columns);
            var (read, faults) = RatesCsv.Read(table.Rows(), book.Time, book.Currency);
            if (faults.Count > 0) return (0, faults);
            if (read.Count == 0) throw new RefusedException("The file holds no rate.", "RatesFile");
            var (first, last) = (read.Min(r => r.Date), read.Max(r => r.Date));
            var known = db.ExchangeRates.AsNoTracking().Where(r => r.Date >= first && r.Date <= last).ToDictionary(r => (r.From, r.To, r.Date), r => r.Rate);
            var other = read.Where(r => known.TryGetValue((r.From.Code, r.To.Code, r.Date), out var rate) && rate != r.Rate)
                .Select(r => new RowFault(0, r.To.Code, r.Rate.ToString(), $"{known[(r.From.Code, r.To.Code, r.Date)]}, which the book has for {r.Date.InWords()}; orders are converted with it")).ToArray();
            if (other.Length > 0) return (0, other);
            var added = read.Where(r => !known.ContainsKey((r.From.Code, r.To.Code, r.Date))).DistinctBy(r => (r.From, r.To, r.Date)).ToArray();
            using var change = rulesChange.Begin();
            Add(added, by);
            change.Commit();
            return (added.Length, []);
        }
        catch (CsvFileException unreadable)
        {
            throw new RefusedException(unreadable.Message, "RatesFile");
        }
    }

    /// <summary>Saves a processor's schedule: the first, or one from a day on.</summary>
    public IReadOnlyList<FieldFault> SaveProcessor(ScheduleDraft draft, string by)
    {
        var (fields, id, rate, fixedFee, currency) = Read(draft);
        if (fields.Faults.Count > 0) return fields.Faults;
        using var change = rulesChange.Begin();
        var processor = new Processor(new ProcessorId(id), rate, fixedFee, currency);
        if (draft.From is not { } from) Save(processor, by);
        else
        {
            if (db.Processors.Find(id) is null) return [new FieldFault("From", "Leave it empty: this is the processor's first schedule.")];
            var record = db.ProcessorSchedules.Find(id, from) ?? db.ProcessorSchedules.Add(new ProcessorScheduleRecord { ProcessorId = id, From = from, Currency = "" }).Entity;
            (record.FeeRate, record.FeeFixed, record.Currency) = (rate, fixedFee, currency.Code);
            audit.Note(by, "save fees", $"{id} from {from.InWords()}: {rate.ToPercentText()} + {new Money(fixedFee, currency)}");
        }
        change.Commit();
        return [];
    }

    /// <summary>Saves a channel's schedule: the first, or one from a day on.</summary>
    public IReadOnlyList<FieldFault> SaveChannel(ScheduleDraft draft, string by)
    {
        var (fields, id, rate, fixedFee, currency) = Read(draft);
        var rebate = fields.Percent("Rebate", draft.Rebate) ?? Rate.Zero;
        if (fields.Faults.Count > 0) return fields.Faults;
        using var change = rulesChange.Begin();
        var channel = new Channel(new ChannelId(id), rate, fixedFee, currency, rebate);
        if (draft.From is not { } from) Save(channel, draft.Name.Trim().Length > 0 ? draft.Name.Trim() : db.Channels.Find(id)?.Name ?? id, by);
        else
        {
            if (db.Channels.Find(id) is null) return [new FieldFault("From", "Leave it empty: this is the channel's first schedule.")];
            var record = db.ChannelSchedules.Find(id, from) ?? db.ChannelSchedules.Add(new ChannelScheduleRecord { ChannelId = id, From = from, Currency = "" }).Entity;
            (record.FeeRate, record.FeeFixed, record.Currency, record.RebateRate) = (rate, fixedFee, currency.Code, rebate);
            audit.Note(by, "save fees", $"{id} from {from.InWords()}: {rate.ToPercentText()} + {new Money(fixedFee, currency)}, rebate {rebate.ToPercentText()}");
        }
        change.Commit();
        return [];
    }

    private (FieldReader Fields, string Id, Rate Percent, long Fixed, Currency Currency) Read(ScheduleDraft draft)
    {
        var book = cache.Get(db);
        var fields = new FieldReader();
        var id = fields.Required("Id", draft.Id, "Give the id by which orders name it.");
        var currency = draft.Currency.Length == 0 ? book.Currency : fields.Currency("Currency", draft.Currency, "Choose the currency of the fixed fee.");
        return (fields, id, fields.Percent("Percent", draft.Percent) ?? Rate.Zero, fields.Amount("Fixed", draft.Fixed, currency) ?? 0, currency);
    }

    /// <summary>Adds a processor's schedule or puts it in the place of the one there was.</summary>
    public void Save(Processor processor, string by)
    {
        using var change = rulesChange.Begin();
        var record = db.Processors.Find(processor.Id.Value) ?? db.Processors.Add(new ProcessorRecord { Id = processor.Id.Value, Currency = "" }).Entity;
        (record.FeeRate, record.FeeFixed, record.Currency) = (processor.FeeRate, processor.FeeFixed, processor.Currency.Code);
        audit.Note(by, "save fees", $"{processor.Id}: {processor.FeeRate.ToPercentText()} + {new Money(processor.FeeFixed, processor.Currency)}");
        change.Commit();
    }

    /// <summary>Adds a channel's schedule or puts it in the place of the one there was.</summary>
    public void Save(Channel channel, string name, string by)
    {
        using var change = rulesChange.Begin();
        var record = db.Channels.Find(channel.Id.Value) ?? db.Channels.Add(new ChannelRecord { Id = channel.Id.Value, Name = name, Currency = "" }).Entity;
        (record.FeeRate, record.FeeFixed, record.Currency, record.RebateRate) = (channel.FeeRate, channel.FeeFixed, channel.Currency.Code, channel.RebateRate);
        audit.Note(by, "save fees", $"{channel.Id}: {channel.FeeRate.ToPercentText()} + {new Money(channel.FeeFixed, channel.Currency)}, rebate {channel.RebateRate.ToPercentText()}");
        change.Commit();
    }
}
