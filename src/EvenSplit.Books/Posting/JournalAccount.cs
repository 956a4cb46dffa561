using EvenSplit.Core;

namespace EvenSplit.Books.Posting;

/// <summary>A line of a transaction; debit is positive.</summary>
/// <param name="Worth">What the amount comes to in the currency of the transaction's other postings, with the same sign; null where it has the same currency.</param>
public readonly record struct JournalPosting(string Account, Money Amount, Money? Worth = null);

/// <summary>Names of the accounts. What is named in them is written so that a reader of journals takes it as part of the name.</summary>
public static class JournalAccount
{
    public const string Sales = "Income:Sales", Shipping = "Income:Shipping", Tax = "Liabilities:Tax", ProcessingFees = "Expenses:Fees:Processing", ChannelFees = "Expenses:Fees:Channel", Rebates = "Income:Rebates";
    public const string Differences = "Expenses:Differences", TransferFees = "Income:Transfer fees", Withheld = "Liabilities:Tax withheld", StoreCredit = "Liabilities:Store credit", OpeningBalances = "Equity:Opening balances";

    /// <param name="processor">Empty where the money came without one.</param>
    public static string Clearing(string processor) => $"Assets:Clearing:{Part(processor.Length == 0 ? "direct" : processor)}";

    public static string InTransit(string processor) => $"Assets:In transit:{Part(processor.Length == 0 ? "direct" : processor)}";

    public static string Bank(string currency) => $"Assets:Bank:{currency}";

    public static string Channel(string channel) => $"Liabilities:Channel:{Part(channel)}";

    public static string Rebate(string channel) => $"Assets:Rebates:{Part(channel)}";

    public static string Earnings(string payee) => $"Liabilities:Earnings:{Part(payee)}";

    public static string Carried(string payee) => $"Liabilities:Carried:{Part(payee)}";

    public static string ToBePaid(string payee) => $"Liabilities:To be paid:{Part(payee)}";

    public static string CameBack(string payee) => $"Liabilities:Came back:{Part(payee)}";

    public static string Advances(string payee) => $"Assets:Advances:{Part(payee)}";

    public static string WrittenOff(string payee) => $"Income:Written off:{Part(payee)}";

    public static string Adjustments(string payee) => $"Expenses:Adjustments:{Part(payee)}";

    public static string EarningsOf(PayeeRole role) => role switch
    {
        PayeeRole.Affiliate => "Expenses:Earnings:Affiliates",
        PayeeRole.Collaborator => "Expenses:Earnings:Collaborators",
        _ => "Expenses:Earnings:Vendors",
    };

    /// <summary>Nothing that a journal would read as the end of an account's name, a comment or a new line.</summary>
    public static string Part(string words)
    {
        var isPlain = true;
        for (var i = 0; i < words.Length && isPlain; i++) isPlain = !Breaks(words[i]) && !(words[i] == ' ' && (i == 0 || i == words.Length - 1 || words[i - 1] == ' '));
        return isPlain ? words : string.Join(' ', new string([.. words.Select(c => Breaks(c) ? ' ' : c)]).Split(' ', StringSplitOptions.RemoveEmptyEntries));
    }

    private static bool Breaks(char c) => char.IsControl(c) || c is ';' or '|' or ':';
}
