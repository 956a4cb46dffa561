using EvenSplit.Books;

namespace EvenSplit.Web.Serving;

/// <summary>That this server, and no other, works on the book, from its start to its end.</summary>
internal sealed class BookHold(BookPlace place) : IDisposable
{
    private IDisposable? _held;

    /// <returns>False where another server has the book.</returns>
    public bool Take() => (_held = BookTrouble.Hold(place)) is not null;

    public void Dispose() => _held?.Dispose();
}
