using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Pictures;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>One's own second factor: an app, passkeys, recovery codes.</summary>
public sealed class SecondFactorPage(SecondFactors factors, PasskeyAsking<BookUser> passkeys) : BookPage
{
    [BindProperty]
    public string Code { get; set; } = "";

    [BindProperty]
    public string PasskeyName { get; set; } = "";

    /// <summary>What a new passkey answered, as JSON of WebAuthn.</summary>
    [BindProperty]
    public string Passkey { get; set; } = "";

    public SecondFactorView Has { get; private set; } = new(false, 0, []);

    public string Key { get; private set; } = "";

    public IHtmlContent Picture { get; private set; } = HtmlString.Empty;

    public string PasskeyOptions { get; private set; } = "";

    /// <summary>Shown this once.</summary>
    public IReadOnlyList<string> Codes { get; private set; } = [];

    /// <summary>Whether nothing else can be done before one is set up.</summary>
    public bool IsDemanded => !Has.IsSet && Roles.All.FirstOrDefault(User.IsInRole) is { } role && factors.IsDemandedOf(role);

    private string Session => SignInCookie.SessionOf(User) ?? "";

    public Task OnGetAsync() => LookAsync();

    public override void Show() => LookAsync().GetAwaiter().GetResult();

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostAppAsync() => await WithCodesAsync(await factors.TakeAppAsync(By, Code, Session));

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostPasskeyAsync()
    {
        var made = await passkeys.MadeAsync(Passkey, factors.Person(By).Id) ?? throw new RefusedException(PasskeyAsking.NotTaken, "PasskeyName");
        return await WithCodesAsync(await factors.TakePasskeyAsync(By, made, PasskeyName, Session));
    }

    [WriteBy(Policies.Anyone), AskAgain]
    public async Task<IActionResult> OnPostNoAppAsync()
    {
        await factors.TakeAwayAppAsync(By);
        Done = "The app is out of use.";
        return RedirectToPage(new { handler = "" });
    }

    [WriteBy(Policies.Anyone), AskAgain]
    public async Task<IActionResult> OnPostNoPasskeyAsync(string credential)
    {
        await factors.TakeAwayPasskeyAsync(By, credential);
        Done = "The passkey is out of use.";
        return RedirectToPage(new { handler = "" });
    }

    [WriteBy(Policies.Anyone), AskAgain]
    public async Task<IActionResult> OnPostCodesAsync() => await WithCodesAsync(await factors.RenewRecoveryCodesAsync(By));

    private async Task<IActionResult> WithCodesAsync(IReadOnlyList<string> codes)
    {
        Codes = codes;
        ModelState.Clear();
        await LookAsync();
        return Page();
    }

    private async Task LookAsync()
    {
        var user = factors.Person(By);
        Has = await factors.OfAsync(user);
        PasskeyOptions = await passkeys.NewAsync(user, user.DisplayName);
        if (Has.HasApp) return;
        (Key, var link) = await factors.KeyAsync(user);
        Picture = SquareCode.Draw(link);
    }
}
