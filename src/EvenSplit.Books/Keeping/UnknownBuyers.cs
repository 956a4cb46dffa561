using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using EvenSplit.Books.Model;
using EvenSplit.Books.Posting;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Keeping;

/// <summary>Where a buyer is named in the book.</summary>
/// <param name="IsPayee">Whether a payee is known by this key as a buyer.</param>
public sealed record BuyerTraces(int Orders, int Codes, int Waiting, bool IsPayee)
{
    public bool IsAny => Orders + Codes + Waiting > 0 || IsPayee;
}

/// <summary>
/// Makes a buyer unknown: what the shop knows them by is replaced everywhere by one and the same word that means nothing, so that no figure moves, and a file or
/// event that names them again is taken as one of the same unknown buyer.
/// </summary>
public sealed class UnknownBuyers(BookDbContext db, BookPlace place, AuditLog audit) : IUseCase
{
    /// <summary>How what stands in a buyer's place begins.</summary>
    internal const string Prefix = "unknown-";

    private const int SecretLength = 32;

    private string SecretFile => Path.Combine(place.Keys, "unknown-buyers.secret");

    /// <param name="key">What the shop knows the buyer by.</param>
    public BuyerTraces Find(string key)
    {
        var quoted = JsonSerializer.Serialize(key, JsonSerializerOptions.Default);
        return new BuyerTraces(
            db.Orders.Count(o => o.CustomerKey == key),
            db.CustomerCodes.Count(c => c.CustomerKey == key) + db.StoreCredits.Count(c => c.CustomerKey == key),
            db.Quarantine.Count(r => r.Cells.Contains(quoted)),
            PayeesOf(key).Any());
    }

    /// <returns>What stands in its place.</returns>
    /// <exception cref="RefusedException">Nobody is known by it.</exception>
    public string Forget(string key, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        if (key.Length == 0 || !Find(key).IsAny) throw new RefusedException($"The shop's key '{key}' stands nowhere in this book.", "Buyer");
        var (replacement, visitor) = ($"{Prefix}{Guid.NewGuid():N}"[..20], $"visitor-{Guid.NewGuid():N}"[..20]);
        var orders = db.Orders.WithParts().Where(o => o.CustomerKey == key).ToArray();
        var ids = orders.Select(o => o.OrderId).ToArray();
        var visitors = orders.Select(o => o.Visitor).OfType<string>().Distinct().ToArray();
        foreach (var order in orders) Replace(order, replacement, visitor);
        foreach (var payee in PayeesOf(key)) payee.CustomerKeys = [.. payee.CustomerKeys.Select(k => k == key ? replacement : k)];
        var quoted = JsonSerializer.Serialize(key, JsonSerializerOptions.Default);
        foreach (var row in db.Quarantine.Where(r => r.Cells.Contains(quoted)).ToArray()) row.Cells = Without(row.Cells, key, replacement);
        foreach (var e in db.Inbox.Where(e => ids.Contains(e.Order)).ToArray()) e.Body = e.State == EventState.Taken ? [] : Encoding.UTF8.GetBytes(Without(Encoding.UTF8.GetString(e.Body), key, replacement));
        db.UnknownBuyers.Add(new UnknownBuyerRecord { KeyHash = Hash(key), Replacement = replacement });
        db.Book.Single().RulesVersion++;
        // What is on record names the word that stands in its place, not the buyer.
        audit.Note(by, "make a buyer unknown", replacement);
        db.SaveChanges();
        db.Clicks.Where(c => visitors.Contains(c.Visitor)).ExecuteUpdate(set => set.SetProperty(c => c.Visitor, visitor));
        db.CustomerCodes.Where(c => c.CustomerKey == key).ExecuteUpdate(set => set.SetProperty(c => c.CustomerKey, replacement).SetProperty(c => c.Name, "a buyer made unknown"));
        db.StoreCredits.Where(c => c.CustomerKey == key).ExecuteUpdate(set => set.SetProperty(c => c.CustomerKey, replacement));
        transaction.Commit();
        return replacement;
    }

    /// <summary>Orders as the book takes them: of buyers made unknown with the word that stands for them.</summary>
    internal Func<Order, Order> AsKnown()
    {
        if (!db.UnknownBuyers.Any()) return order => order;
        return order => order.CustomerKey is { } key && Hash(key) is var hash && db.UnknownBuyers.Where(b => b.KeyHash == hash).Select(b => b.Replacement).FirstOrDefault() is { } replacement
            ? order with { CustomerKey = replacement }
            : order;
    }

    private IEnumerable<PayeeRecord> PayeesOf(string key) => db.Payees.AsEnumerable().Where(p => p.CustomerKeys.Contains(key));

    /// <summary>The fingerprint stays that of the shop's report: without what was set by hand, where it was.</summary>
    private static void Replace(OrderRecord order, string replacement, string visitor)
    {
        static Order Reported(Order o) => o with { ProcessingFee = null, ChannelFee = null, Rebate = null, ManualPayee = null };
        var isReported = OrderFacts.HashOf(Reported(OrderFacts.ToOrder(order))) == order.FactsHash;
        order.CustomerKey = replacement;
        if (order.Visitor is not null) order.Visitor = visitor;
        var now = OrderFacts.ToOrder(order);
        order.FactsHash = OrderFacts.HashOf(isReported ? Reported(now) : now);
    }

    /// <summary>The same JSON with every string that is the key replaced.</summary>
    private static string Without(string json, string key, string replacement)
    {
        var node = JsonNode.Parse(json);
        Walk(node);
        return node!.ToJsonString();

        void Walk(JsonNode? at)
        {
            if (at is JsonObject o)
            {
                foreach (var (name, value) in o.ToArray()) if (IsKey(value)) o[name] = replacement; else Walk(value);
            }
            else if (at is JsonArray a)
            {
                for (var i = 0; i < a.Count; i++) if (IsKey(a[i])) a[i] = replacement; else Walk(a[i]);
            }
        }

        bool IsKey(JsonNode? value) => value?.GetValueKind() == JsonValueKind.String && value.GetValue<string>() == key;
    }

    private string Hash(string key)
    {
        if (!File.Exists(SecretFile)) File.WriteAllBytes(SecretFile, RandomNumberGenerator.GetBytes(SecretLength));
        return Convert.ToHexStringLower(HMACSHA256.HashData(File.ReadAllBytes(SecretFile), Encoding.UTF8.GetBytes(key)));
    }
}
