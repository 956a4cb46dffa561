using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Catalogue;

/// <summary>Keeps exchange rates and the fee schedules of processors and channels.</summary>
public sealed class RateDesk(BookDbContext db, AuditLog audit) : IUseCase
{
    private const int RateHoldsForDays = 7;

    /// <summary>Adds published rates. Orders whose amounts are converted on a date that a rate serves are worked out again.</summary>
    /// <exception cref="RefusedException">There is a rate for the pair and date already.</exception>
    public void Add(IReadOnlyCollection<ExchangeRate> rates, string by)
    {
        if (rates.Count == 0) return;
        foreach (var rate in rates)
        {
            if (db.ExchangeRates.Find(rate.From.Code, rate.To.Code, rate.Date) is not null)
            {
                throw new RefusedException($"There is a rate from {rate.From} to {rate.To} on {rate.Date.InWords()} already.");
            }
            db.ExchangeRates.Add(new ExchangeRateRecord { Date = rate.Date, From = rate.From.Code, To = rate.To.Code, Rate = rate.Rate });
        }
        audit.Note(by, "add rates", $"{MoneyWords.Count(rates.Count, "exchange rate")}, from {rates.Min(r => r.Date).InWords()}");
        db.SaveRules(_ => new TouchedOrders { ConvertedFrom = rates.Min(r => r.Date), ConvertedBefore = rates.Max(r => r.Date).AddDays(RateHoldsForDays + 1) });
    }

    /// <summary>Adds a processor's schedule or puts it in the place of the one there was.</summary>
    public void Save(Processor processor, string by)
    {
        var record = db.Processors.Find(processor.Id.Value) ?? db.Processors.Add(new ProcessorRecord { Id = processor.Id.Value, Currency = "" }).Entity;
        (record.FeeRate, record.FeeFixed, record.Currency) = (processor.FeeRate, processor.FeeFixed, processor.Currency.Code);
        audit.Note(by, "save fees", $"{processor.Id}: {processor.FeeRate.ToPercentText()} + {new Money(processor.FeeFixed, processor.Currency)}");
        db.SaveRules(_ => new TouchedOrders { Processors = [processor.Id.Value] });
    }

    /// <summary>Adds a channel's schedule or puts it in the place of the one there was.</summary>
    public void Save(Channel channel, string name, string by)
    {
        var record = db.Channels.Find(channel.Id.Value) ?? db.Channels.Add(new ChannelRecord { Id = channel.Id.Value, Name = name, Currency = "" }).Entity;
        (record.FeeRate, record.FeeFixed, record.Currency, record.RebateRate) = (channel.FeeRate, channel.FeeFixed, channel.Currency.Code, channel.RebateRate);
        audit.Note(by, "save fees", $"{channel.Id}: {channel.FeeRate.ToPercentText()} + {new Money(channel.FeeFixed, channel.Currency)}, rebate {channel.RebateRate.ToPercentText()}");
        db.SaveRules(_ => new TouchedOrders { Channels = [channel.Id.Value] });
    }
}
