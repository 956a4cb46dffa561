using System.Globalization;

namespace EvenSplit.Books.People;

/// <summary>Languages payees are written to in.</summary>
public static class Languages
{
    private static readonly Lazy<Dictionary<string, string>> Known = new(() => CultureInfo.GetCultures(CultureTypes.NeutralCultures | CultureTypes.SpecificCultures).Where(c => c.Name.Length > 0)
        .DistinctBy(c => c.Name, StringComparer.OrdinalIgnoreCase).ToDictionary(c => c.Name, c => c.EnglishName, StringComparer.OrdinalIgnoreCase));

    public static bool IsKnown(string language) => Known.Value.ContainsKey(language);

    /// <summary>In English; as it is written where the machine does not know it.</summary>
    public static string NameOf(string language) => Known.Value.GetValueOrDefault(language, language);
}
