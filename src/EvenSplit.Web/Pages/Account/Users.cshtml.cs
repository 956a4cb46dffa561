using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>Who signs in, from where at present, and one's own password.</summary>
public sealed class UsersPage(UserDesk users, BookSessions sessions) : BookPage
{
    [BindProperty]
    public string DisplayName { get; set; } = "";

    [BindProperty]
    public string UserName { get; set; } = "";

    [BindProperty]
    public string Role { get; set; } = Roles.Approver;

    [BindProperty]
    public string Password { get; set; } = "";

    [BindProperty]
    public string OldPassword { get; set; } = "";

    [BindProperty]
    public string NewPassword { get; set; } = "";

    public IReadOnlyList<UserView> People { get; private set; } = [];

    /// <summary>A link to set a password with, shown once.</summary>
    public string? ResetLink { get; private set; }

    public string ResetOf { get; private set; } = "";

    public void OnGet() => Show();

    public override void Show() => People = users.List();

    public string Local(DateTimeOffset at) => Book.Local(at);

    public bool IsHere(SessionRecord session) => session.Id == SignInCookie.SessionOf(User);

    [AskAgain]
    public async Task<IActionResult> OnPostAsync()
    {
        await BookUsers.AddAsync(HttpContext.RequestServices, UserName, DisplayName, Role, Password, By);
        Done = $"{DisplayName} can sign in now. Somebody else confirms the role; until then {DisplayName} releases nothing that you prepared.";
        return RedirectToPage();
    }

    [WriteBy(Policies.Approve), AskAgain]
    public IActionResult OnPostConfirm(string user) => Step(() => users.Confirm(user, By), "The role is confirmed.");

    [AskAgain]
    public async Task<IActionResult> OnPostRoleAsync(string user)
    {
        await users.ChangeRoleAsync(user, Role, By);
        return Step(() => { }, "The role is changed; somebody else confirms it. Who was signed in signs in again.");
    }

    [AskAgain]
    public IActionResult OnPostEnd(string user) => Step(() => users.End(user, By), "They sign in no more; what they did stays on record.");

    [AskAgain]
    public async Task<IActionResult> OnPostResetAsync(string user)
    {
        var token = await users.ResetTokenAsync(user, By);
        Show();
        ResetOf = People.First(p => p.Id == user).Name;
        ResetLink = $"{Request.Scheme}://{Request.Host}/new-password?user={Uri.EscapeDataString(user)}&token={Uri.EscapeDataString(token)}";
        ModelState.Clear();
        return Page();
    }

    [AskAgain]
    public async Task<IActionResult> OnPostRenameAsync(string user, string newName)
    {
        await users.RenameAsync(user, newName, By);
        return Step(() => { }, $"They sign in as {newName} from now on.");
    }

    [AskAgain]
    public async Task<IActionResult> OnPostSecondFactorAsync(string user)
    {
        await users.TakeSecondFactorAwayAsync(user, By);
        return Step(() => { }, "Their second factor is taken away; they set another up at the next sign-in. Somebody else confirms it.");
    }

    /// <summary>Ends a sign-in: anybody's own, or for the lead anybody's.</summary>
    [WriteBy(Policies.Anyone)]
    public IActionResult OnPostSession(string session)
    {
        var own = users.List().FirstOrDefault(p => p.Name == By);
        if (!User.IsInRole(Roles.Lead) && own?.Sessions.Any(s => s.Id == session) != true) return Forbid();
        return Step(() => sessions.End(session), "That sign-in is ended.");
    }

    [WriteBy(Policies.Anyone)]
    public async Task<IActionResult> OnPostPasswordAsync()
    {
        await users.ChangePasswordAsync(By, OldPassword, NewPassword, SignInCookie.SessionOf(User) ?? "");
        return Step(() => { }, "Your password is changed; you are signed out everywhere else.");
    }

    private RedirectToPageResult Step(Action step, string done)
    {
        step();
        Done = done;
        return RedirectToPage(new { handler = "" });
    }
}
