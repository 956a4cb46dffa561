using System.Globalization;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.StandIns.Shop;

/// <summary>A product on sale; prices are in cents, tax included.</summary>
public sealed record ShopProduct(string Id, string Name, long Price, PaymentPlan? Payments, bool Ships, int VatPercent)
{
    /// <summary>The tax in a price.</summary>
    public long TaxIn(long gross) => gross * VatPercent / (100 + VatPercent);
}

/// <summary>What the shop offers after something was accepted or declined; null where the path ends.</summary>
public sealed record FollowOn(string Product, int? OnAccept, int? OnDecline);

/// <summary>What the shop sells, read from products.csv and offer-paths.csv in its folder.</summary>
public sealed class ShopCatalogue(IReadOnlyList<ShopProduct> products, IReadOnlyDictionary<string, IReadOnlyList<FollowOn>> paths)
{
    public static readonly Currency Euro = Currency.Of("EUR");

    private const string Books = "field-guides";
    private const int BooksVat = 0;
    private const int OtherVat = 23;

    private static readonly CsvColumns Products = new("products", ["product", "name", "price"], ["variant", "collections", "payment_plan"]);
    private static readonly CsvColumns Paths = new("offer paths", ["path", "step", "product"], ["on_accept", "on_decline"]);

    public IReadOnlyList<ShopProduct> All => products;

    public ShopProduct? Find(string id) => products.FirstOrDefault(p => p.Id == id);

    /// <summary>The path that begins with a product, if one does.</summary>
    public (string Path, IReadOnlyList<FollowOn> Steps)? PathAfter(string product)
    {
        foreach (var (name, steps) in paths)
        {
            if (steps[0].Product == product) return (name, steps);
        }
        return null;
    }

    public IReadOnlyList<FollowOn> Steps(string path) => paths.GetValueOrDefault(path) ?? [];

    public static ShopCatalogue Read(ShopSettings settings) => new(
        [.. Rows(settings, "products.csv", Products).Where(r => r["variant"].Length == 0 && r["price"].Length > 0).Select(Product)],
        Rows(settings, "offer-paths.csv", Paths).GroupBy(r => r["path"]).ToDictionary(g => g.Key, g => (IReadOnlyList<FollowOn>)[.. g.Select(r => new FollowOn(r["product"], Step(r["on_accept"]), Step(r["on_decline"])))]));

    private static ShopProduct Product(CsvRow row)
    {
        var price = Money.TryParseMajor(row["price"], Euro, out var money, out _) ? money.Minor : 0;
        PlanText.TryReadPayments(row["payment_plan"], Euro, out var payments);
        var collections = row["collections"].Split(' ');
        return new ShopProduct(row["product"], row["name"], price, payments, !collections.Contains("club") && !collections.Contains("birdsong"), collections.Contains(Books) ? BooksVat : OtherVat);
    }

    private static CsvRow[] Rows(ShopSettings settings, string file, CsvColumns columns)
    {
        var path = Path.Combine(settings.Folder, file);
        if (!File.Exists(path)) return [];
        using var stream = File.OpenRead(path);
        using var table = new CsvTable(stream, columns);
        return [.. table.Rows()];
    }

    private static int? Step(string number) => int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var step) ? step - 1 : null;
}
