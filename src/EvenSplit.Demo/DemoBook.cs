using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Rewards;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Demo;

/// <summary>Makes the book of Hedgerow &amp; Sky through the product's own doors: fourteen months of sales, their runs paid, October still to do.</summary>
/// <param name="progress">Is told what is made, month by month.</param>
public sealed class DemoBook(BookPlace place, Action<string> progress)
{
    private const int Seed = 20261103;
    private const string Lead = "Maeve Thornfield";
    private const string Approver = "Ruadhan Kestrelby";
    private const string Bookkeeper = "Una Marlpit";

    private static readonly DateOnly Today = new(2026, 11, 3), CameBackOn = new(2026, 10, 7);

    /// <summary>Orders per month from September 2025: a shop that grows, with its Christmas.</summary>
    private static readonly int[] OrdersByMonth = [110, 125, 190, 300, 120, 130, 140, 150, 160, 165, 170, 185, 205, 350];

    /// <param name="withUsers">Whether its three people can sign in, with passwords in a file of the folder.</param>
    public async Task MakeAsync(bool withUsers = true)
    {
        using var services = OneBook.At(place);
        services.PrepareBook();
        if (withUsers) await MakeUsersAsync(services);
        var random = new Random(Seed);
        IReadOnlyList<PayeeRecord> payees = DemoPeople.Records(random);
        Do<OpenBook>(services, open => open.Open("Hedgerow & Sky", "EUR", "Europe/Dublin", Lead, DemoPeople.Start));
        Do<BookDbContext>(services, db => AddSchedules(db, random));
        Do<BookDbContext>(services, AddCatalogue);
        foreach (var draft in DemoTerms.Drafts) Do<AgreementDesk>(services, desk => Publish(desk, null, draft));
        Do<BookDbContext>(services, db => AddPeople(db, payees));
        DemoPayments.Make(services, payees, Lead, Approver);
        Do<RecalculateOrders>(services, recalculate => recalculate.RunAll());
        var sales = new DemoSales(random, payees);
        var month = Period.Of(DemoPeople.Start).Next;
        foreach (var count in OrdersByMonth)
        {
            await MonthAsync(services, sales, month, count, month.LastDay);
            if (month.LastDay < new DateOnly(2026, 10, 1)) PayMonth(services, month);
            month = month.Next;
        }
        foreach (var (agreement, draft) in DemoTerms.NextVersions) Do<AgreementDesk>(services, desk => Publish(desk, agreement, draft));
        Do<RecalculateOrders>(services, recalculate => recalculate.RunAll());
        await MonthAsync(services, sales, month, 31, Today);
        MoveTo(services, Today);
        await OffersAsync(services);
        Do<Adjustments>(services, a =>
        {
            a.Add("quiet-field-podcast", new DateOnly(2026, 10, 20), "25.00", "GBP", AdjustmentKind.Bonus, "For the October launch episode", Lead);
            a.Add("brackenside-joinery", new DateOnly(2026, 10, 28), "-42.50", "EUR", AdjustmentKind.Recharge, "Half of the print advertisement", Lead);
        });
        Do<AgreementDesk>(services, desk => desk.ApproveFor(
            desk.Find("friends-of-the-hedge")!.Members.Single(m => m.Payee == "quiet-field-podcast").Id, ["guide-hedgerow", "guide-shore"], new DateOnly(2026, 12, 1), Lead));
        Do<RecalculateOrders>(services, recalculate => recalculate.RunAll());
        new DemoJoining(services, Lead).Make();
        new DemoOwn(services, Lead).Make();
        Do<RecalculateOrders>(services, recalculate => recalculate.RunAll());
        await new DemoOutside(services, Lead).BringInAsync();
        Do<BookCheck>(services, check =>
        {
            check.Ask("the making of the demonstration");
            check.RunAsked();
        });
        progress("The demonstration book is ready.");
    }

    /// <summary>Says where links lead, and gives the stand-in shop what it sells.</summary>
    public void SetShop(string address)
    {
        using var services = OneBook.At(place);
        services.PrepareBook();
        Do<EventSources>(services, sources =>
        {
            if (sources.List().Count == 0) sources.Add("Stand-in shop", ["shop"], Lead);
            sources.SetShopAddress(address, Lead);
        });
        Directory.CreateDirectory(ShopFolder);
        Do<ProductsFile>(services, file => WriteForShop("products.csv", file.Write().Header, file.Write().Rows));
        Do<OfferPaths>(services, paths => WriteForShop(
            "offer-paths.csv", ["path", "step", "product", "on_accept", "on_decline"],
            paths.List().SelectMany(p => p.Steps.Select((s, i) => new[] { p.Id, $"{i + 1}", s.Product.Value, $"{s.OnAccept + 1}", $"{s.OnDecline + 1}" }))));
    }

    private string ShopFolder => Path.Combine(place.Folder, "shop");

    private void WriteForShop(string name, IReadOnlyList<string> header, IEnumerable<IReadOnlyList<string>> rows)
    {
        using var file = new StreamWriter(Path.Combine(ShopFolder, name));
        CsvOutput.Write(file, header, rows);
    }

    private static async Task OffersAsync(IServiceProvider services)
    {
        Do<AgreementDesk>(services, desk => desk.PutNewAffiliatesOn("friends-of-the-hedge", doSo: true, Lead));
        foreach (var (id, plans) in DemoOffers.Plans) Do<ProductDesk>(services, desk => Sound(desk.Save(id, desk.Draft(id)! with { Plans = plans }, Lead)));
        Do<UnitCosts>(services, costs => Sound(costs.Add("guide-hedgerow", new DateOnly(2026, 12, 1), "6.40", "", Lead)));
        Do<OfferPaths>(services, paths => Sound(paths.Save(null, DemoOffers.Path, Lead).Faults));
        Do<Targets>(services, targets => Sound(targets.Add(DemoOffers.Target, Lead)));
        Do<RewardSchemes>(services, schemes =>
        {
            Sound(schemes.Add(DemoOffers.Scheme, Lead));
            foreach (var (code, key, name) in DemoOffers.Codes) schemes.AddCode(code, key, name, Lead);
        });
        await ImportAsync(services, ImportKind.Orders, "orders-of-friends.csv", DemoOffers.Orders);
        Do<RecalculateOrders>(services, recalculate => recalculate.RunAll());
        Do<Targets>(services, targets => targets.Notice());
    }

    private static void Sound(IReadOnlyList<FieldFault> faults)
    {
        if (faults.Count > 0) throw new InvalidOperationException(string.Join(" ", faults.Select(f => $"{f.Field}: {f.Message}")));
    }

    private async Task MonthAsync(IServiceProvider services, DemoSales sales, Period month, int count, DateOnly lastDay)
    {
        MoveTo(services, lastDay);
        var (orders, refunds) = sales.Month(month, count, lastDay);
        await ImportAsync(services, ImportKind.Orders, $"orders-{month}.csv", orders);
        await ImportAsync(services, ImportKind.Refunds, $"refunds-{month}.csv", refunds);
        progress($"{month.Name}: {count} orders");
    }

    private static async Task ImportAsync(IServiceProvider services, ImportKind kind, string name, string csv)
    {
        using var scope = services.CreateScope();
        using var content = new MemoryStream(Encoding.UTF8.GetBytes(csv));
        var id = await scope.ServiceProvider.GetRequiredService<ImportFiles>().QueueAsync(kind, name, content, Lead);
        var import = scope.ServiceProvider.GetRequiredService<ReadImport>().Run(id);
        if (import.State != ImportState.Done || import.Quarantined > 0) throw new InvalidOperationException($"{name}: {import.Fault} {import.Quarantined} rows in quarantine.");
    }

    private static void PayMonth(IServiceProvider services, Period month)
    {
        MoveTo(services, month.LastDay.AddDays(4));
        var id = 0;
        Do<PayRunSteps>(services, steps => id = steps.Gather(month.LastDay, Lead));
        Do<PayRunSteps>(services, steps => steps.Lock(id, Lead));
        Do<PayRunSteps>(services, steps => steps.LookAt(id, null, Approver));
        RunView run = null!;
        Do<PayRunDesk>(services, desk => run = desk.Find(id)!);
        Do<PayRunSteps>(services, steps => steps.Approve(id, run.ControlText, Approver));
        var number = 0;
        foreach (var row in run.Rows.Where(r => r.Figures.Paid > 0))
        {
            Do<HandPayments>(services, hand => hand.MarkPaid(id, [row.Id!.Value], month.LastDay.AddDays(4), $"HS{month.Number}-{++number:D3}", null, Lead));
        }
        Do<PayRunSteps>(services, steps => steps.Close(id, Lead));
        if (month == Period.Of(CameBackOn).Previous) SayOneCameBack(services, id);
    }

    /// <summary>By telephone the bank said that a payment had come back; its statement of October will show that it left, and nothing that came back.</summary>
    private static void SayOneCameBack(IServiceProvider services, int run)
    {
        MoveTo(services, CameBackOn);
        Do<PayRunDesk>(services, desk =>
        {
            var payment = desk.Find(run)!.Rows.Single(r => r.Payee == "nessa-wrenfold");
            Do<HandPayments>(services, hand => hand.CameBack(run, payment.Id!.Value, "The bank says by telephone that the account is closed", Bookkeeper));
        });
        Do<PaymentDoubts>(services, doubts => doubts.Uphold(doubts.Waiting().Single().Record.Id, Approver));
    }

    private static void AddSchedules(BookDbContext db, Random random)
    {
        db.Processors.Add(new ProcessorRecord { Id = "card", FeeRate = Rate.Parse("0.0175"), FeeFixed = 25, Currency = "EUR" });
        db.Processors.Add(new ProcessorRecord { Id = "market-pay", FeeRate = Rate.Parse("0.029"), FeeFixed = 0, Currency = "EUR" });
        db.Channels.Add(new ChannelRecord { Id = "shop", Name = "Own shop", Currency = "EUR" });
        db.Channels.Add(new ChannelRecord { Id = "open-field-market", Name = "Open Field Market", FeeRate = Rate.Parse("0.11"), Currency = "EUR", RebateRate = Rate.Parse("0.02") });
        var rates = new Dictionary<string, decimal> { ["GBP"] = 0.8620m, ["USD"] = 1.0840m, ["JPY"] = 162.40m };
        for (var date = new DateOnly(2025, 8, 1); date < new DateOnly(2027, 4, 1); date = date.AddDays(1))
        {
            if (date.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday) continue;
            foreach (var currency in rates.Keys.ToArray())
            {
                rates[currency] = Math.Round(rates[currency] * (1m + (random.Next(-40, 41) / 10_000m)), currency == "JPY" ? 2 : 4);
                db.ExchangeRates.Add(new ExchangeRateRecord { Date = date, From = "EUR", To = currency, Rate = Rate.Parse(rates[currency].ToString(System.Globalization.CultureInfo.InvariantCulture)) });
            }
        }
        db.SaveChanges();
    }

    private static void AddCatalogue(BookDbContext db)
    {
        db.Products.AddRange(DemoCatalogue.Records());
        db.SaveChanges();
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
    }

    private static void AddPeople(BookDbContext db, IReadOnlyList<PayeeRecord> payees)
    {
        db.Payees.AddRange(payees);
        db.SaveChanges();
        db.Book.ExecuteUpdate(set => set.SetProperty(b => b.RulesVersion, b => b.RulesVersion + 1));
    }

    private static void Publish(AgreementDesk desk, string? agreement, AgreementDraft draft)
    {
        Sound(desk.Publish(agreement, draft, Lead).Faults);
    }

    private async Task MakeUsersAsync(IServiceProvider services)
    {
        using var scope = services.CreateScope();
        var signIns = new StringBuilder();
        foreach (var (name, role) in new[] { (Lead, Roles.Lead), (Approver, Roles.Approver), (Bookkeeper, Roles.Bookkeeper) })
        {
            var userName = name.Split(' ')[0].ToLowerInvariant();
            // Made anew for every demonstration book, so that no password stands in the repository.
            var password = $"{userName}-{RandomNumberGenerator.GetHexString(10, lowercase: true)}";
            await BookUsers.AddAsync(scope.ServiceProvider, userName, name, role, password);
            signIns.AppendLine($"{role,-11} {userName,-9} {password}");
        }
        await File.WriteAllTextAsync(Path.Combine(place.Folder, "sign-ins.txt"), signIns.ToString());
    }

    private static void MoveTo(IServiceProvider services, DateOnly date) => services.GetRequiredService<BookClock>().MoveTo(date);

    private static void Do<T>(IServiceProvider services, Action<T> action) where T : notnull
    {
        using var scope = services.CreateScope();
        action(scope.ServiceProvider.GetRequiredService<T>());
    }
}
