using System.Runtime.CompilerServices;

namespace EvenSplit.Books.Tests;

/// <summary>What SQLite is told before its first connection has to be told before any test opens one of its own.</summary>
internal static class SqliteAsInTheApplication
{
#pragma warning disable CA2255 // A test assembly is an application in this respect.
    [ModuleInitializer]
    public static void Begin() => RuntimeHelpers.RunClassConstructor(typeof(BookServices).TypeHandle);
#pragma warning restore CA2255
}
