using EvenSplit.Books.Posting;

namespace EvenSplit.Books.Journal;

/// <summary>What a transaction tells of.</summary>
public enum JournalSource { Order, Entry, Run, Settlement, Bank }

/// <summary>A transaction of the journal (reconcile contract, section 5): its postings sum to 0, in each currency or by their worth.</summary>
/// <param name="On">In the book's zone.</param>
/// <param name="Key">The order's id, the run's number, the settlement's id, or account and line.</param>
/// <param name="Note">What else leads back: ids of entries, a refund; empty where there is nothing.</param>
public sealed record JournalTransaction(DateOnly On, string Words, JournalSource Source, string Key, string Note, IReadOnlyList<JournalPosting> Postings);
