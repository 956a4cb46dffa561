using System.Security.Cryptography;
using System.Text;
using EvenSplit.Books.Ledger;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Own;

/// <summary>What each agreement shows those who are on it; where nothing was said the base alone, and the order's id.</summary>
public sealed class ShownToPayees(BookDbContext db, BookCache cache, AuditLog audit) : IUseCase
{
    private Dictionary<string, AgreementViewRecord>? _views;

    public AgreementViewRecord Of(string agreement) => (_views ??= db.AgreementViews.AsNoTracking().ToDictionary(v => v.AgreementId)).GetValueOrDefault(agreement) ?? new AgreementViewRecord { AgreementId = agreement };

    internal static PayeeSight SightOf(AgreementViewRecord view) => new(view.Steps == ShownSteps.All, view.ShowsFees);

    public void Save(AgreementViewRecord view, string by)
    {
        if (db.AgreementViews.FirstOrDefault(v => v.AgreementId == view.AgreementId) is { } kept) (kept.Steps, kept.ShowsOrders, kept.ShowsFees, kept.SelfBills) = (view.Steps, view.ShowsOrders, view.ShowsFees, view.SelfBills);
        else db.AgreementViews.Add(view);
        audit.Note(by, "say what payees see", view.AgreementId);
        db.SaveChanges();
        _views = null;
    }

    /// <summary>How an order is called before those on an agreement.</summary>
    public string OrderFor(string agreement, string orderId) => OrderBy(Of(agreement), orderId);

    internal string OrderBy(AgreementViewRecord view, string orderId) => view.ShowsOrders ? orderId : StandIn(orderId);

    /// <summary>Entries as their payee sees them.</summary>
    public EntryRow Shown(EntryRow entry) => entry with { OrderId = OrderFor(entry.AgreementId, entry.OrderId), Why = null };

    /// <summary>A statement as its payee sees it.</summary>
    public Statement Shown(Statement statement) => statement with { Lines = [.. statement.Lines.Select(l => l with { OrderId = OrderFor(l.AgreementId, l.OrderId) })] };

    /// <summary>A number that stands for an order: the same each time, and nothing can be told from it, as it is made with a secret of the book.</summary>
    private string StandIn(string orderId) => "sale " + Convert.ToHexString(HMACSHA256.HashData(Encoding.UTF8.GetBytes(cache.Get(db).Record.KeyProof), Encoding.UTF8.GetBytes(orderId)), 0, 4);
}
