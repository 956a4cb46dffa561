using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

public sealed class TermsPage(AgreementDesk desk) : BookPage
{
    public IReadOnlyList<AgreementSummary> Agreements { get; private set; } = [];

    public void OnGet() => Agreements = desk.List();

    public static string Words(Basis basis) => basis switch
    {
        Basis.Referral => "orders they brought",
        Basis.Supply => "products they supply",
        _ => "products they share in",
    };
}
