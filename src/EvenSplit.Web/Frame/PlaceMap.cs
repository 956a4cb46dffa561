using EvenSplit.Books.Desk;

namespace EvenSplit.Web.Frame;

/// <summary>A page of a place.</summary>
/// <param name="Path">Below the month.</param>
/// <param name="Word">As it stands on the second line.</param>
/// <param name="Group">Pages of one group stand together: what one is doing there.</param>
/// <param name="Counts">What waits on it.</param>
/// <param name="ForLead">Shown only to who may change the book.</param>
/// <param name="Below">Other paths that belong to it.</param>
internal sealed record PlacePage(string Path, string Word, int Group, Waiting? Counts = null, bool ForLead = false, params string[] Below);

/// <summary>A place of the frame.</summary>
/// <param name="Path">Below the month; empty for the desk.</param>
/// <param name="Pages">At most seven, in the order of the second line.</param>
internal sealed record Place(string Path, string Word, IReadOnlyList<PlacePage> Pages);

/// <summary>Where every page of the book stands: six places, and what is set once behind the book's name.</summary>
internal static class PlaceMap
{
    /// <summary>What is done again and again, in the order of a month.</summary>
    public static IReadOnlyList<Place> Places { get; } =
    [
        new("", "Desk",
        [
            new("", "Month end", 1), new("pay/calendar", "What clears when", 2), new("pay/ahead", "Look ahead", 2),
        ]),
        new("sales", "Sales",
        [
            new("sales", "Orders", 1), new("sales/clicks", "Clicks", 1), new("sales/import", "Files", 2, ForLead: true, Below: ["sales/imports"]), new("sales/by-hand", "By hand", 2, ForLead: true),
            new("sales/quarantine", "Quarantine", 3, Waiting.Quarantine, Below: ["sales/unknown"]), new("sales/exceptions", "Exceptions", 3, Waiting.Exceptions), new("sales/tests", "Tests", 3),
        ]),
        new("terms", "Terms",
        [
            new("terms", "Agreements", 1), new("terms/coverage", "Coverage", 1), new("terms/products", "Products", 2), new("terms/paths", "Offer paths", 2), new("terms/targets", "Targets", 3, Waiting.Targets),
            new("terms/rewards", "Rewards", 3), new("terms/bulk", "By file", 4),
        ]),
        new("people", "People",
        [
            new("people", "Payees", 1), new("people/applications", "Applications", 1, Waiting.Applications, Below: ["people/invitations"]), new("people/refund-rates", "Refund rates", 1), new("people/questions", "Questions", 2, Waiting.Questions), new("people/contacts", "Contacts", 2, Below: ["people/materials"]), new("people/tax-forms", "Tax forms", 2, Waiting.TaxForms), new("pay/details", "Payout details", 2, Waiting.Details),
        ]),
        new("pay", "Pay",
        [
            new("pay", "Runs", 1), new("pay/results", "Results", 1, Waiting.Doubts), new("pay/bench", "Benches", 1, Waiting.Findings), new("pay/owed", "Owed", 2), new("pay/adjustments", "Adjustments", 2, Waiting.Adjustments),
            new("pay/sign-off", "Sign-off", 3, Waiting.SignOff), new("pay/held", "Held back", 3, Waiting.Held),
        ]),
        new("books", "Books",
        [
            new("books", "Entries", 1), new("books/journal", "Journal", 1), new("books/ageing", "Ageing", 1), new("books/proof", "Proof", 2), new("books/check", "Check", 2), new("books/record", "Record", 3), new("pay/mail", "Mail", 3),
        ]),
    ];

    /// <summary>What is set once, behind the book's name.</summary>
    public static Place SetUp { get; } = new("set-up", "Set-up",
    [
        new("set-up", "All of it", 1, Below: ["set-up/mails"]), new("books/policies", "Policies", 2), new("sales/fees", "Fees and rates", 2), new("sales/sources", "Shops", 3), new("pay/set-up", "Accounts", 3), new("users", "Users", 4),
        new("books/safety", "Safety", 4),
    ]);

    /// <summary>The page an address below the month stands on: the one whose path it begins with, the longest of them.</summary>
    public static (Place Place, PlacePage Page)? Of(string path) => Places.Append(SetUp).SelectMany(p => p.Pages.Select(g => (Place: p, Page: g)))
        .SelectMany(p => p.Page.Below.Prepend(p.Page.Path).Select(b => (p.Place, p.Page, Path: b)))
        .Where(p => path == p.Path || (p.Path.Length > 0 && path.StartsWith(p.Path + "/", StringComparison.Ordinal)))
        .OrderByDescending(p => p.Path.Length).Select(p => ((Place, PlacePage)?)(p.Place, p.Page)).FirstOrDefault();
}
