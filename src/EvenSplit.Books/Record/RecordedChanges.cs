using System.Collections;
using System.Globalization;
using System.Text.Json;
using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;

namespace EvenSplit.Books.Record;

/// <summary>One value that a deed changed.</summary>
/// <param name="Of">Which row: the kind of thing and its key.</param>
/// <param name="From">Null where there was none.</param>
/// <param name="To">Null where it is gone.</param>
public sealed record RecordedChange(string Of, string Field, string? From, string? To);

/// <summary>Reads from what is about to be saved what changes from what to what, and which things it is about. What the application works out by itself is left out.</summary>
internal static class RecordedChanges
{
    public const int Most = 200;

    private const int LongestValue = 300;

    private const string Sealed = "(not shown)";

    /// <summary>What a person decides. Everything else follows from it, or has a record of its own.</summary>
    private static readonly HashSet<Type> Recorded =
    [
        typeof(BookRecord), typeof(ProcessorRecord), typeof(ProcessorScheduleRecord), typeof(ChannelRecord), typeof(ChannelScheduleRecord), typeof(ExchangeRateRecord), typeof(HolidayRecord),
        typeof(ProductRecord), typeof(VariantRecord), typeof(ProductCollectionRecord), typeof(ProductCostRecord), typeof(OfferPathRecord), typeof(OfferStepRecord), typeof(TargetRecord), typeof(TargetReachedRecord),
        typeof(RewardSchemeRecord), typeof(FriendDiscountRecord), typeof(PayeeRecord), typeof(PayeeCodeRecord), typeof(MembershipRecord), typeof(AdvanceRecord), typeof(PersonalTermRecord),
        typeof(AgreementRecord), typeof(AgreementVersionRecord), typeof(WithdrawnVersionRecord), typeof(AcceptanceRecord), typeof(EventSourceRecord), typeof(PayRunRecord), typeof(RemittanceRecord),
        typeof(AdjustmentRecord), typeof(PayoutDetailsRecord), typeof(PayingAccountRecord), typeof(WriteOffRecord), typeof(PaymentDoubtRecord), typeof(EntryHoldRecord), typeof(BookUser),
        typeof(AgreementViewRecord), typeof(TaxFormRecord), typeof(MaterialRecord), typeof(LeaderboardRecord), typeof(GivenGoodsRecord),
    ];

    /// <summary>Of an order only what somebody sets by hand.</summary>
    private static readonly HashSet<string> OfOrders =
        [nameof(OrderRecord.ManualPayee), nameof(OrderRecord.ActualProcessingFee), nameof(OrderRecord.ActualChannelFee), nameof(OrderRecord.ActualRebate), nameof(OrderRecord.TestSince), nameof(OrderRecord.SignedOffAt)];

    private static readonly HashSet<string> Secret = [nameof(BookUser.PasswordHash), nameof(PayoutDetailsRecord.Protected), nameof(PayingAccountRecord.Iban), nameof(PayeeRecord.CustomerKeys), nameof(PayeeRecord.PostalAddress), nameof(PayeeRecord.TaxNumber), nameof(TaxFormRecord.Content), nameof(MaterialRecord.Picture)];

    /// <summary>Kept by the machinery, and told by nothing.</summary>
    private static readonly HashSet<string> Unsaid =
    [
        nameof(BookRecord.RulesVersion), nameof(BookUser.SecurityStamp), nameof(BookUser.ConcurrencyStamp), nameof(BookUser.NormalizedUserName), nameof(BookUser.NormalizedEmail), nameof(BookUser.AccessFailedCount),
        nameof(BookUser.LockoutEnabled), nameof(BookUser.LastCodes), nameof(BookRecord.KeyProof), nameof(BookUser.EmailConfirmed), nameof(BookUser.PhoneNumberConfirmed),
    ];

    /// <summary>By the name of a column, which kind of thing its value names.</summary>
    private static readonly Dictionary<string, string> Things = new()
    {
        ["Payee"] = "payee",
        ["PayeeId"] = "payee",
        ["AgreementId"] = "agreement",
        ["ProductId"] = "product",
        ["RunId"] = "run",
    };

    public static IEnumerable<(RecordedChange Change, IEnumerable<string> Things)> Of(ChangeTracker tracker)
    {
        foreach (var entry in tracker.Entries())
        {
            var type = entry.Metadata.ClrType;
            if (entry.State is EntityState.Unchanged or EntityState.Detached || !(Recorded.Contains(type) || (entry.State == EntityState.Modified && (type == typeof(OrderRecord) || type == typeof(RefundRecord))))) continue;
            var things = ThingsOf(entry).ToArray();
            foreach (var change in ChangesOf(entry, type == typeof(OrderRecord) ? OfOrders.Contains : name => !Unsaid.Contains(name))) yield return (change, things);
        }
    }

    private static IEnumerable<RecordedChange> ChangesOf(EntityEntry entry, Func<string, bool> isTold)
    {
        var of = $"{Words(entry.Metadata.ClrType)} {Key(entry)}".TrimEnd();
        foreach (var property in entry.Properties.Where(p => !p.Metadata.IsPrimaryKey() && isTold(p.Metadata.Name)))
        {
            var (from, to) = (entry.State == EntityState.Added ? null : Text(property.Metadata, property.OriginalValue), entry.State == EntityState.Deleted ? null : Text(property.Metadata, property.CurrentValue));
            if (entry.State == EntityState.Modified ? property.IsModified && !Equals(property.OriginalValue, property.CurrentValue) : from is not null || to is not null)
            {
                yield return new RecordedChange(of, property.Metadata.Name, from, to);
            }
        }
    }

    private static IEnumerable<string> ThingsOf(EntityEntry entry)
    {
        if (entry.Entity is PayeeRecord payee) yield return "payee:" + payee.Id;
        if (entry.Entity is AgreementRecord agreement) yield return "agreement:" + agreement.Id;
        if (entry.Entity is ProductRecord product) yield return "product:" + product.Id;
        if (entry.Entity is OrderRecord order) yield return "order:" + order.OrderId;
        if (entry.Entity is OfferPathRecord path && entry.State != EntityState.Added) yield return string.Create(CultureInfo.InvariantCulture, $"path:{path.Id}");
        if (entry.Entity is BookRecord) yield return "book:1";
        if (entry.Entity is PayingAccountRecord account) yield return "account:" + account.Currency;
        // Pages that show all of a kind, and change one.
        if (entry.Entity is PayingAccountRecord) yield return "accounts:all";
        if (entry.Entity is EventSourceRecord || (entry.Entity is BookRecord && entry.Property(nameof(BookRecord.ShopAddress)).IsModified)) yield return "sources:all";
        if (entry.Entity is ProcessorRecord or ProcessorScheduleRecord or ChannelRecord or ChannelScheduleRecord) yield return "fees:all";
        if (entry.Entity is BookUser user) yield return "user:" + user.UserName;
        if (entry.Entity is PayRunRecord run && entry.State != EntityState.Added) yield return string.Create(CultureInfo.InvariantCulture, $"run:{run.Id}");
        foreach (var property in entry.Properties)
        {
            if (property.CurrentValue is { } value && Things.TryGetValue(property.Metadata.Name, out var kind)) yield return string.Create(CultureInfo.InvariantCulture, $"{kind}:{value}");
        }
    }

    private static string Key(EntityEntry entry) => string.Join(' ', entry.Metadata.FindPrimaryKey()!.Properties
        .Select(p => entry.Property(p.Name)).Where(p => !p.IsTemporary).Select(p => Convert.ToString(p.CurrentValue, CultureInfo.InvariantCulture)));

    /// <summary>PayeeRecord: payee. PayoutDetailsRecord: payout details.</summary>
    private static string Words(Type type) => string.Concat(type.Name.Replace("Record", "", StringComparison.Ordinal).Replace("Book", "", StringComparison.Ordinal)
        .Select((c, i) => char.IsUpper(c) ? (i > 0 ? " " : "") + char.ToLowerInvariant(c) : c.ToString()));

    private static string? Text(IProperty property, object? value)
    {
        if (value is null) return null;
        if (value is byte[] || Secret.Contains(property.Name)) return Sealed;
        var text = value switch
        {
            string same => same,
            DateTimeOffset at => at.ToString("yyyy-MM-dd HH:mm:ss'Z'", CultureInfo.InvariantCulture),
            DateOnly date => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            IEnumerable list => JsonSerializer.Serialize(list, JsonSerializerOptions.Default),
            IFormattable formattable => formattable.ToString(null, CultureInfo.InvariantCulture),
            _ => value.ToString() ?? "",
        };
        return text.Length <= LongestValue ? text : text[..LongestValue] + "…";
    }
}
