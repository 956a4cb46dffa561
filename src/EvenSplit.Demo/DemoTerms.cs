using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Demo;

/// <summary>The deals of the demonstration, as a lead would have typed them. Published through the same door as any other.</summary>
internal static class DemoTerms
{
    public static IReadOnlyList<AgreementDraft> Drafts { get; } =
    [
        new AgreementDraft
        {
            Name = "Friends of the hedge", Basis = Basis.Referral, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30, DeductProcessingFee = true,
            Terms =
            [
                new TermDraft { ScopeKind = ScopeKind.All, Cases = [new CaseDraft { Percent = "8" }] },
                new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "club", Cases = [new CaseDraft { Percent = "20" }] },
                new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "seed", Cases = [new CaseDraft { Percent = "4" }] },
            ],
        },
        new AgreementDraft
        {
            Name = "School network", Basis = Basis.Referral, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30,
            Terms =
            [
                new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "field-guides", Cases = [new CaseDraft { Percent = "12", PerOrder = "1.00" }] },
                new TermDraft { ScopeKind = ScopeKind.All, Cases = [new CaseDraft { Percent = "5" }] },
            ],
        },
        new AgreementDraft
        {
            Name = "Guide illustrators", Basis = Basis.Contribution, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30, DeductProcessingFee = true, DeductCost = true, AfterReferral = true,
            Terms = [new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "field-guides", Cases = [new CaseDraft { Percent = "3.5" }] }],
        },
        new AgreementDraft
        {
            Name = "Print artists", Basis = Basis.Contribution, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30, DeductProcessingFee = true, DeductCost = true, AfterReferral = true,
            Terms = [new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "prints", Cases = [new CaseDraft { Percent = "9" }] }],
        },
        new AgreementDraft
        {
            Name = "Sound recordists", Basis = Basis.Contribution, Currency = "EUR", From = DemoPeople.Start, HoldDays = 14, DeductProcessingFee = true, DeductChannelFee = true, AfterReferral = true,
            Terms = [new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "birdsong", Cases = [new CaseDraft { Percent = "9" }] }],
        },
        new AgreementDraft
        {
            Name = "Co-author", Basis = Basis.Contribution, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30,
            Terms = [new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "guide-hedgerow", Cases = [new CaseDraft { PerUnit = "1.50" }] }, new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "guide-first", Cases = [new CaseDraft { PerUnit = "1.10" }] }],
        },
        new AgreementDraft
        {
            // Generous on the puffin: with a referral on top there is more given away than the line brings in.
            Name = "Pin designs", Basis = Basis.Contribution, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30,
            Terms = [new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "pins", Cases = [new CaseDraft { Percent = "15" }] }, new TermDraft { ScopeKind = ScopeKind.Product, ScopeId = "pin-puffin", Cases = [new CaseDraft { Percent = "90", PerUnit = "0.60" }] }],
        },
        new AgreementDraft
        {
            Name = "Club hosts", Basis = Basis.Contribution, Currency = "EUR", From = DemoPeople.Start, HoldDays = 14, DeductProcessingFee = true, AfterReferral = true,
            Terms = [new TermDraft { ScopeKind = ScopeKind.Collection, ScopeId = "club", Cases = [new CaseDraft { Percent = "25" }] }],
        },
        new AgreementDraft
        {
            Name = "Nest box makers", Basis = Basis.Supply, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30, Shipping = Treatment.Pass, DeductProcessingFee = true, AfterReferral = true,
            Terms = [new TermDraft { ScopeKind = ScopeKind.All, Cases = [new CaseDraft { Percent = "32", GoesTo = RateGoesTo.House }] }],
        },
        new AgreementDraft
        {
            Name = "Seed growers", Basis = Basis.Supply, Currency = "EUR", From = DemoPeople.Start, HoldDays = 14, DeductProcessingFee = true,
            Terms = [new TermDraft { ScopeKind = ScopeKind.All, Cases = [new CaseDraft { Percent = "55" }] }],
        },
        new AgreementDraft
        {
            Name = "Strap makers", Basis = Basis.Supply, Currency = "EUR", From = DemoPeople.Start, HoldDays = 30,
            Terms = [new TermDraft { ScopeKind = ScopeKind.All, Cases = [new CaseDraft { Percent = "60" }] }, new TermDraft { ScopeKind = ScopeKind.Variant, ScopeId = "strap-field-moss", Cases = [new CaseDraft { Percent = "60", PerUnit = "2.00" }] }],
        },
    ];

    /// <summary>Versions that follow the first ones: a ladder for the podcasters and letter writers, and bands for the schools with a gap below the lowest.</summary>
    public static IReadOnlyList<(string Agreement, AgreementDraft Draft)> NextVersions { get; } =
    [
        ("friends-of-the-hedge", Drafts[0] with
        {
            From = new DateOnly(2026, 11, 1),
            WindowDays = 45,
            Terms =
            [
                new TermDraft
                {
                    Cases =
                    [
                        new CaseDraft { Sales = "1500", Window = ProgressWindow.Year, Percent = "10" },
                        new CaseDraft { Sales = "750", Window = ProgressWindow.Year, Percent = "9" },
                        new CaseDraft { Percent = "8" },
                    ],
                },
                .. Drafts[0].Terms.Skip(1),
            ],
            Text = "## Friends of the hedge\n\nYou tell your listeners and readers about us; we share what that brings.\n\n- Earnings are paid **monthly**, thirty days after the sale.\n- Nobody earns on what they buy themselves.\n- Either of us may end this with a month's notice.",
        }),
        ("school-network", Drafts[1] with
        {
            From = new DateOnly(2026, 11, 1),
            Terms =
            [
                Drafts[1].Terms[0],
                new TermDraft { Cases = [new CaseDraft { OrderValue = "250", Percent = "9" }, new CaseDraft { OrderValue = "40", Percent = "6" }] },
            ],
        }),
    ];
}
