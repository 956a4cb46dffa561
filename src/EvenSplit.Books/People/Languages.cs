using System.Text.RegularExpressions;

namespace EvenSplit.Books.People;

/// <summary>Languages payees are written to in, as BCP 47 names them: a language, or one with a region, such as pt-BR.</summary>
public static partial class Languages
{
    /// <summary>Codes with their English names. The machine's own list is not asked: without its language data it knows none.</summary>
    private const string All =
        "ar Arabic, bg Bulgarian, ca Catalan, cs Czech, cy Welsh, da Danish, de German, el Greek, en English, es Spanish, et Estonian, eu Basque, fa Persian, fi Finnish, fr French, " +
        "ga Irish, gd Scottish Gaelic, gl Galician, he Hebrew, hi Hindi, hr Croatian, hu Hungarian, id Indonesian, is Icelandic, it Italian, ja Japanese, ko Korean, lt Lithuanian, " +
        "lv Latvian, mt Maltese, nb Norwegian, nl Dutch, pl Polish, pt Portuguese, ro Romanian, ru Russian, sk Slovak, sl Slovenian, sr Serbian, sv Swedish, th Thai, tr Turkish, " +
        "uk Ukrainian, vi Vietnamese, zh Chinese";

    private static readonly Dictionary<string, string> Names = All.Split(", ").Select(l => l.Split(' ', 2)).ToDictionary(l => l[0], l => l[1]);

    public static bool IsKnown(string language) => Form().Match(language) is { Success: true } match && Names.ContainsKey(match.Groups[1].Value);

    /// <summary>In English, such as Portuguese; without its region, and as it is written where it is not known.</summary>
    public static string NameOf(string language) => Names.GetValueOrDefault(language.Split('-')[0], language);

    [GeneratedRegex("^([a-z]{2})(-[A-Z]{2})?$")]
    private static partial Regex Form();
}
