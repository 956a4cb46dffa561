namespace EvenSplit.Books.Reconcile;

/// <summary>A page over several lists that follow one another: which rows of each are on it.</summary>
internal sealed class PageOfMany(int skip, int take)
{
    private int _skip = skip, _take = take;

    /// <param name="count">How many rows the next list has.</param>
    public (int From, int Rows) Next(int count)
    {
        var from = Math.Min(_skip, count);
        var rows = Math.Min(_take, count - from);
        (_skip, _take) = (_skip - from, _take - rows);
        return (from, rows);
    }
}
