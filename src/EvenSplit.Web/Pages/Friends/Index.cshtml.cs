using EvenSplit.Books;
using EvenSplit.Books.Rewards;
using EvenSplit.Core;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>A customer sees the friends they brought, by a link of their own. Who the friends are is not told.</summary>
[AllowAnonymous]
public sealed class FriendsPage(RewardReport report, CustomerLinks links, BookCache cache) : PublicPage(cache)
{
    public CustomerFriends View { get; private set; } = null!;

    public Currency Currency => Book.Currency;

    public string Shop => Book.Record.ShopAddress;

    public IActionResult OnGet(string token)
    {
        if (links.CustomerOf(token) is not { } key || report.OfCustomer(key) is not { } view) return NotFound();
        View = view;
        return Page();
    }

    /// <summary>How an order stands, for who brought it.</summary>
    public static string Standing(RewardRow row) => row switch
    {
        { Why: { } why } => why,
        { Credit: null } => "not worked out yet",
        { IsHeld: true } => "waits until it can no longer be sent back",
        _ => "counts",
    };
}
