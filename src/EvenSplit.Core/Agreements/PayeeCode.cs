namespace EvenSplit.Core;

/// <summary>A coupon code with the days on which it is a payee's: from the start of From to the start of To, in the book's zone (contract, section 3). Without days it always is.</summary>
public sealed record PayeeCode(string Text, DateOnly? From = null, DateOnly? To = null)
{
    public bool InForceOn(DateOnly date) => (From is null || From <= date) && (To is null || date < To);

    /// <summary>Whether there is a day on which both are in force.</summary>
    public bool Overlaps(PayeeCode other) => (To is null || other.From is null || other.From < To) && (other.To is null || From is null || From < other.To);

    public static PayeeCode FromString(string text) => new(text);

    public static implicit operator PayeeCode(string text) => FromString(text);
}
