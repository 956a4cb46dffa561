using EvenSplit.Books;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>What the last check found, comparison by comparison; each difference opens what it is about.</summary>
public sealed class CheckPage(BookCheck check) : BookPage
{
    public BookCheckRecord? Last { get; private set; }

    public bool IsAsked { get; private set; }

    public string Says => Told(Last, Book);

    public void OnGet() => Show();

    public override void Show() => (Last, IsAsked) = (check.Last(), check.IsAsked);

    public IActionResult OnPost()
    {
        check.Ask(By);
        return RedirectToPage();
    }

    /// <summary>What a check found, as one sentence.</summary>
    public static string Told(BookCheckRecord? last, OpenedBook book) => last switch
    {
        null => "The book has not been checked yet",
        { Differences: 0 } => $"The book agreed with itself on {book.Local(last.At)}",
        _ => $"The book differed from itself in {MoneyWords.Count(last.Differences, "place")} on {book.Local(last.At)}",
    };

    public string? LinkTo(CheckDifferenceRecord difference)
    {
        var key = Uri.EscapeDataString(difference.Key);
        return difference.Subject switch
        {
            CheckSubject.Order => $"/{Period}/sales/{key}",
            CheckSubject.Payee or CheckSubject.Entries => $"/{Period}/people/{key}",
            CheckSubject.Run => $"/{Period}/pay/{key}",
            _ => null,
        };
    }
}
