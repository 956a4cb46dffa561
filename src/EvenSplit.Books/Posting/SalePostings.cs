using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>What a booking of a sale or refund puts into the journal (reconcile contract, section 5); amounts in minor units, accounts that nothing comes to are left out.</summary>
internal static class SalePostings
{
    public static List<JournalPosting> Of(BookingRecord b) =>
        Of(b.Processor, b.Channel, Currency.Of(b.Currency), b.Goods, b.Shipping, b.Tax, b.ProcessingFee, b.ChannelFee, b.Rebate);

    public static List<JournalPosting> Of(string processor, string channel, Currency currency, long goods, long shipping, long tax, long fee, long channelFee, long rebate)
    {
        var postings = new List<JournalPosting>(5);
        Add(JournalAccount.Clearing(processor), goods + shipping + tax - fee);
        Add(JournalAccount.ProcessingFees, fee);
        Add(JournalAccount.Sales, -goods);
        Add(JournalAccount.Shipping, -shipping);
        Add(JournalAccount.Tax, -tax);
        if (channelFee != 0)
        {
            Add(JournalAccount.ChannelFees, channelFee);
            Add(JournalAccount.Channel(channel), -channelFee);
        }
        if (rebate != 0)
        {
            Add(JournalAccount.Rebate(channel), rebate);
            Add(JournalAccount.Rebates, -rebate);
        }
        return postings;

        void Add(string account, long minor)
        {
            if (minor != 0) postings.Add(new JournalPosting(account, new Money(minor, currency)));
        }
    }
}
