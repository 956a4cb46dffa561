using EvenSplit.Core;

namespace EvenSplit.Books.Model;

/// <summary>The one row that says whose book this is.</summary>
public sealed class BookRecord
{
    public int Id { get; set; } = 1;
    public required string Name { get; set; }
    /// <summary>Stands on invoices; empty until it is set.</summary>
    public string PostalAddress { get; set; } = "";
    /// <summary>Under which the tax office knows the seller; empty until it is set.</summary>
    public string TaxNumber { get; set; } = "";
    public required string Currency { get; set; }
    /// <summary>IANA id; every date of the book is taken in it.</summary>
    public required string TimeZone { get; set; }
    public ClickModel ClickModel { get; set; } = ClickModel.Last;
    public bool AllowSelfReferral { get; set; }
    /// <summary>A demonstration book runs on a clock of its own: today's date there. Null in a real book.</summary>
    public DateOnly? DemoToday { get; set; }
    /// <summary>Where the shop is, such as https://shop.example: links lead there and nowhere else. Empty until it is set.</summary>
    public string ShopAddress { get; set; } = "";
    /// <summary>Above this share of refunds, of orders or of money, a hold is proposed for an affiliate.</summary>
    public Rate RefundLimit { get; set; } = new(Rate.One / 10);
    /// <summary>Stands in every reference of a payment from here on; another each time the book comes back from a backup, empty before that.</summary>
    public string Mark { get; set; } = "";
    /// <summary>When the backup was made that the book came back from, until what was done since is taken up.</summary>
    public DateTimeOffset? RestoredFrom { get; set; }
    /// <summary>Whether leads and approvers must sign in with a second factor.</summary>
    public bool AsksSecondFactor { get; set; }
    /// <summary>Whether one person does everything: then nobody else has to confirm, and whatever they release says so.</summary>
    public bool WorksAlone { get; set; }
    /// <summary>For how many months clicks are kept that no order needs; null for ever.</summary>
    public int? KeepClicksMonths { get; set; }
    /// <summary>For how many months the events of shops are kept as they came; null for ever.</summary>
    public int? KeepEventsMonths { get; set; }
    /// <summary>Something sealed with the book's keys, to see at a start whether they are the right ones; empty before the first.</summary>
    public string KeyProof { get; set; } = "";
    /// <summary>Counts every change of what orders are worked out against, so that a rulebook in memory knows it is old.</summary>
    public long RulesVersion { get; set; }
}

public sealed class ProcessorRecord
{
    public required string Id { get; set; }
    public Rate FeeRate { get; set; }
    public long FeeFixed { get; set; }
    public required string Currency { get; set; }
}

public sealed class ChannelRecord
{
    public required string Id { get; set; }
    public required string Name { get; set; }
    public Rate FeeRate { get; set; }
    public long FeeFixed { get; set; }
    public required string Currency { get; set; }
    public Rate RebateRate { get; set; }
}

/// <summary>Another schedule of a processor, from a day on.</summary>
public sealed class ProcessorScheduleRecord
{
    public required string ProcessorId { get; set; }
    public DateOnly From { get; set; }
    public Rate FeeRate { get; set; }
    public long FeeFixed { get; set; }
    public required string Currency { get; set; }
}

/// <summary>Another schedule of a channel, from a day on.</summary>
public sealed class ChannelScheduleRecord
{
    public required string ChannelId { get; set; }
    public DateOnly From { get; set; }
    public Rate FeeRate { get; set; }
    public long FeeFixed { get; set; }
    public required string Currency { get; set; }
    public Rate RebateRate { get; set; }
}

public sealed class ExchangeRateRecord
{
    public DateOnly Date { get; set; }
    public required string From { get; set; }
    public required string To { get; set; }
    public Rate Rate { get; set; }
}

/// <summary>One thing somebody did: who, when, from where, what, and what it changed. Never edited, and linked to the row before it.</summary>
public sealed class AuditRecord
{
    public long Id { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    /// <summary>An address on the network, or this machine.</summary>
    public string Origin { get; set; } = "";
    public required string Action { get; set; }
    public required string Subject { get; set; }
    /// <summary>What changed from what to what, as JSON; empty where nothing did.</summary>
    public string Changes { get; set; } = "";
    /// <summary>SHA-256 of this row and the hash before it, in hexadecimal digits.</summary>
    public string Hash { get; set; } = "";
    public List<AuditThingRecord> Things { get; set; } = [];
}

/// <summary>What a row of the record is about, so that a thing's history is found.</summary>
public sealed class AuditThingRecord
{
    public long AuditId { get; set; }
    /// <summary>Its kind and id: payee:anna, run:3.</summary>
    public required string Thing { get; set; }
}
