using EvenSplit.Books;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

/// <summary>Prints something of a book that is there and of this version.</summary>
internal static class FromBook
{
    public static int Print<T>(string folder, Action<T, Stream> print) where T : notnull
    {
        var place = new BookPlace(folder);
        if (!File.Exists(place.Database))
        {
            Console.Error.WriteLine($"There is no book in {folder}.");
            return 2;
        }
        using var services = OneBook.At(place);
        // What only reads never changes a book.
        if (!services.IsOfThisVersion())
        {
            Console.Error.WriteLine("This book was last opened with another version of the application; open it with this one first: ./evensplit serve.");
            return 2;
        }
        using var scope = services.CreateScope();
        using var output = Console.OpenStandardOutput();
        print(scope.ServiceProvider.GetRequiredService<T>(), output);
        return 0;
    }
}
