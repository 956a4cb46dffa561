using System.Diagnostics;
using System.Globalization;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using EvenSplit.Demo;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli.Bench;

/// <summary>
/// A large book over the demonstration's catalogue and deals: many affiliates more, all on the ladder, and three months of sales with refunds,
/// tests, unpaid orders and every kind of exception. Written table by table, through no door.
/// </summary>
internal sealed class BigBook(BookPlace place)
{
    private static readonly DateTimeOffset Start = new(2026, 9, 1, 0, 0, 0, TimeSpan.Zero);
    private static readonly TimeSpan Length = TimeSpan.FromDays(91);

    /// <summary>The last day of it, where the book's clock is set to.</summary>
    public static DateOnly Today { get; } = new(2026, 11, 30);

    /// <param name="demo">The folder of a demonstration book, which is copied and emptied of its sales.</param>
    /// <param name="affiliates">How many there are beside those of the demonstration.</param>
    public void Make(string demo, int orders, int affiliates)
    {
        var watch = Stopwatch.StartNew();
        BookCopy.Make(demo, place);
        using var services = OneBook.At(place);
        services.PrepareBook();
        using var scope = services.CreateScope();
        var db = scope.ServiceProvider.GetRequiredService<BookDbContext>();
        BookCopy.ClearSales(db);
        AddAffiliates(db, affiliates);
        scope.ServiceProvider.GetRequiredService<BookClock>().MoveTo(Today);
        var codes = db.PayeeCodes.AsNoTracking().Select(c => c.Code).ToArray();
        var (made, refunds) = Sales(orders, codes);
        scope.ServiceProvider.GetRequiredService<LoadScenario>().Sales(made, refunds);
        // Makes the guards anew that were lifted.
        services.PrepareBook();
        var runs = scope.ServiceProvider.GetRequiredService<PayRunSteps>();
        runs.Lock(runs.Gather(new DateOnly(2026, 10, 31), "bench"), "bench");
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"a book of {orders:N0} orders  {db.Entries.LongCount():N0} entries, {db.ProgressEvents.LongCount():N0} events of progress, {new FileInfo(place.Database).Length / (double)orders / 1024:F2} KB an order, made in {watch.Elapsed.TotalSeconds:F0} s"));
    }

    private static void AddAffiliates(BookDbContext db, int count)
    {
        var first = db.Payees.Max(p => p.Position) + 1;
        for (var i = 0; i < count; i++)
        {
            db.Payees.Add(new PayeeRecord
            {
                Id = $"hedge-friend-{i:D4}",
                Position = first + i,
                Name = $"Hedge Friend {i:D4}",
                Role = PayeeRole.Affiliate,
                PayoutCurrency = "EUR",
                ActiveFrom = new DateOnly(2025, 8, 1),
                Codes = [new PayeeCodeRecord { Code = $"FRIEND{i:D4}" }],
                Memberships = [new MembershipRecord { AgreementId = "friends-of-the-hedge", From = new DateOnly(2025, 8, 1) }],
            });
            db.ProgressTracks.Add(new ProgressTrackRecord { Payee = $"hedge-friend-{i:D4}", Agreement = "", Currency = "EUR" });
        }
        db.SaveChanges();
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
        db.ChangeTracker.Clear();
    }

    private static (List<Order> Orders, List<Refund> Refunds) Sales(int count, string[] codes)
    {
        var random = new Random(11);
        var (orders, refunds) = (new List<Order>(count), new List<Refund>());
        for (var number = 1; number <= count; number++)
        {
            var at = Start + (Length * ((double)number / (count + 1)));
            at = new DateTimeOffset(at.Ticks - (at.Ticks % TimeSpan.TicksPerSecond), TimeSpan.Zero);
            var lines = Enumerable.Range(1, 1 + random.Next(4)).Select(line => Line(line, random)).ToArray();
            var order = new Order
            {
                Id = new OrderId($"B-{number:D7}"),
                Channel = new ChannelId(random.Next(10) == 0 ? "open-field-market" : "shop"),
                Currency = Currency.Of("EUR"),
                PlacedAt = at,
                PaidAt = random.Next(300) == 0 ? null : at,
                // One in five hundred by a processor whose fees nobody has told.
                Processor = new ProcessorId(random.Next(500) == 0 ? "new-pay" : "card"),
                IsTest = random.Next(2_000) == 0,
                PricesIncludeTax = true,
                Customer = CustomerKind.New,
                CustomerKey = $"c{number % 50_000}",
                Shipping = number % 2 == 0 ? 595 : 0,
                ShippingTax = number % 2 == 0 ? 111 : 0,
                Codes = random.Next(4) == 0 ? [] : [codes[random.Next(codes.Length)]],
                Lines = lines,
            };
            orders.Add(order);
            if (random.Next(30) == 0 && order is { PaidAt: not null, IsTest: false }) refunds.Add(new Refund
            {
                Id = new RefundId($"R-{number:D7}"),
                Order = order.Id,
                At = at.AddDays(random.Next(1, 20)),
                Kind = random.Next(20) == 0 ? RefundKind.Chargeback : RefundKind.Refund,
                Lines = [new RefundLine(lines[0].Id, lines[0].Quantity, (lines[0].UnitPrice * lines[0].Quantity) - lines[0].Tax, lines[0].Tax)],
            });
        }
        return (orders, refunds);
    }

    private static OrderLine Line(int number, Random random)
    {
        var item = DemoCatalogue.Items[random.Next(DemoCatalogue.Items.Count - 1)];
        return new OrderLine
        {
            Id = new LineId(number.ToString(CultureInfo.InvariantCulture)),
            Product = new ProductId(item.Id),
            Quantity = 1,
            UnitPrice = item.Price,
            Tax = item.Price * item.VatPercent / (100 + item.VatPercent),
            RequiresShipping = item.Ships,
            PaymentNumber = 1,
        };
    }
}
