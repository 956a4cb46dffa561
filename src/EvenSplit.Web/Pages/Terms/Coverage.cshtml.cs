using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

/// <summary>The coverage map: which term governs which product, and where nothing does.</summary>
public sealed class CoveragePage(CoverageMap map, ProductDesk products) : BookPage
{
    [BindProperty(SupportsGet = true)]
    public string Collection { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public Basis? Basis { get; set; }

    [BindProperty(SupportsGet = true, Name = "part")]
    public int Number { get; set; } = 1;

    [BindProperty(SupportsGet = true, Name = "columns")]
    public int Columns { get; set; } = 1;

    public CoverageView View { get; private set; } = null!;

    public IReadOnlyList<(string Name, int Products)> Collections { get; private set; } = [];

    public int Pages => (View.Products + CoverageMap.PageSize - 1) / CoverageMap.PageSize;

    public int ColumnPages => (View.Agreements + CoverageMap.MostColumns - 1) / CoverageMap.MostColumns;

    public string Link(int part, int columns) => $"?collection={Uri.EscapeDataString(Collection)}&basis={Basis}&part={part}&columns={columns}";

    public void OnGet()
    {
        View = map.Of(Collection, Basis, Number, Columns);
        Collections = products.Collections();
    }

    /// <summary>One letter for what the governing term is for.</summary>
    public static string Letter(ScopeKind kind) => kind switch { ScopeKind.All => "E", ScopeKind.Collection => "C", ScopeKind.Product => "P", _ => "V" };

    public static string Words(ScopeKind kind) => kind switch { ScopeKind.All => "a term for everything", ScopeKind.Collection => "a collection's term", ScopeKind.Product => "a term of its own", _ => "a term for a variant" };
}
