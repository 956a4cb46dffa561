using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Web.Doors;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Which shops send events, what became of them, and where links lead.</summary>
public sealed class SourcesPage(EventSources sources, Inbox inbox, IServiceProvider services) : BookPage
{
    [BindProperty]
    public string SourceName { get; set; } = "";

    [BindProperty]
    public List<string> Channels { get; set; } = [];

    [BindProperty]
    public string ShopAddress { get; set; } = "";

    [BindProperty(SupportsGet = true, Name = "payee")]
    public string LinkPayee { get; set; } = "";

    [BindProperty(SupportsGet = true, Name = "to")]
    public string LinkPage { get; set; } = "/";

    public IReadOnlyList<EventSourceView> Sources { get; private set; } = [];

    public IReadOnlyList<string> FreeChannels { get; private set; } = [];

    public IReadOnlyDictionary<EventState, int> Waiting { get; private set; } = new Dictionary<EventState, int>();

    public IReadOnlyList<InboxEventRecord> NotTaken { get; private set; } = [];

    public IReadOnlyList<InboxEventRecord> Latest { get; private set; } = [];

    /// <summary>The secret that was just made; never shown again.</summary>
    public string? NewSecret { get; private set; }

    public string NewSecretOf { get; private set; } = "";

    public string Hook => $"{Request.Scheme}://{Request.Host}/hooks/sales";

    public IEnumerable<(string Id, string Name)> Payees => Book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal);

    /// <summary>The link asked for; null where the page is none.</summary>
    public string? Link { get; private set; }

    public void OnGet()
    {
        ShopAddress = Book.Record.ShopAddress;
        if (LinkPayee.Length > 0)
        {
            if (GoLinks.Page(LinkPage) is { } page) Link = $"{Request.Scheme}://{Request.Host}/go/{Uri.EscapeDataString(LinkPayee)}?to={Uri.EscapeDataString(page)}";
            else ModelState.AddModelError("LinkPage", "Give a page of the shop, beginning with /.");
        }
        Show();
    }

    public override void Show()
    {
        Sources = sources.List();
        FreeChannels = sources.FreeChannels();
        Waiting = inbox.Waiting();
        NotTaken = inbox.NotTaken();
        Latest = inbox.Latest();
    }

    public IActionResult OnPostAdd()
    {
        var (_, secret) = sources.Add(SourceName, Channels, By);
        return ShowSecret(SourceName, secret);
    }

    internal override string? About => "sources:all";

    [Overwrites]
    public IActionResult OnPostBind(string source)
    {
        sources.Bind(source, Channels, By);
        Done = "It reports orders of these channels from now on.";
        return RedirectToPage();
    }

    public string ChannelName(string id) => Book.ChannelName(id);

    public IActionResult OnPostRenew(string source) => ShowSecret(source, sources.Renew(source, By));

    public IActionResult OnPostClose(string source)
    {
        sources.Close(source, By);
        services.GetRequiredService<SourceSecrets>().Forget();
        Done = "Its events are refused from now on.";
        return RedirectToPage();
    }

    [Overwrites]
    public IActionResult OnPostAddress()
    {
        sources.SetShopAddress(ShopAddress, By);
        Done = $"Links lead to {ShopAddress}.";
        return RedirectToPage();
    }

    public IActionResult OnPostAgain(long id)
    {
        inbox.SendAgain(id, By);
        Done = "It is in the queue again.";
        return RedirectToPage();
    }

    /// <summary>An instant in the book's zone.</summary>
    public string Local(DateTimeOffset at) => Book.Local(at);

    private Microsoft.AspNetCore.Mvc.RazorPages.PageResult ShowSecret(string of, string secret)
    {
        services.GetRequiredService<SourceSecrets>().Forget();
        (NewSecretOf, NewSecret, ShopAddress) = (of, secret, Book.Record.ShopAddress);
        ModelState.Clear();
        SourceName = "";
        Show();
        return Page();
    }
}
