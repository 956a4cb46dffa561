using EvenSplit.Books.Catalogue;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>All offer paths, each drawn.</summary>
public sealed class PathsPage(OfferPaths paths, ProductDesk products) : BookPage
{
    private Func<OfferStep, string>? _words;

    public IReadOnlyList<OfferPath> Paths { get; private set; } = [];

    public Func<OfferStep, string> Words => _words ??= WordsOf(products);

    public void OnGet() => Paths = paths.List();

    /// <summary>A step's product with its price.</summary>
    internal static Func<OfferStep, string> WordsOf(ProductDesk products)
    {
        var names = products.List("").ToDictionary(p => p.Id, p => $"{p.Name}, {p.Price.InWords()}");
        return step => names.GetValueOrDefault(step.Product.Value, step.Product.Value);
    }
}
