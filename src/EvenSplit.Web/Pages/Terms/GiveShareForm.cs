using EvenSplit.Books;
using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>What a share of a product can be given by: who, and under which agreement. Referral is not asked here, since it goes by orders.</summary>
public sealed record GiveShareForm(IReadOnlyList<(string Id, string Name)> Payees, IReadOnlyList<(string Id, string Name)> Agreements)
{
    public static GiveShareForm For(OpenedBook book, AgreementDesk agreements) => new(
        [.. book.PayeeNames.Select(p => (p.Key, p.Value)).OrderBy(p => p.Value, StringComparer.Ordinal)],
        [.. agreements.List().Where(a => a.Basis != Basis.Referral).Select(a => (a.Id, $"{a.Name} ({(a.Basis == Basis.Supply ? "supply" : "contribution")}, {a.Currency.Code})"))]);
}
