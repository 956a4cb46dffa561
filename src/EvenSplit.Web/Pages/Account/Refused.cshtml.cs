namespace EvenSplit.Web.Pages;

public sealed class RefusedPage : BookPage
{
    public void OnGet() => Response.StatusCode = StatusCodes.Status403Forbidden;
}
