using System.Reflection;
using Markdig;
using Microsoft.AspNetCore.Html;

namespace EvenSplit.Web.Frame;

/// <summary>A chapter of the guide, or one section of it.</summary>
/// <param name="Anchor">Within the chapter's page; empty for what stands before the first section.</param>
internal sealed record GuideSection(string Chapter, string ChapterTitle, string Anchor, string Title, string Text);

/// <summary>The user guide of docs/guide and what each page is for, as they ship with the application.</summary>
internal static class Guide
{
    private const string Prefix = "guide/";

    /// <summary>What it is written in; what would be code in a page is text.</summary>
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder().UsePipeTables().DisableHtml().Build();

    private static readonly Lazy<IReadOnlyList<GuideSection>> All = new(() => [.. Names().SelectMany(Sections)]);

    private static readonly Lazy<Dictionary<string, string>> Helps = new(() => Sections("pages").Where(s => s.Anchor.Length > 0).ToDictionary(s => s.Title, s => s.Text.Trim()));

    /// <summary>Chapters in the order of the work; the words last.</summary>
    public static IEnumerable<(string Name, string Title)> Chapters => All.Value.Select(s => (s.Chapter, s.ChapterTitle)).Distinct();

    public static IReadOnlyList<GuideSection> Chapter(string name) => [.. All.Value.Where(s => s.Chapter == name)];

    /// <summary>What a page is for, in a few sentences; null where it has no place of its own.</summary>
    public static string? Help(PlacePage page) => Helps.Value.GetValueOrDefault(page.Path.Length == 0 ? "desk" : page.Path);

    /// <summary>Sections that have every word of a text, those with it in their title first.</summary>
    public static IReadOnlyList<GuideSection> Find(string text)
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (words.Length == 0) return [];
        bool Has(string where, string word) => where.Contains(word, StringComparison.OrdinalIgnoreCase);
        return [.. All.Value.Where(s => words.All(w => Has(s.Title, w) || Has(s.Text, w))).OrderByDescending(s => words.Count(w => Has(s.Title, w))).ThenBy(s => s.Chapter, StringComparer.Ordinal)];
    }

    public static IHtmlContent Html(string text) => new HtmlString(Markdown.ToHtml(text, Pipeline));

    private static IEnumerable<string> Names() => Assembly.GetExecutingAssembly().GetManifestResourceNames().Where(n => n.StartsWith(Prefix, StringComparison.Ordinal)).Select(n => n[Prefix.Length..^3]).Where(n => n != "pages").Order(StringComparer.Ordinal);

    private static IEnumerable<GuideSection> Sections(string name)
    {
        using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream($"{Prefix}{name}.md")!;
        using var reader = new StreamReader(stream);
        var parts = ("\n" + reader.ReadToEnd()).Split("\n## ");
        var title = parts[0].Split('\n', StringSplitOptions.RemoveEmptyEntries)[0].TrimStart('#', ' ');
        yield return new GuideSection(name, title, "", title, string.Join('\n', parts[0].Split('\n').SkipWhile(l => !l.StartsWith("# ", StringComparison.Ordinal)).Skip(1)));
        foreach (var part in parts.Skip(1))
        {
            var end = part.IndexOf('\n', StringComparison.Ordinal);
            var heading = end < 0 ? part : part[..end].Trim();
            yield return new GuideSection(name, title, new string([.. heading.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-')]), heading, end < 0 ? "" : part[end..]);
        }
    }
}
