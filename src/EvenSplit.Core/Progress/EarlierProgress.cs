namespace EvenSplit.Core;

/// <summary>What an order that is not among the facts has added to tracks by one payment or refund.</summary>
/// <param name="On">Its date in the book's zone.</param>
public readonly record struct EarlierEvent(BookEvents.Moment Moment, DateOnly On, IReadOnlyList<ProgressChange> Changes);

/// <summary>The progress that orders have made which are not among the facts, so that a stretch of time can be worked out without all that came before it.</summary>
/// <param name="Tracks">Those that the terms ask for.</param>
/// <param name="Before">How each of them stood before the first event of the facts; one that is not named stood at nothing.</param>
/// <param name="Since">What was added later, by refunds of the orders that are left out, in the order of moments.</param>
public sealed record EarlierProgress(ProgressTracks Tracks, IReadOnlyDictionary<ProgressTrack, ProgressState> Before, IReadOnlyList<EarlierEvent> Since);
