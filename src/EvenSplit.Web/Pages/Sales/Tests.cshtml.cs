using EvenSplit.Books.Importing;

namespace EvenSplit.Web.Pages;

/// <summary>Test orders, in a place of their own.</summary>
public sealed class TestOrdersPage(TestOrders tests) : BookPage
{
    public IReadOnlyList<TestOrderRow> Rows { get; private set; } = [];

    public void OnGet() => Rows = tests.List();

    /// <summary>An instant in the book's zone.</summary>
    public string Local(DateTimeOffset at) => Book.Local(at);
}
