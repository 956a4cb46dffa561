using System.ComponentModel.DataAnnotations;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Books.Sales;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Importing;

/// <summary>A product that rows in quarantine name and the catalogue does not have.</summary>
/// <param name="Price">What most of them charge a unit, as written.</param>
public sealed record UnknownProduct(string Id, long Orders, string Name, string Price);

/// <summary>A coupon code on orders of the book that nobody has.</summary>
public sealed record UnknownCode(string Code, long Orders);

/// <summary>A channel or a processor that orders name and of which nobody has said what it takes.</summary>
public sealed record UnknownTaker(string Id, bool IsChannel, long Orders);

/// <summary>What a channel or a processor takes, as typed; made where a figure stands in it.</summary>
public sealed class NewTaker
{
    public string Id { get; set; } = "";

    public bool IsChannel { get; set; }

    /// <summary>Of a channel; its id where it is left out.</summary>
    [StringLength(200)]
    public string Name { get; set; } = "";

    /// <summary>Of goods for a channel, of what was charged for a processor.</summary>
    public string Percent { get; set; } = "";

    /// <summary>Major units of the book's currency.</summary>
    public string Fixed { get; set; } = "";
}

/// <summary>A product as it is to be made.</summary>
public sealed class NewProduct
{
    public bool Make { get; set; }

    public string Id { get; set; } = "";

    public string Name { get; set; } = "";

    /// <summary>Major units of the book's currency, as typed; empty where it has none of its own.</summary>
    public string Price { get; set; } = "";
}

/// <summary>Whose a code is to be.</summary>
public sealed class NewCode
{
    public string Code { get; set; } = "";

    /// <summary>The payee; empty leaves the code as it is, <see cref="UnknownThings.NewPayee"/> makes one.</summary>
    public string Payee { get; set; } = "";

    /// <summary>Of the payee that is made.</summary>
    [StringLength(200)]
    public string Name { get; set; } = "";
}

/// <summary>
/// What an orders file named before anybody told the book of it: products its rows wait for, channels and processors whose fees are not known, codes that belong to nobody. They are made together, and the
/// rows that waited go in.
/// </summary>
public sealed class UnknownThings(BookDbContext db, BookCache cache, BookClock clock, ProductDesk products, PayeeDesk payees, PayeeCodes codes, RateDesk rates, QuarantineDesk quarantine, RulesChange rulesChange) : IUseCase
{
    public const string NewPayee = "(new)";

    private const int Most = 200;

    private sealed record NamedProduct(string Id, long Orders, string? Price, string? Name);

    /// <summary>The most frequent first.</summary>
    public IReadOnlyList<UnknownProduct> Products()
    {
        var rules = cache.Get(db).Rules;
        return
        [
            .. db.Database.SqlQuery<NamedProduct>(
                $"""
                SELECT json_extract(q.Cells, '$.product') AS Id, COUNT(DISTINCT q."Group") AS Orders, MAX(json_extract(q.Cells, '$.unit_price')) AS Price, MAX(json_extract(q.Cells, '$.product_name')) AS Name
                FROM Quarantine q JOIN Imports i ON i.Id = q.ImportId
                WHERE q.State = {(int)QuarantineState.Waiting} AND i.Kind = {(int)ImportKind.Orders} AND json_extract(q.Cells, '$.product') <> '' GROUP BY 1
                """).AsEnumerable().Where(p => !rules.HasProduct(new ProductId(p.Id))).OrderByDescending(p => p.Orders).ThenBy(p => p.Id, StringComparer.Ordinal).Take(Most)
                .Select(p => new UnknownProduct(p.Id, p.Orders, p.Name ?? Titled(p.Id), p.Price ?? "")),
        ];
    }

    /// <summary>Channels, then processors; the most frequent first.</summary>
    public IReadOnlyList<UnknownTaker> Takers()
    {
        var known = cache.Get(db).Rules.Channels.Select(c => c.Id.Value).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. db.SalesSums.GroupBy(s => s.Channel).Select(g => new { g.Key, Orders = g.Sum(s => s.Orders) }).AsEnumerable().Where(c => !known.Contains(c.Key)).OrderByDescending(c => c.Orders).ThenBy(c => c.Key, StringComparer.Ordinal)
                .Take(Most).Select(c => new UnknownTaker(c.Key, true, c.Orders)),
            .. rates.WithoutSchedule().Select(p => new UnknownTaker(p.Id, false, p.Orders)),
        ];
    }

    /// <summary>The most frequent first.</summary>
    public IReadOnlyList<UnknownCode> Codes()
    {
        var rules = cache.Get(db).Rules;
        var customers = db.CustomerCodes.Select(c => c.Code).AsEnumerable().Select(CouponCode.Normal).ToHashSet();
        return
        [
            .. OrdersByText.Codes(db).Where(c => !customers.Contains(CouponCode.Normal(c)) && !rules.OwnersOfCode(c).Any()).Take(Most)
                .Select(c => new UnknownCode(c, db.OrderCodes.LongCount(o => o.Code == c))).OrderByDescending(c => c.Orders).ThenBy(c => c.Code, StringComparer.Ordinal),
        ];
    }

    /// <summary>Makes what is chosen, all or nothing of it, and sends what waited for it in again.</summary>
    /// <returns>The fields at fault, or how many orders went in.</returns>
    public (IReadOnlyList<FieldFault> Faults, int Taken) Make(IReadOnlyList<NewProduct> newProducts, IReadOnlyList<NewTaker> newTakers, IReadOnlyList<NewCode> newCodes, string by)
    {
        var faults = new List<FieldFault>();
        using (var change = rulesChange.Begin())
        {
            for (var i = 0; i < newProducts.Count; i++)
            {
                if (!newProducts[i].Make) continue;
                faults.AddRange(products.Save(null, new ProductDraft { Id = newProducts[i].Id, Name = newProducts[i].Name, Price = newProducts[i].Price }, by).Select(f => f with { Field = $"Products[{i}].{f.Field}" }));
            }
            for (var i = 0; i < newTakers.Count; i++) faults.AddRange(Told(newTakers[i], by).Select(f => f with { Field = $"Takers[{i}].{f.Field}" }));
            for (var i = 0; i < newCodes.Count; i++) Give(newCodes[i], i, faults, by);
            if (faults.Count > 0) return (faults, 0);
            change.Commit();
        }
        return ([], newProducts.Any(p => p.Make) ? quarantine.SendAllAgain("", by).Taken : 0);
    }

    private IReadOnlyList<FieldFault> Told(NewTaker taker, string by)
    {
        if (taker.Percent.Trim().Length == 0 && taker.Fixed.Trim().Length == 0) return [];
        var draft = new ScheduleDraft { Id = taker.Id, Name = taker.Name, Percent = taker.Percent, Fixed = taker.Fixed };
        return taker.IsChannel ? rates.SaveChannel(draft, by) : rates.SaveProcessor(draft, by);
    }

    private void Give(NewCode given, int at, List<FieldFault> faults, string by)
    {
        if (given.Payee.Length == 0) return;
        var payee = given.Payee;
        if (payee == NewPayee)
        {
            var (id, wrong) = payees.Save(null, new PayeeDraft { Name = given.Name, Role = PayeeRole.Affiliate, PayoutCurrency = cache.Get(db).Currency.Code, ActiveFrom = FirstUse(given.Code) }, by);
            if (id is null)
            {
                faults.AddRange(wrong.Select(f => f with { Field = $"Codes[{at}].{f.Field}" }));
                return;
            }
            payee = id;
        }
        try
        {
            codes.Add(payee, given.Code, null, null, by);
        }
        catch (RefusedException refused)
        {
            faults.Add(new FieldFault($"Codes[{at}].Name", refused.Message));
        }
    }

    /// <summary>Who brought an order was there when it was placed.</summary>
    private DateOnly FirstUse(string code) => db.FirstUse(code) is { } first ? cache.Get(db).Time.DateOf(first) : clock.Today;

    /// <summary>field-guide_owls: Field guide owls.</summary>
    private static string Titled(string id)
    {
        var words = id.Replace('-', ' ').Replace('_', ' ').Trim();
        return words.Length == 0 ? id : char.ToUpperInvariant(words[0]) + words[1..];
    }
}
