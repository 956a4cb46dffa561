using System.Runtime.InteropServices;
using EvenSplit.Books.Model;

namespace EvenSplit.Books.Posting;

/// <summary>
/// What bookings and entries come to by day, kept so that no page adds up a month of them. Rows are never changed nor deleted, so each counts once, in the transaction that posts it;
/// nothing else writes these sums.
/// </summary>
internal sealed class KeptJournalDays
{
    private readonly Dictionary<(SealedKind Kind, DateOnly On, string Of, string Currency), Sum> _days = [];

    private record struct Sum(long Debit, long Credit, long Postings);

    /// <summary>What was collected; minor units.</summary>
    public IEnumerable<JournalDayRecord> Sums => _days.Select(d => new JournalDayRecord
    {
        Kind = d.Key.Kind,
        On = d.Key.On,
        Of = d.Key.Of,
        Currency = d.Key.Currency,
        Debit = d.Value.Debit,
        Credit = d.Value.Credit,
        Postings = d.Value.Postings,
    });

    /// <param name="amount">What a payee earned, below 0 what was taken back; minor units.</param>
    public void AddEntry(DateOnly on, string payee, string currency, long amount) => Add(SealedKind.Entries, on, payee, currency, amount);

    public void AddBooking(BookingRecord booking)
    {
        foreach (var posting in SalePostings.Of(booking)) Add(SealedKind.Bookings, booking.On, posting.Account, booking.Currency, posting.Amount.Minor);
    }

    /// <summary>Adds it to what is kept, inside the caller's transaction.</summary>
    /// <param name="alongside">As <see cref="BulkWriter{T}.WriteAll"/> has it.</param>
    public void Save(BookDbContext db, bool alongside)
    {
        BulkWriter<JournalDayRecord>.Adding(db).WriteAll([.. Sums], alongside);
        _days.Clear();
    }

    private void Add(SealedKind kind, DateOnly on, string of, string currency, long amount)
    {
        if (amount == 0) return;
        ref var day = ref CollectionsMarshal.GetValueRefOrAddDefault(_days, (kind, on, of, currency), out _);
        day = new Sum(day.Debit + Math.Max(0, amount), day.Credit + Math.Max(0, -amount), day.Postings + 1);
    }
}
