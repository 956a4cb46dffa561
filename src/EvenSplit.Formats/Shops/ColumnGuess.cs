using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Shops;

/// <summary>The first rows of a file under the names it gives its columns itself.</summary>
/// <param name="Rows">Cells in the header's order; rows that are shorter end early.</param>
public sealed record FileHead(IReadOnlyList<string> Header, IReadOnlyList<IReadOnlyList<string>> Rows)
{
    public IEnumerable<string> Cells(int column) => Rows.Select(r => column < r.Count ? r[column].Trim() : "").Where(c => c.Length > 0);
}

/// <summary>Tells what the columns of a file are by their names and by what is in them.</summary>
public static partial class ColumnGuess
{
    private const int ExactName = 100;
    private const int OtherName = 80;
    private const int PartOfName = 40;
    private const int WordOfName = 20;

    /// <summary>The layout that the file most likely has. What it does not have is left out; what no file says is said for every row.</summary>
    /// <param name="currency">The book's, for a file that names none.</param>
    /// <param name="channel">For a file of orders that does not say where they were sold.</param>
    public static FileLayout Layout(FileHead head, CsvColumns columns, string currency, string channel)
    {
        var names = Names(head, columns);
        // A list of orders without a day of payment is one of orders that are paid.
        if (columns.All.Contains("paid_at") && names.TryGetValue("placed_at", out var placed)) names.TryAdd("paid_at", placed);
        var meanings = ColumnMeaning.Of(columns).Where(m => names.ContainsKey(m.Column)).ToArray();
        IEnumerable<string> CellsOf(params CellKind[] kinds) => meanings.Where(m => kinds.Contains(m.Kind)).SelectMany(m => head.Cells(IndexOf(head, names[m.Column])));
        var always = new Dictionary<string, string>();
        void Say(string column, string value)
        {
            if (value.Length > 0 && columns.All.Contains(column) && !names.ContainsKey(column)) always[column] = value;
        }
        Say("currency", CurrencyIn(head, names) ?? currency);
        Say("payout_currency", currency);
        Say("channel", channel);
        Say("quantity", columns.FileKind == "orders" ? "1" : "");
        Say("kind", columns.FileKind == "refunds" ? "refund" : "");
        Say("scope_kind", names.ContainsKey("scope_id") ? "product" : "all");
        Say("role", columns.FileKind == "payees" ? "affiliate" : "");
        if (names.TryGetValue("unit_price", out var price)) Say("prices_include_tax", TaxIsIn(head, names, price) ? "yes" : "no");
        return new FileLayout
        {
            Columns = names,
            Always = always,
            Dates = Dates(CellsOf(CellKind.Instant, CellKind.Date).ToArray()),
            Decimals = Mark(CellsOf(CellKind.Amount, CellKind.TakenOff).ToArray()),
            NumbersLines = columns.All.Contains("line_id") && columns.FileKind == "orders" && !names.ContainsKey("line_id"),
            PriceIsOfLine = price is not null && OfLine().IsMatch(Words(price)),
            OthersAreNotRead = true,
        };
    }

    private static Dictionary<string, string> Names(FileHead head, CsvColumns columns)
    {
        var scores = new List<(int Score, int Order, string Ours, int Theirs)>();
        var order = 0;
        foreach (var meaning in ColumnMeaning.Of(columns))
        {
            for (var i = 0; i < head.Header.Count; i++)
            {
                var score = Score(Words(head.Header[i]), meaning);
                if (score > 0 && CanBe(head.Cells(i), meaning.Kind)) scores.Add((score, order, meaning.Column, i));
            }
            order++;
        }
        var found = new Dictionary<string, string>();
        var taken = new HashSet<int>();
        foreach (var (_, _, ours, theirs) in scores.OrderByDescending(s => s.Score).ThenBy(s => s.Order))
        {
            if (found.ContainsKey(ours) || !taken.Add(theirs)) continue;
            found.Add(ours, head.Header[theirs]);
        }
        // Where the only name of a product is its title, that is how it is known.
        if (columns.Required.Contains("product") && !found.ContainsKey("product") && found.Remove("product_name", out var title)) found["product"] = title;
        return found;
    }

    private static int Score(string header, ColumnMeaning meaning)
    {
        if (string.Equals(header, meaning.Column.Replace('_', ' '), StringComparison.OrdinalIgnoreCase)) return ExactName + 1;
        var at = IndexOf(meaning.Names, header);
        if (at < 0) at = IndexOf(meaning.Names, Beside().Replace(header, " "));
        // The likeliest names stand first, so that 'Product code' and 'Product' each find their own.
        if (at >= 0) return OtherName + ExactName - OtherName - Math.Min(at, ExactName - OtherName);
        var words = header.Split(' ');
        if (Array.Exists(meaning.Names, n => n.Contains(' ', StringComparison.Ordinal) && n.Split(' ').All(words.Contains))) return PartOfName;
        // 'davon MwSt': one word says it, where what is in the cells can bear it out.
        return meaning.Kind is not (CellKind.Text or CellKind.List) && Array.Exists(meaning.Names, n => n.Length > 2 && words.Contains(n)) ? WordOfName : 0;
    }

    /// <summary>Written together or apart, numbers called so in any of the usual ways: OrderNo, order-number.</summary>
    private static int IndexOf(string[] names, string header)
    {
        var together = Together(header);
        return Array.FindIndex(names, n => Together(n) == together);
    }

    private static string Together(string words) => Number().Replace(words.Replace(" ", "", StringComparison.Ordinal), "nr");

    private static bool CanBe(IEnumerable<string> cells, CellKind kind)
    {
        var all = cells.Take(50).ToArray();
        if (all.Length == 0) return true;
        Func<string, bool> fits = kind switch
        {
            CellKind.Amount or CellKind.TakenOff => c => ShopCells.Amount(c, DecimalMark.Comma, true) is not null || ShopCells.Amount(c, DecimalMark.Point, true) is not null,
            CellKind.Instant or CellKind.Date => c => ShopCells.Date(c, DateOrder.DayFirst) is not null || ShopCells.Date(c, DateOrder.MonthFirst) is not null,
            CellKind.Count => c => int.TryParse(ShopCells.Count(c), NumberStyles.None, CultureInfo.InvariantCulture, out _),
            CellKind.Currency => c => Core.Currency.TryOf(ShopCells.Currency(c), out _),
            CellKind.YesNo => c => ShopCells.YesNo(c.ToLowerInvariant()) is "yes" or "no" or "true" or "false" or "0" or "1" or "y" or "n",
            _ => _ => true,
        };
        return all.Count(fits) >= all.Length * 0.8;
    }

    private static DateOrder? Dates(string[] cells)
    {
        if (cells.Length == 0 || cells.All(c => ShopCells.Date(c, null) is not null)) return null;
        return cells.Select(ShopCells.OrderOf).FirstOrDefault(o => o is not null) ?? DateOrder.DayFirst;
    }

    private static DecimalMark Mark(string[] cells) =>
        cells.Select(ShopCells.MarkOf).Where(m => m is not null).GroupBy(m => m).OrderByDescending(g => g.Count()).FirstOrDefault()?.Key ?? DecimalMark.Point;

    /// <summary>By the column's name; else by whether the orders' totals are reached without adding the tax.</summary>
    private static bool TaxIsIn(FileHead head, Dictionary<string, string> names, string price)
    {
        var words = Words(price);
        if (Gross().IsMatch(words)) return true;
        if (Net().IsMatch(words)) return false;
        var total = Enumerable.Range(0, head.Header.Count).FirstOrDefault(i => Total().IsMatch(Words(head.Header[i])), -1);
        if (total < 0 || !names.TryGetValue("line_tax", out var tax) || !names.ContainsKey("order_id")) return false;
        var mark = Mark([.. head.Cells(total)]);
        decimal At(IReadOnlyList<string> row, string? name) => name is not null && IndexOf(head, name) is var i && i < row.Count && ShopCells.Amount(row[i].Trim(), mark, true) is { } text ? decimal.Parse(text, CultureInfo.InvariantCulture) : 0;
        var (inside, outside) = (0, 0);
        foreach (var order in head.Rows.GroupBy(r => IndexOf(head, names["order_id"]) is var i && i < r.Count ? r[i] : ""))
        {
            var first = order.First();
            var goods = order.Sum(r => At(r, price) * Math.Max(1, names.TryGetValue("quantity", out var q) ? At(r, q) : 1) - At(r, names.GetValueOrDefault("line_discount")))
                + At(first, names.GetValueOrDefault("shipping")) - At(first, names.GetValueOrDefault("order_discount"));
            var taxes = order.Sum(r => At(r, tax));
            var charged = total < first.Count && ShopCells.Amount(first[total].Trim(), mark, true) is { } text ? decimal.Parse(text, CultureInfo.InvariantCulture) : 0;
            if (taxes == 0 || charged == 0) continue;
            if (Math.Abs(charged - goods) <= 0.05m) inside++;
            else if (charged >= goods + taxes - 0.05m) outside++;
        }
        return inside > outside;
    }

    /// <summary>A currency that stands in the name of the price's column or with its amounts.</summary>
    private static string? CurrencyIn(FileHead head, Dictionary<string, string> names)
    {
        if (!names.TryGetValue("unit_price", out var price)) return null;
        foreach (var text in head.Cells(IndexOf(head, price)).Take(3).Prepend(price))
        {
            if (text.Contains('€', StringComparison.Ordinal)) return "EUR";
            if (text.Contains('£', StringComparison.Ordinal)) return "GBP";
            if (Code().Match(text) is { Success: true } code && Core.Currency.TryOf(code.Value, out var found)) return found.Code;
        }
        return null;
    }

    /// <summary>The letters of Western Europe and what they are without their accents; the application runs without tables of other languages.</summary>
    private const string Accented = "äàáâãåöòóôõøüùúûëèéêïìíîñçÿ";
    private const string Plain = "aaaaaaoooooouuuueeeeiiiincy";

    private static int IndexOf(FileHead head, string name) => head.Header.ToList().IndexOf(name);

    /// <summary>Order No. (EUR), orderNo, ORDER_NO: order no eur. Without accents.</summary>
    private static string Words(string name)
    {
        var words = new StringBuilder();
        foreach (var c in Hump().Replace(name, "$1 $2").Select(char.ToLowerInvariant))
        {
            var at = Accented.IndexOf(c, StringComparison.Ordinal);
            words.Append(at >= 0 ? Plain[at] : char.IsLetterOrDigit(c) ? c : ' ');
        }
        return Spaces().Replace(words.ToString().Replace("ß", "ss", StringComparison.Ordinal), " ").Trim();
    }

    [GeneratedRegex(@"(\p{Ll})(\p{Lu})")]
    private static partial Regex Hump();

    [GeneratedRegex(@"\s+")]
    private static partial Regex Spaces();

    [GeneratedRegex(@"\b[A-Z]{3}\b")]
    private static partial Regex Code();

    [GeneratedRegex(@"(nummer|number|num|numero|no|nr)$")]
    private static partial Regex Number();

    /// <summary>What is said of a price beside what it is the price of.</summary>
    [GeneratedRegex(@"\b(eur|gbp|usd|chf|sek|dkk|nok|pln|incl|inkl|excl|exkl|gross|net|brutto|netto|ttc|ht|vat|mwst|tax|of the line)\b")]
    private static partial Regex Beside();

    [GeneratedRegex(@"\b(gross|brutto|incl|inkl|ttc|including)\b")]
    private static partial Regex Gross();

    [GeneratedRegex(@"\b(net|netto|excl|exkl|ht|excluding)\b")]
    private static partial Regex Net();

    [GeneratedRegex(@"\b(total|gesamt|summe|amount paid|totale|importe total)\b")]
    private static partial Regex Total();

    [GeneratedRegex(@"\b(line (price|total|amount)|row total|zeilensumme|positionssumme|subtotal)\b")]
    private static partial Regex OfLine();
}
