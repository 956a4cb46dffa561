using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>What one order still has to post, and which of its entries clear on another day now, where no run has taken them.</summary>
internal sealed record EntryDifferences(IReadOnlyList<EntryRecord> New, IReadOnlyList<(long Entry, DateOnly? ClearsOn)> Redated)
{
    /// <summary>What is owed less what is posted, entry by entry. Keys are given later; nothing is read or written here.</summary>
    /// <param name="newRefunds">Refunds that have just come in: what they post carries their own date.</param>
    /// <param name="isNatural">Whether everything carries its own date: what was never calculated before has posted nothing that could be corrected.</param>
    /// <param name="heldBack">As <see cref="HeldLines"/> has it.</param>
    /// <param name="isClosed">Whether a month is closed: what would be of it is posted today instead (reconcile contract, section 7).</param>
    /// <param name="today">The date of every other difference, in the book's zone.</param>
    public static EntryDifferences Of(
        HeldOrder held, OrderOutcome outcome, IReadOnlySet<long>? newRefunds, bool isNatural, IReadOnlySet<(long Order, int Line, string Payee, string Agreement)> heldBack, Func<Period, bool> isClosed, DateOnly today)
    {
        var refundKeys = held.Refunds.ToDictionary(r => r.Refund.Id, r => r.Key);
        var numbers = held.Record.LineNumbers();
        var differences = new List<EntryRecord>();
        var redated = new List<(long, DateOnly?)>();
        var seen = new HashSet<PostedKey>();
        foreach (var entry in outcome.Entries)
        {
            long? refundKey = entry.Refund is { } id ? refundKeys[id] : null;
            var byItself = isNatural || (refundKey is { } key && newRefunds?.Contains(key) == true);
            var whole = ToRecord(held.Record.Id, numbers[entry.Line.Value], entry, refundKey, byItself && !isClosed(Period.Of(entry.PostedOn)) ? entry.PostedOn : today);
            // What is held back by hand clears on no day until it is let go.
            if (heldBack.Contains((whole.OrderId, whole.LineNumber, whole.Payee, whole.Agreement))) whole.ClearsOn = null;
            var slot = PostedKey.Of(whole);
            seen.Add(slot);
            var was = held.Posted.GetValueOrDefault(slot) ?? PostedAmount.Nothing;
            redated.AddRange(was.ClearingOtherwise(whole.ClearsOn).Select(e => (e, whole.ClearsOn)));
            whole.Amount -= was.Amount;
            if (whole.Amount != 0) differences.Add(whole);
        }
        foreach (var (slot, was) in held.Posted)
        {
            if (was.Amount != 0 && !seen.Contains(slot)) differences.Add(slot.Reversing(held.Record.Id, was, today));
        }
        return new EntryDifferences(differences, redated);
    }

    public static EntryRecord ToRecord(long orderKey, int lineNumber, Entry entry, long? refund, DateOnly postedOn) => new()
    {
        OrderId = orderKey,
        LineNumber = lineNumber,
        Payee = entry.Payee.Value,
        Agreement = entry.Agreement.Value,
        Part = entry.Part,
        RefundId = refund,
        Amount = entry.Amount.Minor,
        Currency = entry.Amount.Currency.Code,
        PostedOn = postedOn,
        Period = Period.Of(postedOn).Number,
        ClearsOn = entry.ClearsOn,
    };
}
