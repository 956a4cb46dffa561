using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Formats.Tests;

/// <summary>The contract is part of the project: what the code cites of it is there, and its newer faults are told.</summary>
public sealed partial class ContractTests
{
    private static readonly string Root = FindRoot();

    [Fact]
    public void Every_section_of_the_contract_that_the_code_cites_is_in_it()
    {
        var sections = Heading().Matches(File.ReadAllText(Path.Combine(Root, "docs", "calculation.md"))).Select(m => int.Parse(m.Groups[1].Value)).ToHashSet();
        Assert.Equal(Enumerable.Range(1, 10), sections.Order());
        var cited = Directory.EnumerateFiles(Path.Combine(Root, "src"), "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("/obj/", StringComparison.Ordinal))
            .SelectMany(f => Citation().Matches(File.ReadAllText(f)).SelectMany(m => Number().Matches(m.Value).Select(n => (File: f, Section: int.Parse(n.Value))))).ToArray();
        Assert.True(cited.Length > 40);
        Assert.All(cited, c => Assert.Contains(c.Section, sections));
    }

    [Fact]
    public void The_readme_leads_to_the_contract_and_to_how_to_contribute()
    {
        var readme = File.ReadAllText(Path.Combine(Root, "README.md"));
        foreach (var link in Link().Matches(readme).Select(m => m.Groups[1].Value).Where(l => !l.StartsWith("http", StringComparison.Ordinal)))
        {
            Assert.True(Path.Exists(Path.Combine(Root, link)), $"README.md links to {link}, which is not there.");
        }
        Assert.Contains("docs/calculation.md", readme, StringComparison.Ordinal);
        Assert.Contains("CONTRIBUTING.md", readme, StringComparison.Ordinal);
    }

    /// <summary>Each fault of section 10 that is easily let through, in a scenario that is sound but for it.</summary>
    [Theory]
    [InlineData("$.payees[0].recruitedBy", "\"podcast\"", "$.payees[0].recruitedBy: nobody is recruited by themself.")]
    [InlineData("$.payees[0].codes[0]", "\"\"", "$.payees[0].codes[0]: a code has at least one character.")]
    [InlineData("$.payees[0].id", "\"\"", "$.payees[0].id: an id has at least one character.")]
    [InlineData("$.orders[0].channel", "\"\"", "$.orders[0].channel: an id has at least one character.")]
    [InlineData("$.orders[0].codes[0]", "\"\"", "$.orders[0].codes[0]: a code has at least one character.")]
    [InlineData("$.orders[0].lines[0].id", "\"\"", "$.orders[0].lines[0].id: an id has at least one character.")]
    [InlineData("$.products[1].collections[0]", "\"\"", "$.products[1].collections[0]: an id has at least one character.")]
    [InlineData("$.agreements[0].versions[0].terms[0].cases", "[]", "$.agreements[0].versions[0].terms[0].cases: a term has at least one case.")]
    [InlineData("$.payees[0].agreements[0].products[0]", "\"none\"", "$.payees[0].agreements[0].products[0]: there is no product 'none'.")]
    [InlineData("$.payees[0].agreements[0].products", "[\"A\", \"A\"]", "$.payees[0].agreements[0].products[1]: product 'A' is there already")]
    [InlineData("$.agreements[0].versions[0].recruiterPercent", "\"0.0500000\"", "$.agreements[0].versions[0].recruiterPercent: '0.0500000' has more than six places. Zeros at its end count.")]
    [InlineData("$.agreements[0].versions[0].recruiterPercent", "\".5\"", "$.agreements[0].versions[0].recruiterPercent: '.5' is not a decimal fraction such as 0.125.")]
    [InlineData("$.agreements[0].versions[0].recruiterPercent", "\"0.5\\u0000\"", "$.agreements[0].versions[0].recruiterPercent: '0.5\\u0000' is not a decimal fraction")]
    [InlineData("$.agreements[0].versions[0].recruiterPercent", "\"1.2.3\"", "$.agreements[0].versions[0].recruiterPercent: '1.2.3' is not a decimal fraction")]
    [InlineData("$.agreements[0].versions[0].recruiterPercent", "\"99999999999999999999\"", "$.agreements[0].versions[0].recruiterPercent: 99999999999999999999 is above 1")]
    [InlineData("$.orders[0].lines[0].product", "\"two\\nlines\"", "$.orders[0].lines[0].product: there is no product 'two\\u000alines'.")]
    [InlineData("$.orders[0].lines[0].paymentNumber", "3000000000", "$.orders[0].lines[0].paymentNumber: 3000000000 is beyond 2147483647")]
    [InlineData("$.orders[0].placedAt", "\"9999-12-31T00:00:00Z\"", "$.orders[0].placedAt: \"9999-12-31T00:00:00Z\" lies outside the years 2 to 9998.")]
    [InlineData("$.rates", "[{\"date\":\"2026-01-01\",\"from\":\"EUR\",\"to\":\"EUR\",\"rate\":\"1\"}]", "$.rates[0].to: a rate leads from one currency to another, not from EUR to itself.")]
    public void A_fault_is_told_in_one_line_at_its_place_with_its_reason(string place, string value, string expected)
    {
        var scenario = JsonNode.Parse(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "samples", "09-approved-for-some.json")))!;
        Put(scenario, place, JsonNode.Parse(value));
        var fault = Assert.Throws<ScenarioFaultException>(() => ScenarioReader.Read(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(scenario.ToJsonString())))).Faults;
        Assert.Contains(fault, f => f.ToString().StartsWith(expected, StringComparison.Ordinal));
        Assert.All(fault, f => Assert.DoesNotContain('\n', f.ToString()));
    }

    /// <summary>What comes of sound amounts may still be too much; the order or the run is named.</summary>
    [Fact]
    public void An_amount_beyond_64_bits_names_the_order_it_comes_of()
    {
        var scenario = JsonNode.Parse(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "samples", "09-approved-for-some.json")))!;
        Put(scenario, "$.agreements[0].versions[0].terms[0].cases[0].rate", JsonNode.Parse("{\"perUnit\":9007199254740991}"));
        Put(scenario, "$.orders[1].lines[0].quantity", JsonValue.Create(2000));
        var facts = ScenarioReader.Read(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(scenario.ToJsonString())));
        var beyond = Assert.Throws<BeyondLargestAmountException>(() => WholeBook.WorkOut(facts));
        Assert.Equal(("o2", "order 'o2': an amount that comes of it is beyond 9223372036854775807, the largest there is."), (beyond.Order!.Value.Value, beyond.Message));
    }

    private static void Put(JsonNode scenario, string place, JsonNode? value)
    {
        var steps = Step().Matches(place).Select(m => m.Value.Trim('.', '[', ']')).ToArray();
        var at = scenario;
        foreach (var step in steps[..^1]) at = int.TryParse(step, out var index) ? at![index]! : at![step] ?? (at[step] = new JsonArray());
        if (int.TryParse(steps[^1], out var last) && at is JsonArray array)
        {
            if (last < array.Count) array[last] = value;
            else array.Add(value);
        }
        else at[steps[^1]] = value;
    }

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "EvenSplit.slnx"))) folder = folder.Parent!;
        return folder.FullName;
    }

    [GeneratedRegex(@"^## (\d+)\. ", RegexOptions.Multiline)]
    private static partial Regex Heading();

    [GeneratedRegex(@"\bsections? \d+[^.)\n]*")]
    private static partial Regex Citation();

    [GeneratedRegex(@"(?<=sections? |, | to | and )\d+")]
    private static partial Regex Number();

    [GeneratedRegex(@"\]\(([^)#\s]+)[^)]*\)")]
    private static partial Regex Link();

    [GeneratedRegex(@"\.[A-Za-z]+|\[\d+\]")]
    private static partial Regex Step();
}
