using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests;

/// <summary>A table of products and rates becomes terms of a draft; with a fault in it, nothing of it does.</summary>
public sealed class PastedTermsTests : IDisposable
{
    private readonly TestBook _book = new();

    public void Dispose() => _book.Dispose();

    [Theory]
    [InlineData("guide\t10\nprint\t12.5")]
    [InlineData("Product\tRate\nguide\t10 %\nprint\t12,5 %\n\n")]
    [InlineData("product;percent\r\nguide;10\r\nprint;12,5\r\n")]
    [InlineData("guide, 10\nPRINT,12.5%")]
    [InlineData("guide 10\nprint 12.5")]
    public void However_it_is_pasted_the_lines_are_terms(string text)
    {
        var (draft, faults) = Paste(new AgreementDraft(), text);
        Assert.Empty(faults);
        Assert.Equal([(ScopeKind.Product, "guide", "10"), (ScopeKind.Product, "print", "12.5")], draft.Terms.Select(t => (t.ScopeKind, t.ScopeId, Assert.Single(t.Cases).Percent)));
    }

    [Fact]
    public void A_plain_term_for_the_same_gives_way_and_one_with_conditions_stays()
    {
        TermDraft plain = new() { ScopeKind = ScopeKind.Product, ScopeId = "guide", Cases = [new CaseDraft { Percent = "5" }] };
        TermDraft ladder = new() { ScopeKind = ScopeKind.Product, ScopeId = "print", Cases = [new CaseDraft { Sales = "100", Percent = "7" }, new CaseDraft { Percent = "6" }] };
        var (draft, faults) = Paste(new AgreementDraft { Terms = [plain, ladder, new TermDraft()] }, "guide\t10\nprint\t11\neverything\t3");
        Assert.Empty(faults);
        Assert.Equal(["10", "7", "11", "3"], draft.Terms.Select(t => t.Cases[0].Percent));
        Assert.Equal(ScopeKind.All, draft.Terms[3].ScopeKind);
    }

    [Theory]
    [InlineData("guide\t10\nlantern\t12", "Line 2: lantern is no product")]
    [InlineData("guide\t10\nprint\tmuch", "Line 2 has no rate")]
    [InlineData("product\trate\n", "at least one line")]
    [InlineData("", "at least one line")]
    public void With_a_fault_nothing_is_taken_in(string text, string fault)
    {
        var before = new AgreementDraft { Name = "Mine" };
        var (draft, faults) = Paste(before, text);
        Assert.Same(before, draft);
        Assert.Contains(fault, Assert.Single(faults).Message, StringComparison.Ordinal);
    }

    private (AgreementDraft Draft, IReadOnlyList<Forms.FieldFault> Faults) Paste(AgreementDraft draft, string text) => _book.Get<BookCache, (AgreementDraft, IReadOnlyList<Forms.FieldFault>)>(c => PastedTerms.Into(draft, text, c.Find()!));
}
