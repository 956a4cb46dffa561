using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Scenarios;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books;

internal static class StandingVersion
{
    /// <summary>Published versions that were not withdrawn.</summary>
    public static IQueryable<AgreementVersionRecord> StandingVersions(this BookDbContext db) =>
        db.AgreementVersions.AsNoTracking().Where(v => !db.WithdrawnVersions.Any(w => w.VersionId == v.Id));
}

internal static class ClosedMonth
{
    /// <summary>Numbers of the months that two persons have closed and nobody has opened again.</summary>
    public static IQueryable<int> ClosedMonths(this BookDbContext db) => db.MonthCloses.Where(c => c.ConfirmedBy != null && c.OpenedConfirmedBy == null && !c.IsWithdrawn).Select(c => c.Period);
}

/// <summary>Builds the rulebook from what the database holds.</summary>
internal static class BookLoader
{
    public static OpenedBook Load(BookDbContext db, BookRecord record)
    {
        var products = db.Products.AsNoTracking().Include(p => p.Costs).Include(p => p.Variants).Include(p => p.Collections).AsSplitQuery().ToArray();
        var payees = db.Payees.AsNoTracking().Include(p => p.Codes).Include(p => p.Memberships).Include(p => p.Advances)
            .Include(p => p.PersonalTerms).AsSplitQuery().OrderBy(p => p.Position).ThenBy(p => p.Id).ToArray();
        var agreements = db.Agreements.AsNoTracking().Include(a => a.Versions.Where(v => !db.WithdrawnVersions.Any(w => w.VersionId == v.Id))).ToArray();
        var channels = db.Channels.AsNoTracking().ToArray();
        var rules = new Rulebook(
            new BookPolicy(Currency.Of(record.Currency), BookTime.Of(record.TimeZone), record.ClickModel, record.AllowSelfReferral),
            new ExchangeRates(
                Currency.Of(record.Currency),
                db.ExchangeRates.AsNoTracking().AsEnumerable().Select(r => new ExchangeRate(r.Date, Currency.Of(r.From), Currency.Of(r.To), r.Rate))),
            Processors(db),
            Channels(db, channels),
            products.Select(ToProduct),
            payees.Select(ToPayee),
            agreements.Select(ToAgreement));
        return new OpenedBook(
            record,
            rules,
            payees.ToDictionary(p => p.Id, p => p.Name),
            agreements.ToDictionary(a => a.Id, a => a.Name),
            products.ToDictionary(p => p.Id, p => p.Name),
            channels.ToDictionary(c => c.Id, c => c.Name),
            products.Where(p => p.PricePlan.Length + p.PaymentPlan.Length > 0).ToDictionary(p => new ProductId(p.Id), PlanOf),
            db.Targets.AsNoTracking().Select(t => t.AgreementId).Distinct().AsEnumerable().Select(a => new AgreementId(a)).ToHashSet(),
            db.ClosedMonths().ToHashSet());
    }

    private static IEnumerable<Processor> Processors(BookDbContext db)
    {
        var later = db.ProcessorSchedules.AsNoTracking().OrderBy(s => s.From).AsEnumerable()
            .ToLookup(s => s.ProcessorId, s => (s.From, new Processor(new ProcessorId(s.ProcessorId), s.FeeRate, s.FeeFixed, Currency.Of(s.Currency))));
        return db.Processors.AsNoTracking().AsEnumerable().Select(p => new Processor(new ProcessorId(p.Id), p.FeeRate, p.FeeFixed, Currency.Of(p.Currency)) { Later = [.. later[p.Id]] });
    }

    private static IEnumerable<Channel> Channels(BookDbContext db, IEnumerable<ChannelRecord> channels)
    {
        var later = db.ChannelSchedules.AsNoTracking().OrderBy(s => s.From).AsEnumerable()
            .ToLookup(s => s.ChannelId, s => (s.From, new Channel(new ChannelId(s.ChannelId), s.FeeRate, s.FeeFixed, Currency.Of(s.Currency), s.RebateRate)));
        return channels.Select(c => new Channel(new ChannelId(c.Id), c.FeeRate, c.FeeFixed, Currency.Of(c.Currency), c.RebateRate) { Later = [.. later[c.Id]] });
    }

    private static Agreement ToAgreement(AgreementRecord agreement) => new(
        new AgreementId(agreement.Id), agreement.Basis, Currency.Of(agreement.Currency), agreement.Versions.Select(v => VersionDocuments.Read(v.Document)));

    private static Product ToProduct(ProductRecord product) => new()
    {
        Id = new ProductId(product.Id),
        Variants = product.Variants.Select(v => new VariantId(v.Id)).ToArray(),
        Collections = product.Collections.Select(c => new CollectionId(c.Collection)).ToArray(),
        Vendor = product.Vendor is { } vendor ? new PayeeId(vendor) : null,
        UnitCost = product.UnitCost,
        CostCurrency = Currency.Of(product.CostCurrency),
        LaterCosts = product.Costs.OrderBy(c => c.From).Select(c => new DatedCost(c.From, c.Cost, Currency.Of(c.Currency))).ToArray(),
        ReturnDays = product.ReturnDays,
    };

    /// <exception cref="InvalidOperationException">The plans kept are none: nothing but the book's own use cases writes them.</exception>
    internal static SellingPlan PlanOf(ProductRecord product)
    {
        var currency = Currency.Of(product.Currency);
        return PlanText.TryReadPricing(product.PricePlan, currency, out var pricing) && PlanText.TryReadPayments(product.PaymentPlan, currency, out var payments)
            ? new SellingPlan(new Money(product.Price, currency), pricing, payments)
            : throw new InvalidOperationException($"The plans of {product.Id} cannot be read: '{product.PricePlan}', '{product.PaymentPlan}'.");
    }

    private static Payee ToPayee(PayeeRecord payee) => new()
    {
        Id = new PayeeId(payee.Id),
        Role = payee.Role,
        PayoutCurrency = Currency.Of(payee.PayoutCurrency),
        ActiveFrom = payee.ActiveFrom,
        ActiveTo = payee.ActiveTo,
        Codes = payee.Codes.OrderBy(c => c.Id).Select(c => c.ToCode()).ToArray(),
        HoldDays = payee.HoldDays,
        OnHold = payee.OnHold,
        Minimum = payee.Minimum,
        WithholdingPercent = payee.WithholdingPercent,
        TransferFee = payee.TransferFee,
        FreeTransfers = payee.FreeTransfers,
        RecoupPercent = payee.RecoupPercent,
        Advances = payee.Advances.Select(a => new Advance(a.Reference, a.On, a.Amount)).ToArray(),
        RecruitedBy = payee.RecruitedBy is { } recruiter ? new PayeeId(recruiter) : null,
        CustomerKeys = payee.CustomerKeys,
        PersonalTerms = payee.PersonalTerms.OrderBy(t => t.Id).Select(t => new PersonalTerm(
            new AgreementId(t.AgreementId), t.From, t.To, VersionDocuments.ReadTerm(t.Document))).ToArray(),
        Memberships = payee.Memberships.OrderBy(m => m.Id).Select(m => new Membership(new AgreementId(m.AgreementId), m.From, m.To) { Products = m.Products?.ConvertAll(p => new ProductId(p)) }).ToArray(),
    };
}
