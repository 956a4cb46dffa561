using EvenSplit.Books.Desk;

namespace EvenSplit.Web.Pages;

/// <summary>Everything that is set once, with how it stands.</summary>
public sealed class SetUpPage(BookSetUp setUp) : BookPage
{
    public string Name => Book.Record.Name;

    /// <summary>The page, what it sets, how it stands, and what that decides.</summary>
    public IReadOnlyList<(string Path, string What, string Now, string Decides)> Rows { get; private set; } = [];

    public void OnGet()
    {
        var now = setUp.Find();
        Rows =
        [
            ("books/policies", "Policies", now.Policies, "Who counts as having brought an order."),
            ("sales/fees", "Fees and exchange rates", now.Fees, "What is left of an order to share, and what other currencies are worth."),
            ("sales/sources", "Shops that send events", now.Sources, "Who may send orders, refunds and clicks by themselves."),
            ("sales/import", "Files that are known", now.Files, "Which columns of a shop’s file are which."),
            ("pay/set-up", "Accounts, schedules and holidays", now.Accounts, "Where payments leave from, and when payees are paid."),
            ("people/refund-rates", "Refund limit", now.RefundLimit, "From which share of refunds an affiliate is looked at."),
            ("users", "Who signs in", now.Users, "Who may look, change, approve."),
            ("set-up/mails", "What mails say", now.Mails, "What those read who ask to take part or are invited."),
            ("books/safety", "Safety, and what is kept", now.Safety, "Second factors, backups, and for how long clicks and events are kept."),
        ];
    }
}
