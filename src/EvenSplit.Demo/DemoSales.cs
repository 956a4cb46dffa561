using System.Globalization;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Demo;

/// <summary>Makes the demonstration's orders and refunds as the files a shop would export, month by month. The same seed makes the same files.</summary>
internal sealed class DemoSales(Random random, IReadOnlyList<PayeeRecord> payees)
{
    private static readonly string[] OrderHeader =
    [
        "order_id", "channel", "placed_at", "paid_at", "currency", "processor", "customer", "customer_key", "prices_include_tax", "order_discount", "shipping", "shipping_tax",
        "coupon_codes", "test", "line_id", "product", "variant", "quantity", "unit_price", "line_tax", "requires_shipping", "payment_number",
    ];

    private static readonly string[] RefundHeader =
        ["refund_id", "order_id", "at", "kind", "line_id", "quantity", "goods", "tax", "shipping", "shipping_tax", "processing_fee_returned", "dispute_fee"];

    private readonly (string Code, int Weight)[] _codes = payees.SelectMany(p => p.Codes)
        .Select((c, i) => (c.Code, Weight: Math.Max(1, 14 - i / 2))).ToArray();

    private readonly List<string[]> _laterRefunds = [];
    private int _orders;
    private int _refunds;

    /// <summary>Writes one month's orders and refunds; refunds of late orders fall into the month after.</summary>
    public (string Orders, string Refunds) Month(Period month, int orders, DateOnly lastDay)
    {
        var rows = new List<string[]>();
        var refunds = new List<string[]>(_laterRefunds);
        _laterRefunds.Clear();
        // What has not happened by the last day does not happen.
        var end = Iso(new DateTimeOffset(lastDay.AddDays(1).ToDateTime(TimeOnly.MinValue), TimeSpan.Zero));
        var days = lastDay.DayNumber - month.FirstDay.DayNumber + 1;
        var times = Enumerable.Range(0, orders)
            .Select(_ => month.FirstDay.AddDays(random.Next(days)).ToDateTime(new TimeOnly(6, 0)).AddMinutes(random.Next(17 * 60)))
            .Order().ToArray();
        foreach (var at in times) rows.AddRange(Order(new DateTimeOffset(at, TimeSpan.Zero), month, refunds));
        refunds.RemoveAll(r => string.CompareOrdinal(r[2], end) >= 0);
        refunds.Sort((a, b) => string.CompareOrdinal(a[2], b[2]));
        return (Csv(OrderHeader, rows), Csv(RefundHeader, refunds));
    }

    private IEnumerable<string[]> Order(DateTimeOffset at, Period month, List<string[]> refunds)
    {
        var id = $"HS-{10000 + ++_orders}";
        var isMarket = random.Next(100) < 16;
        var isTest = random.Next(400) == 0;
        var isUnpaid = !isTest && random.Next(90) == 0;
        var code = !isMarket && random.Next(100) < 46 ? Code() : "";
        var processor = isMarket ? "market-pay" : random.Next(150) == 0 ? "gift-voucher" : "card";
        var items = Basket();
        var goods = items.Sum(i => i.Item.Price * i.Quantity);
        var ships = items.Any(i => i.Item.Ships);
        var shipping = !ships || goods >= 8000 ? 0 : 595;
        var discount = code.Length > 0 && random.Next(4) == 0 ? goods / 20 : 0;
        var paidAt = isUnpaid ? "" : Iso(at.AddMinutes(random.Next(1, 9)));
        var customer = random.Next(3) == 0 ? "returning" : "new";
        var customerKey = $"c{random.Next(1, 1900):D4}";
        var lines = new List<string[]>();
        for (var i = 0; i < items.Count; i++)
        {
            var (item, quantity, variant) = items[i];
            // The order's discount is spread over the lines by the application; the shop reports the tax it charged after it.
            var gross = item.Price * quantity - (goods == 0 ? 0 : discount * item.Price * quantity / goods);
            var tax = gross * item.VatPercent / (100 + item.VatPercent);
            lines.Add(
            [
                id, isMarket ? "open-field-market" : "shop", Iso(at), paidAt, "EUR", processor, customer, customerKey, "yes",
                Amount(discount), Amount(shipping), Amount(shipping * 23 / 123), code, isTest ? "yes" : "",
                $"{i + 1}", item.Id, variant, $"{quantity}", Amount(item.Price), Amount(tax), item.Ships ? "yes" : "no", item.Id == "club-trial" ? "0" : "1",
            ]);
        }
        if (!isTest && !isUnpaid && random.Next(100) < 5) Refund(id, at, items, lines, month, refunds);
        return lines;
    }

    private void Refund(string order, DateTimeOffset at, List<(DemoCatalogue.Item Item, int Quantity, string Variant)> items, List<string[]> lines, Period month, List<string[]> refunds)
    {
        var refundedAt = at.AddDays(random.Next(2, 24)).AddMinutes(random.Next(600));
        var id = $"RF-{500 + ++_refunds}";
        string[] row;
        if (_refunds == 60)
        {
            row = [id, order, Iso(refundedAt), "chargeback", "1", $"{items[0].Quantity}", Amount(Net(lines[0])), lines[0][19], "", "", "", "15.00"];
        }
        else if (random.Next(3) == 0)
        {
            row = [id, order, Iso(refundedAt), "cancel", "", "", "", "", "", "", "", ""];
        }
        else
        {
            row = [id, order, Iso(refundedAt), "refund", "1", $"{items[0].Quantity}", Amount(Net(lines[0])), lines[0][19], "", "", "", ""];
        }
        (Period.Of(DateOnly.FromDateTime(refundedAt.DateTime)) == month ? refunds : _laterRefunds).Add(row);
    }

    private List<(DemoCatalogue.Item Item, int Quantity, string Variant)> Basket()
    {
        var lines = 1 + (random.Next(100) < 42 ? 1 : 0) + (random.Next(100) < 18 ? 1 : 0) + (random.Next(100) < 7 ? 1 : 0);
        return Enumerable.Range(0, lines).Select(_ => DemoCatalogue.Items[random.Next(DemoCatalogue.Items.Count)]).Distinct()
            .Select(item => (item, item.Price < 3000 && random.Next(5) == 0 ? 2 : 1, item.Id == "strap-field" ? random.Next(2) == 0 ? "strap-field-tan" : "strap-field-moss" : "")).ToList();
    }

    private string Code()
    {
        var at = random.Next(_codes.Sum(c => c.Weight));
        foreach (var (code, weight) in _codes)
        {
            at -= weight;
            if (at < 0) return code;
        }
        return "";
    }

    /// <summary>A line's goods without tax, less its part of the order's discount, as the shop would give back.</summary>
    private static long Net(string[] line)
    {
        var price = (long)(decimal.Parse(line[18], CultureInfo.InvariantCulture) * 100) * long.Parse(line[17], CultureInfo.InvariantCulture);
        var tax = (long)(decimal.Parse(line[19], CultureInfo.InvariantCulture) * 100);
        var discount = (long)(decimal.Parse(line[9], CultureInfo.InvariantCulture) * 100);
        return Math.Max(0, price - tax - discount);
    }

    private static string Csv(string[] header, IEnumerable<string[]> rows)
    {
        using var text = new StringWriter();
        CsvOutput.Write(text, header, rows);
        return text.ToString();
    }

    private static string Iso(DateTimeOffset at) => at.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);

    private static string Amount(long cents) => new Money(cents, Currency.Of("EUR")).ToMajorText();
}
