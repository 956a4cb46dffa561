using EvenSplit.Books;
using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class UsersPage(BookDbContext db) : BookPage
{
    [BindProperty]
    public string DisplayName { get; set; } = "";

    [BindProperty]
    public string UserName { get; set; } = "";

    [BindProperty]
    public string Role { get; set; } = Roles.Approver;

    [BindProperty]
    public string Password { get; set; } = "";

    public IReadOnlyList<(string Name, string UserName, string Role)> People { get; private set; } = [];

    public void OnGet() => Show();

    public override void Show() => People = BookUsers.List(db);

    public async Task<IActionResult> OnPostAsync()
    {
        await BookUsers.AddAsync(HttpContext.RequestServices, UserName, DisplayName, Role, Password);
        Done = $"{DisplayName} can sign in now.";
        return RedirectToPage();
    }
}
