namespace EvenSplit.Books.Importing;

/// <summary>Why an order could not be worked out, for the person who has to deal with it.</summary>
internal static class WhyNot
{
    public static string WorkedOut(Exception failure) => failure switch
    {
        OverflowException => "an amount that comes of it is beyond the largest there is.",
        RefusedException refused => refused.Message,
        _ => "it could not be worked out: " + failure.Message,
    };
}
