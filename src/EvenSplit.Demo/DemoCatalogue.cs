using EvenSplit.Books.Model;

namespace EvenSplit.Demo;

/// <summary>What Hedgerow &amp; Sky sells. Prices in cents, VAT included; costs in cents.</summary>
internal static class DemoCatalogue
{
    internal sealed record Item(string Id, string Name, string Collection, long Price, int VatPercent, bool Ships, long? Cost, string? Vendor, int ReturnDays);

    /// <summary>Books carry no VAT; everything else 23 %.</summary>
    public static IReadOnlyList<Item> Items { get; } =
    [
        .. Guides(), .. Recordings(), .. Pins(), .. Prints(), .. FromVendors(),
        new Item("club-year", "Members’ club, a year", "club", 4800, 23, false, null, null, 14),
        new Item("club-trial", "Members’ club, first month", "club", 100, 23, false, null, null, 0),
    ];

    public static IEnumerable<ProductRecord> Records() => Items.Select(i => new ProductRecord
    {
        Id = i.Id,
        Name = i.Name,
        Price = i.Price,
        Currency = "EUR",
        UnitCost = i.Cost,
        CostCurrency = "EUR",
        Vendor = i.Vendor,
        ReturnDays = i.ReturnDays,
        Collections = [new ProductCollectionRecord { Collection = i.Collection }],
        Variants = i.Id == "strap-field" ? [new VariantRecord { Id = "strap-field-tan", Name = "tan" }, new VariantRecord { Id = "strap-field-moss", Name = "moss" }] : [],
    });

    private static IEnumerable<Item> Guides() => new (string Id, string Name, long Price, long Cost)[]
    {
        ("guide-hedgerow", "Field guide: The hedgerow year", 2400, 610), ("guide-shore", "Field guide: Between tides", 2400, 605),
        ("guide-owls", "Field guide: Owls after dark", 2200, 580), ("guide-moss", "Field guide: Mosses underfoot", 2600, 700),
        ("guide-moths", "Field guide: Moths at the window", 2600, 690), ("guide-ponds", "Field guide: Ponds and ditches", 2200, 570),
        ("guide-wrens", "Field guide: Small brown birds", 2400, 600), ("guide-first", "My first hedgerow", 1400, 380),
    }.Select(g => new Item(g.Id, g.Name, "field-guides", g.Price, 0, true, g.Cost, null, 30));

    private static IEnumerable<Item> Recordings() => new (string Id, string Name, long Price)[]
    {
        ("sound-dawn", "Dawn chorus, an hour", 900), ("sound-marsh", "The marsh at night", 900), ("sound-rain", "Rain in a beech wood", 700),
        ("sound-curlew", "Curlew moor", 900), ("sound-seasons", "Four seasons, the set", 2800), ("sound-learn", "Learn fifty songs", 1900),
    }.Select(s => new Item(s.Id, s.Name, "birdsong", s.Price, 23, false, null, null, 14));

    private static IEnumerable<Item> Pins() => new (string Id, string Name)[]
    {
        ("pin-wren", "Enamel pin: wren"), ("pin-hare", "Enamel pin: hare"), ("pin-moth", "Enamel pin: emperor moth"), ("pin-puffin", "Enamel pin: puffin"),
        ("pin-badger", "Enamel pin: badger"), ("pin-fern", "Enamel pin: fern"),
    }.Select(p => new Item(p.Id, p.Name, "pins", 950, 23, true, 180, null, 30));

    private static IEnumerable<Item> Prints() => new (string Id, string Name, long Price)[]
    {
        ("print-heron", "Print: grey heron", 3200), ("print-hawthorn", "Print: hawthorn in May", 3200), ("print-fox", "Print: fox at dusk", 3800),
        ("print-kelp", "Print: kelp forest", 3800), ("print-map", "Print: map of the lane", 4500), ("print-swifts", "Print: swifts", 3200),
        ("print-oak", "Print: one oak, twelve months", 5600),
    }.Select(p => new Item(p.Id, p.Name, "prints", p.Price, 23, true, 520, null, 30));

    private static IEnumerable<Item> FromVendors() =>
    [
        new Item("box-tit", "Nest box, small birds", "nest-boxes", 3400, 23, true, null, "brackenside-joinery", 30),
        new Item("box-owl", "Nest box, barn owl", "nest-boxes", 8900, 23, true, null, "brackenside-joinery", 30),
        new Item("box-swift", "Nest box, swifts", "nest-boxes", 4600, 23, true, null, "brackenside-joinery", 30),
        new Item("box-bat", "Bat box", "nest-boxes", 3900, 23, true, null, "brackenside-joinery", 30),
        new Item("seed-meadow", "Seed: wild meadow, 100 g", "seed", 1250, 23, true, null, "lowmeadow-seeds", 14),
        new Item("seed-hedge", "Seed: hedge bank, 100 g", "seed", 1250, 23, true, null, "lowmeadow-seeds", 14),
        new Item("seed-pond", "Seed: pond edge, 50 g", "seed", 1100, 23, true, null, "lowmeadow-seeds", 14),
        new Item("seed-night", "Seed: for moths, 50 g", "seed", 1100, 23, true, null, "lowmeadow-seeds", 14),
        new Item("strap-field", "Binocular strap", "straps", 5200, 23, true, null, "harrow-and-buckle", 30),
        new Item("strap-wrist", "Camera wrist strap", "straps", 2900, 23, true, null, "harrow-and-buckle", 30),
        new Item("case-guide", "Case for a field guide", "straps", 3600, 23, true, null, "harrow-and-buckle", 30),
    ];
}
