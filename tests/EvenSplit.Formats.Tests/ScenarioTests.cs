using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Formats.Tests;

public sealed class ScenarioTests
{
    private static readonly string Folder = Path.Combine(AppContext.BaseDirectory, "samples");

    public static TheoryData<string> Names => new(Directory.GetFiles(Folder, "*.json").Select(f => Path.GetFileName(f)!)
        .Where(f => !f.EndsWith(".result.json", StringComparison.Ordinal)).Order(StringComparer.Ordinal));

    [Theory, MemberData(nameof(Names))]
    public void Every_version_of_an_agreement_survives_being_written_and_read(string file)
    {
        using var json = File.OpenRead(Path.Combine(Folder, file));
        foreach (var version in ScenarioReader.Read(json).Rules.Agreements.SelectMany(a => a.Versions))
        {
            var written = VersionDocuments.Write(version);
            Assert.Equal(written, VersionDocuments.Write(VersionDocuments.Read(written)));
            Assert.Equal(Text(version), Text(VersionDocuments.Read(written)));
        }

        static string Text(AgreementVersion version) => (version with { Terms = [] }).ToString()
            .Replace(version.Terms.ToString()!, "", StringComparison.Ordinal).Split("Terms")[0]
            + string.Concat(version.Terms.SelectMany(t => t.Cases.Select(c => $"{t.Scope}{c}")));
    }

    [Theory]
    [InlineData(RemittanceReason.BelowMinimum, "below-minimum")]
    [InlineData(RemittanceReason.Paid, "paid")]
    public void Reasons_are_written_with_hyphens(RemittanceReason reason, string word) => Assert.Equal(word, Words.WriteHyphenated(reason));

    [Fact]
    public void Codes_have_days_where_they_are_given_and_are_written_as_words_where_they_are_not()
    {
        const string scenario = """
            { "book": { "currency": "EUR", "timeZone": "UTC", "clickModel": "last" }, "products": [], "agreements": [], "orders": [],
              "payees": [ { "id": "anna", "role": "affiliate", "payoutCurrency": "EUR", "activeFrom": "2026-01-01", "agreements": [],
                            "codes": [ "ANNA", { "code": "SPRING", "from": "2026-03-01" }, { "code": "SPRING", "to": "2025-06-01" } ] } ] }
            """;
        var facts = ScenarioReader.Read(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(scenario)));
        Assert.Equal([new PayeeCode("ANNA"), new PayeeCode("SPRING", new DateOnly(2026, 3, 1)), new PayeeCode("SPRING", null, new DateOnly(2025, 6, 1))], facts.Rules.Payees.Single().Codes);
        using var written = new MemoryStream();
        ScenarioWriter.Write(facts, written);
        Assert.Contains("""
            "codes":["ANNA",{"code":"SPRING","from":"2026-03-01"},{"code":"SPRING","to":"2025-06-01"}]
            """, System.Text.Encoding.UTF8.GetString(written.ToArray()), StringComparison.Ordinal);
    }
}
