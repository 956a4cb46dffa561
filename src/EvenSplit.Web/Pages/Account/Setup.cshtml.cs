using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The first start of an own book: its name, currency, time zone and owner, who shows the code of the console. Gone once the book is open.</summary>
[AllowAnonymous]
public sealed class SetupPage(OpenBook open, SignInCookie cookie, OwnerCode owner, SignInThrottle throttle, UserManager<BookUser> users, BookDbContext db) : BookPage
{
    [BindProperty]
    public string BookName { get; set; } = "";

    [BindProperty]
    public string Currency { get; set; } = "EUR";

    [BindProperty]
    public string TimeZone { get; set; } = "Europe/Dublin";

    [BindProperty]
    public string DisplayName { get; set; } = "";

    [BindProperty]
    public string UserName { get; set; } = "";

    [BindProperty]
    public string Password { get; set; } = "";

    /// <summary>As the console says it.</summary>
    [BindProperty(SupportsGet = true)]
    public string Code { get; set; } = "";

    [BindProperty]
    public bool WorksAlone { get; set; }

    [BindProperty]
    public bool AsksSecondFactor { get; set; }

    public void OnGet() => AsksSecondFactor = true;

    public IEnumerable<string> Zones => TimeZoneInfo.GetSystemTimeZones().Select(z => z.Id).Where(id => id.Contains('/')).Order(StringComparer.Ordinal);

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAsync()
    {
        var address = HttpContext.Connection.RemoteIpAddress?.ToString() ?? "";
        if (throttle.IsTooMany(address, "owner")) throw new RefusedException(SignInThrottle.TooMany, "Code");
        if (!owner.IsRight(Code))
        {
            throttle.Failed(address, "owner");
            throw new RefusedException("This is not the code. It stands where the application was started, and is another at each start.", "Code");
        }
        // The owner and the book come into being together or not at all.
        await using var transaction = await db.Database.BeginTransactionAsync();
        await BookUsers.AddAsync(HttpContext.RequestServices, UserName, DisplayName, Roles.Lead, Password);
        open.Open(BookName, Currency, TimeZone, DisplayName.Trim(), asksSecondFactor: AsksSecondFactor, worksAlone: WorksAlone);
        await transaction.CommitAsync();
        await cookie.StartAsync((await users.FindByNameAsync(UserName.Trim()))!);
        return Redirect("/");
    }
}
