using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Terms;

/// <summary>What was taken off first over the last twelve months, of all that was charged in the book's currency: minor units.</summary>
internal sealed record TypicalDeductions(long Charged, long Tax, long ProcessingFee, long ChannelFee)
{
    public static TypicalDeductions Of(BookDbContext db, OpenedBook book, DateOnly today)
    {
        var since = new Period(Period.Of(today).Number - 100).Number;
        var months = db.PeriodTotals.AsNoTracking().Where(t => t.Currency == book.Currency.Code && t.Period > since).ToArray();
        return new TypicalDeductions(months.Sum(m => m.Charged), months.Sum(m => m.Tax), months.Sum(m => m.ProcessingFee), months.Sum(m => m.ChannelFee));
    }

    /// <summary>The order with the fees that are typical of one at its price.</summary>
    public Order WithFees(Order order, long price) => order with { ProcessingFee = Part(price, ProcessingFee), ChannelFee = Part(price, ChannelFee), Rebate = 0 };

    /// <summary>As much of a price as of all that was charged.</summary>
    public long Part(long price, long part) => Charged == 0 ? 0 : (price * new Fraction(part, Charged)).Round();

    public string Words
    {
        get
        {
            // As the drawing has it of each hundred.
            string Percent(long part) => (Part(100_00, part) / 100m).ToString("0.00", System.Globalization.CultureInfo.InvariantCulture) + " %";
            return Charged == 0
                ? "Nothing has been sold yet, so that no tax and no fees are taken off."
                : $"Taken off first, as on average over the last twelve months: tax {Percent(Tax)}, processing {Percent(ProcessingFee)}, channels {Percent(ChannelFee)} of what was charged.";
        }
    }
}
