using System.Globalization;
using System.Text;
using EvenSplit.Books.Model;
using EvenSplit.Demo;

namespace EvenSplit.Cli.Bench;

/// <summary>A big orders.csv over the demonstration's catalogue: the shape of a busy year, spread over the months before the book's today.</summary>
internal static class BenchFile
{
    public static void Write(string path, int lines, IReadOnlyList<PayeeCodeRecord> codes, string prefix = "")
    {
        var random = new Random(7);
        using var file = new StreamWriter(path, false, new UTF8Encoding(false));
        file.WriteLine("order_id,channel,placed_at,paid_at,currency,processor,customer,customer_key,prices_include_tax,order_discount,shipping,shipping_tax,coupon_codes,line_id,product,quantity,unit_price,line_tax,requires_shipping,payment_number");
        var start = new DateTimeOffset(2026, 8, 1, 8, 0, 0, TimeSpan.Zero);
        for (int written = 0, order = 1; written < lines; order++)
        {
            var at = start.AddSeconds(order * 92L * 86_400 / Math.Max(1, lines / 2)).ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
            var code = random.Next(2) == 0 ? codes[random.Next(codes.Count)].Code : "";
            var count = Math.Min(1 + random.Next(4), lines - written);
            var shipping = random.Next(2) == 0 ? "5.95,1.11" : ",";
            for (var line = 1; line <= count; line++, written++)
            {
                var item = DemoCatalogue.Items[random.Next(DemoCatalogue.Items.Count - 1)];
                var tax = item.Price * item.VatPercent / (100 + item.VatPercent);
                file.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{prefix}B-{order},shop,{at},{at},EUR,card,new,c{order % 5000},yes,,{shipping},{code},{line},{item.Id},1,{item.Price / 100m:F2},{tax / 100m:F2},{(item.Ships ? "yes" : "no")},1"));
            }
        }
    }
}
