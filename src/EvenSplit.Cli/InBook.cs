using EvenSplit.Books;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli;

/// <summary>Does one thing in a book and prints what comes of it.</summary>
internal static class InBook
{
    /// <returns>0 done; 2 where the book refuses it, with the reason on standard error.</returns>
    public static int Do(DirectoryInfo data, Func<IServiceProvider, Task<string>> work)
    {
        using var services = OneBook.At(new BookPlace(data.FullName));
        services.PrepareBook();
        using var scope = services.CreateScope();
        try
        {
            Console.WriteLine(work(scope.ServiceProvider).GetAwaiter().GetResult());
            return 0;
        }
        catch (RefusedException refused)
        {
            Console.Error.WriteLine(refused.Message);
            return 2;
        }
    }
}
